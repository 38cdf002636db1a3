/** Vendor statements: what came, and how much of it is still open. */

import { useState } from "react";
import { useLocation } from "wouter";
import { useVendors } from "../../api/records";
import { useSendStatement, useStatements } from "../../api/statements";
import { Badge } from "../../components/badge";
import { FileDrop } from "../../components/file-drop";
import { ListLink } from "../../components/list-link";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { count } from "../../format/numbers";
import { moveInRows } from "../../keyboard/rows";
import { IncomingTabs } from "../incoming-tabs";

export function StatementsPage() {
  const statements = useStatements();
  return (
    <PageMain width="text">
      <IncomingTabs />
      <PageTitle>Vendor statements</PageTitle>
      <p className="max-w-[70ch] text-soft">
        What a vendor thinks it covers, beside what you keep. Each difference is yours to decide: your side, theirs, or
        a packet that asks.
      </p>
      <Send />
      <ProblemNote problem={statements.error} />
      {statements.isPending && !statements.error && <Waiting label="Loading statements" />}
      <ul aria-label="Vendor statements" onKeyDown={moveInRows} className="mt-4">
        {statements.data?.map((one) => (
          <ListLink
            key={one.id}
            href={`/statements/${one.id}`}
            columns="grid-cols-[1fr_1.2fr_120px_110px] max-md:grid-cols-[1fr_auto]"
          >
            <span className="truncate font-semibold">{one.vendor_name}</span>
            <span className="truncate text-soft max-md:hidden">
              as of {sayDay(one.as_of)}, {one.name}
            </span>
            <span className="text-soft max-md:hidden">{count(one.counts.agreeing, "line")} agree</span>
            <span className="text-right">
              {one.state === "ready" && one.undecided > 0 && <Badge tone="ochre">{one.undecided} open</Badge>}
              {one.state === "ready" && one.undecided === 0 && <Badge tone="moss">all decided</Badge>}
              {one.state === "reading" && <Badge tone="plain">being compared</Badge>}
              {one.state === "failed" && <Badge tone="wax">cannot be read</Badge>}
            </span>
          </ListLink>
        ))}
      </ul>
      {statements.data?.length === 0 && <Nothing>No statement was compared yet.</Nothing>}
    </PageMain>
  );
}

function Send() {
  const vendors = useVendors();
  const send = useSendStatement();
  const [, go] = useLocation();
  const [vendor, setVendor] = useState("");
  const [asOf, setAsOf] = useState(() => new Date().toISOString().slice(0, 10));
  const chosen = vendor || vendors.data?.[0]?.key || "";
  return (
    <FileDrop
      label="The vendor's list: CSV, XLSX or JSON Lines"
      accept=".csv,.txt,.tsv,.xlsx,.jsonl,.zip"
      busy={send.isPending}
      problem={send.error}
      onFile={(file) =>
        send.mutate({ vendor: chosen, asOf, file }, { onSuccess: (made) => go(`/statements/${made.id}`) })
      }
    >
      <label className="flex items-center gap-2">
        <Soft as="span">The list of</Soft>
        <select className="field w-auto" value={chosen} onChange={(event) => setVendor(event.target.value)}>
          {vendors.data?.map((one) => (
            <option key={one.key} value={one.key}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <Soft as="span">as of</Soft>
        <input
          className="field w-28 font-mono text-[12.5px]"
          placeholder="2026-12-31"
          value={asOf}
          onChange={(event) => setAsOf(event.target.value)}
        />
      </label>
    </FileDrop>
  );
}
