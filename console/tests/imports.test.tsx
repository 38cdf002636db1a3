// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import type { Import } from "../src/api/imports";
import { ImportsPage } from "../src/pages/imports/list";
import { ImportPage } from "../src/pages/imports/page";
import { draw, where } from "./drawing";
import { type Call, callsTo, problem, service } from "./service";

const shown = (more: Partial<Import> = {}) => ({
  ...{
    id: "i1",
    kind: "asset",
    source: "a file",
    file_name: "kiosks.csv",
    state: "ready",
    status_text: "",
    by: "marit",
  },
  ...{
    at: "2026-11-20T08:00:00Z",
    headings: ["Serial", "Where", "Remark"],
    mapping: { serial: "Serial", site: "Where" },
  },
  ...{ fixed: { vendor: "lumenlathe" }, date_order: "dmy", counts: { new: 2, changed: 1, unchanged: 4, rejected: 1 } },
  fields: [
    { name: "vendor", required: true },
    { name: "serial", required: true },
    { name: "product", required: true },
    { name: "site", required: false },
  ],
  ...more,
});

const ROWS: Record<string, object[]> = {
  new: [
    {
      row: 2,
      called: "LK-1",
      outcome: "new",
      faults: [],
      changes: [],
      body: { serial: "LK-1", notes: "", host_names: ["a", "b"] },
    },
  ],
  changed: [
    {
      row: 4,
      called: "LK-3",
      outcome: "changed",
      faults: [],
      changes: [{ field: "site_name", old: "Quay Street", new: null }],
    },
  ],
  rejected: [{ row: 5, called: "", outcome: "rejected", faults: [{ sentence: "Row 5 has no serial." }], changes: [] }],
  unchanged: [],
};

beforeEach(() => {
  service({
    "GET /api/v1/imports/i1/rows": ({ query }: Call) => ({ items: ROWS[query.outcome ?? ""], next: null }),
    "GET /api/v1/vendors": { items: [{ key: "lumenlathe", name: "Lumenlathe" }], next: null },
  });
});

async function open(more: Partial<Import> = {}) {
  service({ "GET /api/v1/imports/i1": shown(more) });
  const drawn = draw(<ImportPage ident="i1" />, "/imports/i1");
  await screen.findByRole("heading", { name: "kiosks.csv" });
  return drawn;
}

const rowsOf = async (outcome: string) =>
  within(await screen.findByRole("table", { name: `Rows that are ${outcome}` }))
    .getAllByRole("row")
    .slice(1);

test("each row says what it would do, before anything is done", async () => {
  const { user } = await open();
  expect((await rowsOf("new"))[0]?.textContent).toBe("2LK-1serial LK-1 · host names a, b");
  await user.click(screen.getByText("1 changed"));
  expect((await rowsOf("changed"))[0]?.textContent).toBe("4LK-3site name: Quay Street –");
  await user.click(screen.getByText("1 rejected"));
  expect((await rowsOf("rejected"))[0]?.textContent).toBe("5–Row 5 has no serial.");
  expect(screen.getByRole("link", { name: /Rejected rows/ }).getAttribute("href")).toBe("/api/v1/imports/i1/rejected");
});

test("Y applies what is useful, and it can be undone", async () => {
  service({ "POST /api/v1/imports/i1/apply": shown({ state: "applied" }), "POST /api/v1/imports/i1/undo": shown() });
  const { user } = await open();
  await rowsOf("new");
  service({ "GET /api/v1/imports/i1": shown({ state: "applied" }) });
  await user.keyboard("y");
  await user.click(await screen.findByRole("button", { name: "Undo" }));
  await waitFor(() => expect(callsTo("POST /api/v1/imports/i1/undo")).toHaveLength(1));
  expect(callsTo("POST /api/v1/imports/i1/apply")).toHaveLength(1);
});

test("an import that would change nothing cannot be applied, by key or by button", async () => {
  const { user } = await open({ counts: { new: 0, changed: 0, unchanged: 4, rejected: 0 } });
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Apply 0 rows/ }).disabled).toBe(true);
  await user.keyboard("y");
  expect(callsTo("POST /api/v1/imports/i1/apply")).toEqual([]);
});

