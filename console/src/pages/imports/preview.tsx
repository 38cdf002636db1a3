/** A preview of an import. */

import { useState } from "react";
import { type Import, type Outcome, useImportAct } from "../../api/imports";
import { useColumns } from "../../api/records";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Heading, Soft } from "../../components/text";
import { Views } from "../../components/views";
import { sayMoment } from "../../format/dates";
import { count } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { RowList } from "./rows";
import { plural, stateTone } from "./state";

const OUTCOMES: Outcome[] = ["new", "changed", "rejected", "unchanged"];

export function Preview({ shown }: { shown: Import }) {
  const [chosen, setChosen] = useState<Outcome | null>(null);
  const act = useImportAct();
  const { counts } = shown;
  const outcome = chosen ?? OUTCOMES.find((one) => counts[one] > 0) ?? "new";
  const busy = ["reading", "applying", "undoing"].includes(shown.state);
  const useful = counts.new + counts.changed > 0;
  const run = (name: "apply" | "undo" | "drop") => act.mutate({ ident: shown.id, act: name });
  useKeys("imported", { apply: shown.state === "ready" && useful && (() => run("apply")) });
  return (
    <>
      <Row gap={3} lines align="baseline">
        <PageTitle className="break-all">{shown.file_name}</PageTitle>
        <Badge tone={stateTone(shown.state)}>{shown.state}</Badge>
      </Row>
      <Soft>
        {plural(shown.kind)} from {shown.source}, by {shown.by}, {sayMoment(shown.at)}
      </Soft>
      {shown.status_text && (
        <p role="alert" className="mt-2 rounded-md border-l-3 border-wax bg-wax-wash px-3 py-2">
          {shown.status_text}
        </p>
      )}
      <div className="mt-3 flex flex-wrap items-center gap-3">
        {shown.state === "ready" && (
          <>
            <Button look="ink" letter="y" disabled={!useful || act.isPending} onClick={() => run("apply")}>
              Apply {count(counts.new + counts.changed, "row")}
            </Button>
            <Button disabled={act.isPending} onClick={() => run("drop")}>
              Drop it
            </Button>
          </>
        )}
        {shown.state === "applied" && (
          <Button disabled={act.isPending} onClick={() => run("undo")}>
            Undo
          </Button>
        )}
        {busy && (
          <Soft as="span" role="status">
            {shown.state === "reading" ? "Reading" : shown.state === "applying" ? "Applying" : "Undoing"}…{" "}
            {count(
              OUTCOMES.reduce((sum, one) => sum + counts[one], 0),
              "row",
            )}
          </Soft>
        )}
        {counts.rejected > 0 && !busy && (
          <a className="link" href={`/api/v1/imports/${shown.id}/rejected`} download>
            Rejected rows as a file to mend
          </a>
        )}
      </div>
      <ProblemNote problem={act.error} />
      {shown.headings.length > 0 && !busy && (shown.state === "ready" || shown.state === "failed") && (
        <Columns key={JSON.stringify(shown.mapping)} shown={shown} />
      )}
      <Views
        label="Rows by what they would do"
        views={OUTCOMES}
        shown={outcome}
        onShow={setChosen}
        filled
        className="mt-5"
      >
        {(one) => `${counts[one]} ${one}`}
      </Views>
      <RowList shown={shown} outcome={outcome} />
    </>
  );
}

function Columns({ shown }: { shown: Import }) {
  const [mapping, setMapping] = useState<Record<string, string>>(shown.mapping);
  const [open, setOpen] = useState(false);
  const columns = useColumns(shown.id);
  const missing = shown.fields.filter((one) => one.required && !mapping[one.name] && !(one.name in shown.fixed));
  const unused = shown.headings.filter((heading) => heading && !Object.values(mapping).includes(heading));
  return (
    <Sheet className="mt-4 p-4">
      <Row gap={3} lines align="baseline">
        <Heading level={2} size="small">
          Columns
        </Heading>
        <Soft as="span">
          {count(Object.keys(shown.mapping).length, "is used", "are used")}
          {unused.length > 0 && `, not used: ${unused.join(", ")}`}
        </Soft>
        {missing.length > 0 && (
          <span className="text-ochre">no column for {missing.map((one) => one.name).join(", ")}</span>
        )}
        <button type="button" className="link ml-auto" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Choose by hand"}
        </button>
      </Row>
      {open && (
        <>
          <div className="mt-3 grid grid-cols-3 gap-x-6 gap-y-2 max-md:grid-cols-2 max-sm:grid-cols-1">
            {shown.fields
              .filter((one) => !(one.name in shown.fixed))
              .map((one) => (
                <label key={one.name} className="grid grid-cols-[120px_1fr] items-center gap-2">
                  <span className={one.required ? "font-semibold" : "text-soft"}>{one.name.replaceAll("_", " ")}</span>
                  <select
                    className="field"
                    value={mapping[one.name] ?? ""}
                    onChange={(event) => {
                      const { [one.name]: _gone, ...others } = mapping;
                      setMapping(event.target.value ? { ...others, [one.name]: event.target.value } : others);
                    }}
                  >
                    <option value="">–</option>
                    {shown.headings.filter(Boolean).map((heading) => (
                      <option key={heading}>{heading}</option>
                    ))}
                  </select>
                </label>
              ))}
          </div>
          <ProblemNote problem={columns.error} />
          <Button
            className="mt-3"
            disabled={columns.isPending}
            onClick={() => columns.mutate({ mapping, fixed: shown.fixed, date_order: shown.date_order })}
          >
            Preview again
          </Button>
        </>
      )}
    </Sheet>
  );
}
