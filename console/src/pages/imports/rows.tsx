/** The rows of an import. */

import type { Schemas } from "../../api/client";
import { type Import, type Outcome, useImportRows } from "../../api/imports";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { said } from "./state";

export function RowList({ shown, outcome }: { shown: Import; outcome: Outcome }) {
  const rows = useImportRows(shown, outcome);
  if (rows.error) return <ProblemNote problem={rows.error} />;
  if (!rows.data) return <Waiting label="Loading rows" lines={4} />;
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
    <Soft as="span">{body.map(([name, value]) => `${name.replaceAll("_", " ")} ${said(value)}`).join(" · ")}</Soft>
  );
}
