/** Many packets at once: a table or a selection is previewed and noted; earlier batches are listed. */

import { useState } from "react";
import { Link, useLocation, useSearchParams } from "wouter";
import { type BatchRow, type RowPreview, useBatches, useNoteBatch, usePreviewBatch } from "../../api/batches";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { NEED_WORDS, NEEDS } from "../../format/needs";
import { count } from "../../format/numbers";
import { readTable } from "./table";

export function BatchesPage() {
  const batches = useBatches();
  return (
    <PageMain width="wide">
      <PageTitle>Many packets at once</PageTitle>
      <NewBatch />
      <Heading level={2}>Earlier</Heading>
      <ProblemNote problem={batches.error} />
      {batches.isPending && !batches.error && <Waiting label="Loading batches" lines={4} />}
      {batches.data?.length === 0 && <Nothing>None yet.</Nothing>}
      {batches.data && batches.data.length > 0 && (
        <PlainTable heads={["Title", "Noted", "By", "Packets", "Failed"]} right={["Packets", "Failed"]}>
          {batches.data.map((one) => (
            <tr key={one.id} className="border-t border-line">
              <td className="px-4 py-1.5">
                <Link className="link" href={`/batches/${one.id}`}>
                  {one.title}
                </Link>
              </td>
              <td className="px-4">{sayMoment(one.at)}</td>
              <td className="px-4">{one.by}</td>
              <td className="px-4 text-right tabular-nums">
                {one.waiting ? `${one.noted} of ${one.noted + one.failed + one.waiting}` : one.noted}
              </td>
              <td className="px-4 text-right text-wax tabular-nums">{one.failed || null}</td>
            </tr>
          ))}
        </PlainTable>
      )}
    </PageMain>
  );
}

function NewBatch() {
  const [search] = useSearchParams();
  const [title, setTitle] = useState("");
  const [note, setNote] = useState("");
  const [need, setNeed] = useState<BatchRow["need"]>("fault");
  const [text, setText] = useState(() => {
    const chosen = search.get("assets")?.split(",").filter(Boolean) ?? [];
    return chosen.length ? ["asset", ...chosen].join("\n") : "";
  });
  const preview = usePreviewBatch();
  const noted = useNoteBatch();
  const [, go] = useLocation();
  const { rows, fault } = readTable(text, note, need);
  const changed = () => preview.reset();
  return (
    <form
      className="my-4 grid gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        preview.mutate(rows);
      }}
    >
      <Row gap={3} lines align="baseline">
        <label className="grow">
          <Soft as="span">Title </Soft>
          <input
            className="field"
            required
            minLength={3}
            maxLength={200}
            value={title}
            onChange={(e) => setTitle(e.target.value)}
          />
        </label>
        <label>
          <Soft as="span">Kind </Soft>
          <select
            className="field w-64"
            value={need}
            onChange={(event) => {
              setNeed(event.target.value as BatchRow["need"]);
              changed();
            }}
          >
            {NEEDS.map((one) => (
              <option key={one} value={one}>
                {NEED_WORDS[one]}
              </option>
            ))}
          </select>
        </label>
      </Row>
      <label className="grid gap-1">
        <Soft as="span">What happened</Soft>
        <textarea className="field" value={note} onChange={(event) => setNote(event.target.value)} />
      </label>
      <label className="grid gap-1">
        <Soft as="span">
          The rows, as copied from a spreadsheet: a column asset, and if need be title, note, need and questions of the
          desk
        </Soft>
        <textarea
          className="field min-h-36 font-mono"
          value={text}
          placeholder={"asset\tsince\nSW3K-70455\t2026-11-20\nSW3K-61008\t2026-11-20"}
          onChange={(event) => {
            setText(event.target.value);
            changed();
          }}
        />
      </label>
      <Row gap={3} lines align="baseline">
        <Button type="submit" disabled={preview.isPending || fault !== ""}>
          {preview.isPending ? "Looking…" : "Preview"}
        </Button>
        <Soft as="span">{text.trim() && (fault || count(rows.length, "row"))}</Soft>
      </Row>
      <ProblemNote problem={preview.error} />
      {preview.data && <Previewed found={preview.data} />}
      {preview.data && (
        <Row gap={3} lines align="baseline">
          <Button
            look="ink"
            disabled={noted.isPending || title.trim().length < 3}
            onClick={() => noted.mutate({ title, rows }, { onSuccess: (made) => go(`/batches/${made.id}`) })}
          >
            Note {count(rows.length, "packet")}
          </Button>
          {title.trim().length < 3 && <Soft as="span">Give them a title first.</Soft>}
        </Row>
      )}
      <ProblemNote problem={noted.error} />
    </form>
  );
}

function Previewed({ found }: { found: RowPreview[] }) {
  return (
    <PlainTable heads={["Row", "Asset", "Name", "Desk", "To look at"]} right={["Row"]} className="max-h-96">
      {found.map((one) => (
        <tr key={one.place} className="border-t border-line align-baseline">
          <td className="px-4 py-1 text-right tabular-nums">{one.place}</td>
          <td className="px-4">
            <Mono>{one.asset}</Mono>
          </td>
          <td className="px-4">{one.name}</td>
          <td className="px-4">{one.desk}</td>
          <td className="px-4">{one.problem ? <span className="text-wax">{one.problem}</span> : one.hint}</td>
        </tr>
      ))}
    </PlainTable>
  );
}
