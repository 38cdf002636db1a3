import { expect, test } from "vitest";
import { readTable } from "../src/pages/batches/table";

test("columns that are not ours answer questions of the desk", () => {
  const { rows, fault } = readTable("Asset\tsince\tneed\nA-1\t2026-11-20\treturn\nA-2\t\t", "Recalled.", "fault");
  expect(fault).toBe("");
  expect(rows).toEqual([
    { asset: "A-1", title: "", note: "Recalled.", need: "return", answers: { since: "2026-11-20" } },
    { asset: "A-2", title: "", note: "Recalled.", need: "fault", answers: {} },
  ]);
});

test.each([
  ["serial\nA-1", "needs a column asset"],
  ["asset", "no row"],
  ["asset,need\nA-1,magic", "Row 1: magic is no kind of need"],
])("what cannot be read says why: %s", (text, said) => {
  expect(readTable(text, "", "fault").fault).toContain(said);
});

test("a list of serials alone is a table", () => {
  expect(readTable("asset\r\nA-1\r\n\r\nA-2\r\n", "", "fault").rows.map((row) => row.asset)).toEqual(["A-1", "A-2"]);
});
