/** A table that was pasted from a spreadsheet, as rows of a batch. */

import type { BatchRow } from "../../api/batches";
import { NEEDS } from "../../format/needs";

const OWN = ["asset", "title", "note", "need"];

export interface Read {
  rows: BatchRow[];
  /** Why it cannot be read; empty: it can. */
  fault: string;
}

/** The rows of a table with headings; columns that are not ours answer the question of their name. */
export function readTable(text: string, note: string, need: BatchRow["need"]): Read {
  const lines = text.split(/\r?\n/).filter((line) => line.trim());
  const first = lines[0] ?? "";
  const separator = ["\t", ";", "|", ","].find((sign) => first.includes(sign)) ?? "\t";
  const heads = first.split(separator).map((head) => head.trim());
  const names = heads.map((head) => (OWN.includes(head.toLowerCase()) ? head.toLowerCase() : head));
  if (!names.includes("asset")) return { rows: [], fault: "The first line needs a column asset." };
  const rows: BatchRow[] = [];
  for (const [place, line] of lines.slice(1).entries()) {
    const cells = line.split(separator).map((cell) => cell.trim());
    const given = Object.fromEntries(names.map((name, at) => [name, cells[at] ?? ""]));
    if (given.need && !NEEDS.includes(given.need as BatchRow["need"])) {
      return { rows: [], fault: `Row ${place + 1}: ${given.need} is no kind of need. There are ${NEEDS.join(", ")}.` };
    }
    rows.push({
      asset: given.asset ?? "",
      title: given.title ?? "",
      note: given.note || note,
      need: (given.need as BatchRow["need"]) || need,
      answers: Object.fromEntries(
        names.filter((n) => n && !OWN.includes(n) && given[n]).map((n) => [n, given[n] ?? ""]),
      ),
    });
  }
  return { rows, fault: rows.length ? "" : "There is no row below the headings." };
}