test("an import that is at work says so, and offers nothing", async () => {
  await open({ state: "applying" });
  expect(screen.getByText(/Applying…/).textContent).toContain("8 rows");
  expect(screen.queryByRole("button", { name: /Apply/ })).toBeNull();
});

test("one that failed says why, and its columns can be chosen by hand", async () => {
  service({ "PUT /api/v1/imports/i1/columns": shown() });
  const { user } = await open({ state: "failed", status_text: "No column holds the product." });
  expect(screen.getByRole("alert").textContent).toBe("No column holds the product.");
  expect(screen.getByText("no column for product")).toBeTruthy();
  expect(screen.getByText(/not used: Remark/)).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Choose by hand" }));
  expect(screen.queryByLabelText("vendor")).toBeNull(); // it is fixed for all rows
  await user.selectOptions(screen.getByLabelText("product"), "Remark");
  await user.selectOptions(screen.getByLabelText("site"), "");
  await user.click(screen.getByRole("button", { name: "Preview again" }));
  await waitFor(() =>
    expect(callsTo("PUT /api/v1/imports/i1/columns")[0]?.body).toEqual({
      ...{ mapping: { serial: "Serial", product: "Remark" }, fixed: { vendor: "lumenlathe" }, date_order: "dmy" },
    }),
  );
});

test("what cannot be applied stays as it was, with the reason", async () => {
  service({
    "POST /api/v1/imports/i1/apply": problem(409, "changed", "The register has changed.", "Preview it again."),
  });
  const { user } = await open();
  await rowsOf("new");
  await user.keyboard("y");
  expect((await screen.findByRole("alert")).textContent).toBe("The register has changed.Preview it again.");
  expect(screen.getByRole("button", { name: /Apply 3 rows/ })).toBeTruthy();
});

async function openList(items: object[] = []) {
  service({ "GET /api/v1/imports": { items, next: null } });
  const drawn = draw(<ImportsPage />, "/imports");
  await screen.findByRole("heading", { name: "Imports", level: 1 });
  return drawn;
}

test("a file is sent with what it holds and whose it is, and its preview opens", async () => {
  service({ "POST /api/v1/imports": shown() });
  const { user } = await openList();
  await screen.findByText("Nothing was imported yet.");
  await user.selectOptions(screen.getByLabelText("It holds"), "contracts");
  await screen.findByRole("option", { name: "Lumenlathe" });
  await user.selectOptions(screen.getByLabelText("Of which vendor"), "lumenlathe");
  await user.upload(screen.getByLabelText("File to import"), new File(["Number\n4711\n"], "contracts.csv"));
  await waitFor(() => expect(where()).toBe("/imports/i1"));
  const [sent] = callsTo("POST /api/v1/imports");
  expect(sent?.query).toEqual({ kind: "contract", name: "contracts.csv", fixed: '{"vendor":"lumenlathe"}' });
});

test("a file that is dropped and refused says why, and another can be sent", async () => {
  service({ "POST /api/v1/imports": problem(422, "empty", "kiosks.csv has no rows.", "Send one with rows.") });
  await openList();
  const place = screen.getByText("or drop it here").parentElement as HTMLElement;
  fireEvent.drop(place, { dataTransfer: { files: [new File([""], "kiosks.csv")] } });
  expect((await screen.findByRole("alert")).textContent).toBe("kiosks.csv has no rows.Send one with rows.");
  service({ "POST /api/v1/imports": shown() });
  fireEvent.drop(place, { dataTransfer: { files: [new File(["Serial\n"], "kiosks.csv")] } });
  await waitFor(() => expect(where()).toBe("/imports/i1"));
});

test("what was imported before is listed with what it did", async () => {
  await openList([shown({ state: "applied" })]);
  const row = await screen.findByRole("link", { name: /kiosks.csv/ });
  expect(row.textContent).toContain("2 new, 1 changed, 1 rejected");
  expect(row.textContent).toContain("applied");
  expect(row.getAttribute("href")).toBe("/imports/i1");
});
