/** Imports: a file comes in, one sees what each row would do, then it is applied whole or dropped. */
import { useState } from "react";
import { Link, useLocation } from "wouter";
import type { Schemas } from "../api/client";
import {
  type Import,
  type Outcome,
  type RecordKind,
  useBeginImport,
  useColumns,
  useImport,
  useImportAct,
  useImportRows,
  useImports,
  useVendors,
} from "../api/register";
import { Badge, Button, count, join, Mono, Nothing, ProblemNote, Sheet, sayMoment, Waiting } from "../parts/basics";
import { FileDrop } from "../parts/file";
import { useKeys } from "../parts/keys";
import { IncomingTabs } from "../parts/tabs";

const KINDS: [RecordKind, string][] = [
  ["asset", "assets"],
  ["contract", "contracts"],
  ["entitlement", "entitlements"],
  ["product", "products"],
  ["site", "sites"],
  ["person", "people"],
  ["vendor", "vendors"],
  ["login", "logins"],
];
const plural = (kind: RecordKind) => KINDS.find(([name]) => name === kind)?.[1] ?? kind;

const TONES = { applied: "moss", ready: "ochre", failed: "wax" } as const;
const stateTone = (state: Import["state"]) => TONES[state as keyof typeof TONES] ?? "plain";

export function ImportsPage() {
  const imports = useImports();
  return (
    <main className="mx-auto w-full max-w-[1000px] px-6 py-7 max-sm:px-3">
      <IncomingTabs />
      <h1 className="text-[24px] leading-8">Imports</h1>
      <p className="text-soft">
        Lists as you have them: CSV, XLSX or JSON Lines. Nothing is changed before you have seen what each row would do.
      </p>
      <Begin />
      <section className="mt-6">
        <h2 className="text-[18px] leading-6">Before</h2>
        <ProblemNote problem={imports.error} />
        {imports.isPending && !imports.error && <Waiting label="Imports are being read" lines={3} />}
        <ul>
          {imports.data?.map((one) => (
            <li key={one.id} className="border-b border-line">
              <Link
                data-row
                href={`/imports/${one.id}`}
                className="-mx-2 grid grid-cols-[1fr_1fr_auto_auto] items-baseline gap-x-4 px-2 py-2 hover:bg-sheet max-sm:grid-cols-[1fr_auto]"
              >
                <span className="truncate font-semibold">{one.file_name}</span>
                <span className="truncate text-soft">
                  {one.counts.new} new, {one.counts.changed} changed, {one.counts.rejected} rejected
                </span>
                <span className="text-soft max-sm:hidden">
                  {one.by}, {sayMoment(one.at)}
                </span>
                <Badge tone={stateTone(one.state)}>{one.state}</Badge>
              </Link>
            </li>
          ))}
        </ul>
        {imports.data?.length === 0 && <Nothing>Nothing was imported yet.</Nothing>}
      </section>
    </main>
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
        <span className="text-soft">It holds</span>
        <select className="field w-auto" value={kind} onChange={(event) => setKind(event.target.value as RecordKind)}>
          {KINDS.map(([name, words]) => (
            <option key={name} value={name}>
              {words}
            </option>
          ))}
        </select>
      </label>
      <label className="flex items-center gap-2">
        <span className="text-soft">of</span>
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

export function ImportPage({ ident }: { ident: string }) {
  const found = useImport(ident);
  return (
    <main className="mx-auto w-full max-w-[1180px] px-6 py-7 max-sm:px-3">
      <ProblemNote problem={found.error} />
      {found.data ? (
        <Preview shown={found.data} />
      ) : (
        !found.error && <Waiting label="The import is being read" lines={8} />
      )}
    </main>
  );
}

const OUTCOMES: Outcome[] = ["new", "changed", "rejected", "unchanged"];

function Preview({ shown }: { shown: Import }) {
  const [chosen, setChosen] = useState<Outcome | null>(null);
  const act = useImportAct();
  const { counts } = shown;
  const outcome = chosen ?? OUTCOMES.find((one) => counts[one] > 0) ?? "new";
  const busy = ["reading", "applying", "undoing"].includes(shown.state);
  const useful = counts.new + counts.changed > 0;
  const run = (name: "apply" | "undo" | "drop") => act.mutate({ ident: shown.id, act: name });
  useKeys({ y: shown.state === "ready" && useful && (() => run("apply")) });
  return (
    <>
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h1 className="text-[24px] leading-8 break-all">{shown.file_name}</h1>
        <Badge tone={stateTone(shown.state)}>{shown.state}</Badge>
      </div>
      <p className="text-soft">
        {plural(shown.kind)} from {shown.source}, by {shown.by}, {sayMoment(shown.at)}
      </p>
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
          <span role="status" className="text-soft">
            {shown.state === "reading" ? "Reading" : shown.state === "applying" ? "Applying" : "Undoing"}…{" "}
            {count(
              OUTCOMES.reduce((sum, one) => sum + counts[one], 0),
              "row",
            )}
          </span>
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
      <div role="tablist" aria-label="Rows by what they would do" className="mt-5 flex flex-wrap gap-1">
        {OUTCOMES.map((one) => (
          <button
            key={one}
            type="button"
            role="tab"
            aria-selected={one === outcome}
            onClick={() => setChosen(one)}
            className={join(
              "rounded-full px-2.5 py-0.5",
              one === outcome ? "bg-ink text-paper" : "text-soft hover:text-ink",
            )}
          >
            {counts[one]} {one}
          </button>
        ))}
      </div>
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
      <div className="flex flex-wrap items-baseline gap-x-3">
        <h2 className="text-[16px]">Columns</h2>
        <span className="text-soft">
          {count(Object.keys(shown.mapping).length, "is used", "are used")}
          {unused.length > 0 && `, not used: ${unused.join(", ")}`}
        </span>
        {missing.length > 0 && (
          <span className="text-ochre">no column for {missing.map((one) => one.name).join(", ")}</span>
        )}
        <button type="button" className="link ml-auto" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? "Close" : "Choose by hand"}
        </button>
      </div>
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

const said = (value: unknown) => {
  if (value === null || value === undefined || value === "") return "–";
  return Array.isArray(value) ? value.map(String).join(", ") || "–" : String(value);
};

function RowList({ shown, outcome }: { shown: Import; outcome: Outcome }) {
  const rows = useImportRows(shown, outcome);
  if (rows.error) return <ProblemNote problem={rows.error} />;
  if (!rows.data) return <Waiting label="Rows are being read" lines={4} />;
  if (rows.data.items.length === 0) return <Nothing>No row is {outcome}.</Nothing>;
  return (
    <div className="mt-2 overflow-x-auto">
      <table className="w-full border-collapse text-left" aria-label={`Rows that are ${outcome}`}>
        <thead>
          <tr className="border-b border-ink/40 text-soft">
            <th className="w-16 py-1.5 text-right font-semibold">Row</th>
            <th className="w-44 py-1.5 pl-4 font-semibold">What</th>
            <th className="py-1.5 pl-4 font-semibold">{outcome === "rejected" ? "What is wrong" : "What it does"}</th>
          </tr>
        </thead>
        <tbody>
          {rows.data.items.map((row) => (
            <tr key={row.row} className="border-b border-line align-baseline">
              <td className="py-1.5 text-right text-soft tabular-nums">{row.row}</td>
              <td className="py-1.5 pl-4">
                <Mono>{row.called || "–"}</Mono>
              </td>
              <td className="py-1.5 pl-4">
                <RowWords row={row} />
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.data.next !== null && <Nothing>and more rows below</Nothing>}
    </div>
  );
}

function RowWords({ row }: { row: Schemas["ImportRow"] }) {
  if (row.outcome === "rejected") return row.faults.map((fault) => <p key={fault.sentence}>{fault.sentence}</p>);
  if (row.outcome === "changed") {
    return row.changes.map((change) => (
      <p key={change.field}>
        {change.field.replaceAll("_", " ")}: <span className="text-soft line-through">{said(change.old)}</span>{" "}
        <span className="font-semibold">{said(change.new)}</span>
      </p>
    ));
  }
  const body = Object.entries(row.body ?? {}).filter(
    ([, value]) => value !== null && value !== "" && said(value) !== "–",
  );
  return (
    <span className="text-soft">
      {body.map(([name, value]) => `${name.replaceAll("_", " ")} ${said(value)}`).join(" · ")}
    </span>
  );
}
