/** The custody log: who did what, the newest first; narrowed to a packet, and verified as a whole. */

import { type FormEvent, useState } from "react";
import { useLocation, useSearchParams } from "wouter";
import { type CustodyEntry, useCustody, useVerifyCustody } from "../../api/custody";
import { Button, TextButton } from "../../components/button";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";

export function CustodyPage({ roles }: { roles: string[] }) {
  const [search, setSearch] = useSearchParams();
  const subject = search.get("subject") ?? "";
  const read = useCustody(subject);
  const entries = read.data;
  return (
    <PageMain width="wide">
      <div className="mb-3 flex flex-wrap items-end gap-3">
        <PageTitle>Custody</PageTitle>
        <Narrow subject={subject} narrow={(words) => setSearch(words ? { subject: words } : {})} />
        {(roles.includes("keeper") || roles.includes("releaser")) && <Verify />}
      </div>
      <ProblemNote problem={read.error} />
      {read.isPending && !read.error && <Waiting label="Loading the log" lines={12} />}
      {entries?.length === 0 && (
        <Nothing>{subject ? `Nothing is in the log about “${subject}”.` : "Nothing is in the log."}</Nothing>
      )}
      {entries && entries.length > 0 && (
        <PlainTable heads={["No.", "When", "Who", "What", "About", "More"]}>
          {entries.map((one) => (
            <Entry key={one.seq} entry={one} />
          ))}
        </PlainTable>
      )}
      {read.hasNextPage && (
        <Button className="mt-3" disabled={read.isFetchingNextPage} onClick={() => read.fetchNextPage()}>
          Older entries
        </Button>
      )}
    </PageMain>
  );
}

function Narrow({ subject, narrow }: { subject: string; narrow: (words: string) => void }) {
  const [words, setWords] = useState(subject);
  const submit = (event: FormEvent) => {
    event.preventDefault();
    narrow(words.trim());
  };
  return (
    <form onSubmit={submit} className="ml-auto flex items-end gap-2">
      <label className="flex flex-col gap-1">
        <Soft as="span">Only about</Soft>
        <input
          className="field w-56"
          placeholder="packet P-0001"
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      </label>
      <Button type="submit">Show</Button>
    </form>
  );
}

/** Whether the whole log is as it was written, each entry behind the one before. */
function Verify() {
  const chain = useVerifyCustody();
  return (
    <Row as="span" gap={3} align="center">
      <Button disabled={chain.isPending} onClick={() => chain.mutate()}>
        {chain.isPending ? "Verifying…" : "Verify the log"}
      </Button>
      <span role="status">
        {chain.data?.holds && `It is whole: ${chain.data.entries} entries.`}
        {chain.data?.holds === false && (
          <span className="text-wax">
            It is broken at entry {chain.data.broken_at}: {chain.data.reason}.
          </span>
        )}
        {chain.error?.message}
      </span>
    </Row>
  );
}

const PACKET = /^packet (P-\d+)$/;

function Entry({ entry }: { entry: CustodyEntry }) {
  const [, go] = useLocation();
  const packet = PACKET.exec(entry.subject)?.[1];
  return (
    <tr className="border-t border-line align-baseline">
      <td className="px-4 py-1.5">
        <Mono>{entry.seq}</Mono>
      </td>
      <td className="px-4 whitespace-nowrap text-soft">{sayMoment(entry.at)}</td>
      <td className="px-4">{entry.actor}</td>
      <td className="px-4">{entry.action}</td>
      <td className="px-4 whitespace-nowrap">
        {packet ? (
          <TextButton data-row onClick={() => go(`/packets/${packet}`)}>
            {entry.subject}
          </TextButton>
        ) : (
          entry.subject
        )}
      </td>
      <td className="px-4 text-[12.5px] wrap-anywhere text-soft">{sayDetail(entry.detail)}</td>
    </tr>
  );
}

const HASH = /^[0-9a-f]{64}$/;

function sayValue(value: unknown): string {
  if (Array.isArray(value)) return value.map(sayValue).join(", ");
  if (typeof value === "object") return JSON.stringify(value);
  const text = String(value);
  return HASH.test(text) ? `${text.slice(0, 16)}…` : text;
}

const sayDetail = (detail: CustodyEntry["detail"]) =>
  Object.entries(detail)
    .filter(([, value]) => value !== "" && value !== null)
    .map(([name, value]) => `${name.replaceAll("_", " ")}: ${sayValue(value)}`)
    .join(" · ");
