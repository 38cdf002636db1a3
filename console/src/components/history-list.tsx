/** Every version of a record: who made it, when, and what it changed. */
import type { UseQueryResult } from "@tanstack/react-query";
import type { ProblemError, Schemas } from "../api/client";
import { sayMoment } from "../format/dates";
import { ProblemNote } from "./problem-note";
import { Sheet } from "./sheet";
import { Waiting } from "./waiting";

const said = (value: unknown): string => {
  if (value === null || value === undefined || value === "") return "–";
  if (Array.isArray(value)) return value.length ? value.map(said).join(", ") : "–";
  if (typeof value === "object") return JSON.stringify(value);
  return String(value);
};

export function HistoryList({ history }: { history: UseQueryResult<Schemas["History"], ProblemError> }) {
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">History</h2>
      <ProblemNote problem={history.error} />
      {history.isPending && !history.error && <Waiting label="Loading versions" lines={2} />}
      <ol>
        {history.data?.items.map((version) => (
          <li key={`${version.version} ${version.at}`} className="border-t border-line py-1.5 first:border-t-0">
            <span className="font-semibold">{version.act}</span>{" "}
            <span className="text-soft">
              by {version.by}, {sayMoment(version.at)}
            </span>
            {version.act !== "added" &&
              version.changes.map((change) => (
                <span key={change.field} className="block break-words">
                  {change.field.replaceAll("_", " ")}: <span className="text-soft">{said(change.old)} →</span>{" "}
                  {said(change.new)}
                </span>
              ))}
          </li>
        ))}
      </ol>
    </Sheet>
  );
}
