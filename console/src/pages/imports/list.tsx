/** Imports, and beginning one. */

import { useState } from "react";
import { useLocation } from "wouter";
import { type RecordKind, useBeginImport, useImports } from "../../api/imports";
import { useVendors } from "../../api/records";
import { Badge } from "../../components/badge";
import { FileDrop } from "../../components/file-drop";
import { ListLink } from "../../components/list-link";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { IncomingTabs } from "../incoming-tabs";
import { KINDS, stateTone } from "./state";

export function ImportsPage() {
  const imports = useImports();
  return (
    <PageMain width="text">
      <IncomingTabs />
      <PageTitle>Imports</PageTitle>
      <Soft>
        Lists as you have them: CSV, XLSX or JSON Lines. Nothing is changed before you have seen what each row would do.
      </Soft>
      <Begin />
      <section className="mt-6">
        <Heading level={2}>Before</Heading>
        <ProblemNote problem={imports.error} />
        {imports.isPending && !imports.error && <Waiting label="Loading imports" lines={3} />}
        <ul>
          {imports.data?.map((one) => (
            <ListLink
              key={one.id}
              href={`/imports/${one.id}`}
              columns="grid-cols-[1fr_1fr_auto_auto] max-sm:grid-cols-[1fr_auto]"
            >
              <span className="truncate font-semibold">{one.file_name}</span>
              <span className="truncate text-soft">
                {one.counts.new} new, {one.counts.changed} changed, {one.counts.rejected} rejected
              </span>
              <span className="text-soft max-sm:hidden">
                {one.by}, {sayMoment(one.at)}
              </span>
              <Badge tone={stateTone(one.state)}>{one.state}</Badge>
            </ListLink>
          ))}
        </ul>
        {imports.data?.length === 0 && <Nothing>Nothing was imported yet.</Nothing>}
      </section>
    </PageMain>
  );
}

function Begin() {
  const [kind, setKind] = useState<RecordKind>("asset");
  const [vendor, setVendor] = useState("");
  const vendors = useVendors();
  const begin = useBeginImport();
  const [, go] = useLocation();
  return (
    <FileDrop
      label="File to import"
      accept=".csv,.txt,.tsv,.xlsx,.jsonl,.zip"
      busy={begin.isPending}
      problem={begin.error}
      onFile={(file) => begin.mutate({ kind, file, vendor }, { onSuccess: (made) => go(`/imports/${made.id}`) })}
    >
      <label className="flex items-center gap-2">
        <Soft as="span">It holds</Soft>
        <select className="field w-auto" value={kind} onChange={(event) => setKind(event.target.value as RecordKind)}>
          {KINDS.map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <Soft as="span">of</Soft>
        <select
          aria-label="Of which vendor"
          className="field w-auto"
          value={vendor}
          onChange={(event) => setVendor(event.target.value)}
        >
          <option value="">the vendor that a column names</option>
          {vendors.data?.map((one) => (
            <option key={one.key} value={one.key}>
              {one.name}
            </option>
          ))}
        </select>
      </label>
    </FileDrop>
  );
}
