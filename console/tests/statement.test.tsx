// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { StatementPage } from "../src/pages/statements/page";
import { draw } from "./drawing";
import { difference, statement } from "./samples";
import { callsTo, later, problem, service } from "./service";

const line = (serial: string, ends_on: string) => ({
  ...{ serial, contract: "T-2210", level: "Gold", starts_on: "2024-04-01", ends_on, site: "", product: "TN9" },
});

const ROWS = [
  difference(1, { ours: line("TN9-1", "2027-03-31"), theirs: line("TN9-1", "2026-12-31"), fields: ["ends_on"] }),
  difference(2, { sort: "only_ours", ours: line("TN9-2", "2027-03-31") }),
  difference(3, { sort: "only_theirs", theirs: line("TN9-3", "2027-03-31") }),
];

beforeEach(() => {
  service({
    "GET /api/v1/statements/s1": statement(),
    "GET /api/v1/statements/s1/differences": { items: ROWS, next: null },
    "POST /api/v1/statements/s1/decide": { decided: 1 },
    "POST /api/v1/statements/s1/ask": { packet: "P-0050" },
  });
});

const decided = () => callsTo("POST /api/v1/statements/s1/decide").map((call) => call.body);

async function open() {
  const drawn = draw(<StatementPage ident="s1" />, "/statements/s1");
  const rows = await screen.findByRole("list", { name: "Differences" });
  await within(rows).findAllByRole("listitem");
  return { ...drawn, rows: within(rows).getAllByRole("listitem") };
}

test("a statement is waited for while it is compared", async () => {
  const compared = later(statement());
  service({ "GET /api/v1/statements/s1": compared.waiting });
  draw(<StatementPage ident="s1" />);
  expect(screen.getByRole("status", { name: "The statement is being compared" })).toBeTruthy();
  compared.come();
  expect(await screen.findByText(/12 lines agree/)).toBeTruthy();
});

test("rows are walked through by arrows, chosen by X and decided by one letter", async () => {
  const { user, rows } = await open();
  rows[0]?.focus();
  await user.keyboard("x{ArrowDown}x");
  expect(screen.getByText("2 chosen")).toBeTruthy();
  await user.keyboard("o");
  await waitFor(() => expect(decided()).toEqual([{ numbers: [1, 2], verdict: "ours", reason: "" }]));
  await screen.findByText("choose with X");
});

test("a reason goes with the decision; its letters decide nothing", async () => {
  const { user, rows } = await open();
  rows[2]?.focus();
  await user.keyboard("x");
  await user.type(screen.getByLabelText("Why"), "moved to ours");
  expect(decided()).toEqual([]);
  await user.click(screen.getByRole("button", { name: /The vendor is right/ }));
  await waitFor(() => expect(decided()).toEqual([{ numbers: [3], verdict: "theirs", reason: "moved to ours" }]));
  await waitFor(() => expect(screen.getByLabelText<HTMLInputElement>("Why").value).toBe(""));
});

test("a packet that asks is made of what is chosen", async () => {
  const { user, rows } = await open();
  rows[1]?.focus();
  await user.keyboard("xm");
  await waitFor(() => expect(callsTo("POST /api/v1/statements/s1/ask")[0]?.body).toEqual({ numbers: [2] }));
});

test("nothing is decided while nothing is chosen", async () => {
  const { user } = await open();
  await user.keyboard("ovm");
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Ours is right/ }).disabled).toBe(true);
  expect(decided()).toEqual([]);
});

test("all open rows are chosen and let go at once; Escape lets go as well", async () => {
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Choose all 3" }));
  expect(screen.getByText("3 chosen")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Choose none" }));
  expect(screen.getByText("choose with X")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Choose all 3" }));
  await user.keyboard("{Escape}");
  expect(screen.getByText("choose with X")).toBeTruthy();
});

test("what was decided cannot be chosen again, and says by whom", async () => {
  const was = difference(1, { decision: "ours", decided_by: "marit", reason: "checked on site" });
  service({ "GET /api/v1/statements/s1/differences": { items: [was, ROWS[1]], next: null } });
  const { user, rows } = await open();
  expect(rows[0]?.textContent).toContain("ours is rightmarit: checked on site");
  rows[0]?.focus();
  await user.keyboard("x");
  expect(screen.getByText("choose with X")).toBeTruthy();
  expect(screen.getByRole<HTMLInputElement>("checkbox", { name: "Choose TN9-1" }).disabled).toBe(true);
  expect(screen.getByRole("button", { name: "Choose all 1" })).toBeTruthy();
});

test("a decision that is refused leaves the choice as it was", async () => {
  service({
    "POST /api/v1/statements/s1/decide": problem(409, "dropped", "The statement was dropped.", "Send it again."),
  });
  const { user, rows } = await open();
  rows[0]?.focus();
  await user.keyboard("xv");
  expect((await screen.findByRole("alert")).textContent).toBe("The statement was dropped.Send it again.");
  expect(screen.getByText("1 chosen")).toBeTruthy();
});

test("only one sort is shown, or only what is open", async () => {
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: /Only theirs 1/ }));
  await user.click(screen.getByRole("checkbox", { name: "only open ones" }));
  const asked = () => callsTo("GET /api/v1/statements/s1/differences").at(-1)?.query;
  await waitFor(() => expect(asked()).toMatchObject({ sort: "only_theirs", undecided: "true" }));
  service({ "GET /api/v1/statements/s1/differences": { items: [], next: null } });
  await user.click(screen.getByRole("button", { name: /Different 1/ }));
  expect(await screen.findByText("None of these.")).toBeTruthy();
});

test("the characters in which two serials differ are marked", async () => {
  const slips = [{ kind: "alike" as const, at: 5, ours: "0", theirs: "O", words: "0 beside O" }];
  const mistyped = difference(1, {
    ...{ sort: "mistyped", ours: line("TN9-0", "2027-03-31"), theirs: line("TN9-O", "2027-03-31"), slips },
  });
  service({ "GET /api/v1/statements/s1/differences": { items: [mistyped], next: null } });
  const { rows } = await open();
  expect(rows[0]?.textContent).toContain("0 beside O");
  const marked = [...(rows[0]?.querySelectorAll("span.underline") ?? [])].map((one) => one.textContent);
  expect(marked).toEqual(["0", "O"]);
});
