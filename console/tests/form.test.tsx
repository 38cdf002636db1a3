// @vitest-environment happy-dom
import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { ProblemError } from "../src/api/client";
import { type FieldSpec, shown, taken } from "../src/components/field-values";
import { FormDialog } from "../src/components/form-dialog";
import { draw } from "./drawing";
import { service } from "./service";

const FIELDS: FieldSpec[] = [
  { name: "number", title: "Number", kind: "mono", needed: true, hint: "as it is printed" },
  { name: "notes", title: "Notes", kind: "long", rows: 4 },
  { name: "grace_days", title: "Days of grace", kind: "whole", first: 0 },
  { name: "cost_minor", title: "Cost", kind: "money" },
  { name: "currency", title: "Currency", kind: "mono" },
  { name: "passcode", title: "Passcode", kind: "secret" },
  { name: "serials", title: "Serials", kind: "list" },
  { name: "on_call", title: "On call", kind: "yes" },
  { name: "route", title: "Route", kind: ["support", "units"], first: "support" },
  { name: "needs", title: "Takes", kind: ["fault", "question", "return"], many: true, first: ["fault"] },
];

const VALUES = {
  ...{ number: "T-2210", notes: "two lines", grace_days: 14, cost_minor: 1_240_050, currency: "GBP" },
  ...{ serials: ["TN9-1", "TN9-2"], on_call: true, route: "units", needs: ["question"] },
};

function drawForm(more: Partial<Parameters<typeof FormDialog>[0]> = {}) {
  const onSubmit = vi.fn();
  const onClose = vi.fn();
  const given = { title: "A contract", fields: FIELDS, values: {}, act: "Save", busy: false, problem: null };
  const drawn = draw(<FormDialog {...{ ...given, onSubmit, onClose, ...more }} />);
  return { ...drawn, onSubmit, onClose };
}

const field = (title: string) => screen.getByLabelText<HTMLInputElement>(title);

const press = (name: string) => screen.getByRole<HTMLButtonElement>("button", { name });

test("a form begins with what is known, each value as one types it", () => {
  drawForm({ values: VALUES });
  const texts = ["Number", "Notes", "Days of grace", "Cost", "Serials", "Route", "Passcode"];
  const values = ["T-2210", "two lines", "14", "12400.50", "TN9-1, TN9-2", "units", ""];
  expect(texts.map((title) => field(title).value)).toEqual(values);
  expect(field("On call").checked).toBe(true);
  expect(["fault", "question", "return"].map((title) => field(title).checked)).toEqual([false, true, false]);
});

test("what is typed is given as the service takes it", async () => {
  const { user, onSubmit } = drawForm({ values: VALUES });
  await user.clear(field("Number"));
  await user.type(field("Number"), " T-3000 ");
  await user.clear(field("Days of grace"));
  await user.clear(field("Cost"));
  await user.type(field("Cost"), "99.5");
  await user.clear(field("Serials"));
  await user.type(field("Serials"), "TN9-7; TN9-8,, TN9-9");
  await user.click(field("On call"));
  await user.selectOptions(field("Route"), "support");
  await user.click(field("fault"));
  await user.click(press("Save"));
  expect(onSubmit).toHaveBeenCalledExactlyOnceWith({
    ...{ number: "T-3000", notes: "two lines", grace_days: 0, cost_minor: 9950, currency: "GBP" },
    ...{ serials: ["TN9-7", "TN9-8", "TN9-9"], on_call: false, route: "support", needs: ["fault", "question"] },
  });
});

test("a secret is never shown, and stays as it is unless one is typed", async () => {
  const { user, onSubmit } = drawForm({ values: { ...VALUES, passcode: "heron-77" } });
  expect(field("Passcode").type).toBe("password");
  await user.click(press("Save"));
  expect(onSubmit.mock.calls[0]?.[0]).not.toHaveProperty("passcode", null);
  await user.clear(field("Passcode"));
  await user.type(field("Passcode"), "sedge-78");
  await user.click(press("Save"));
  expect(onSubmit.mock.calls[1]?.[0]).toHaveProperty("passcode", "sedge-78");
});

test("what tells a record apart is shown and not sent", async () => {
  const { user, onSubmit } = drawForm({ values: VALUES, fixed: ["number"] });
  expect(field("Number").disabled).toBe(true);
  await user.click(press("Save"));
  expect(onSubmit.mock.calls[0]?.[0]).not.toHaveProperty("number");
});

test("nothing is sent while a field that must be given is empty", async () => {
  const { user, onSubmit } = drawForm();
  expect(field("Number").required).toBe(true);
  expect(document.querySelector("form")?.checkValidity()).toBe(false);
  await user.click(press("Save"));
  expect(onSubmit).not.toHaveBeenCalled();
});

test("a hint is read out with its field", () => {
  drawForm();
  const hint = field("Number").getAttribute("aria-describedby");
  expect(hint && document.getElementById(hint)?.textContent).toContain("as it is printed");
  expect(field("Notes").hasAttribute("aria-describedby")).toBe(false);
});

test("a problem stands in the form, which keeps what was typed", async () => {
  const refused = new ProblemError(409, "taken", "There is a contract T-3000.", "Change that one.");
  const form = (problem: unknown, busy: boolean) => (
    <FormDialog
      {...{ title: "A contract", fields: FIELDS, values: {}, act: "Save", onSubmit: () => {}, onClose: () => {} }}
      {...{ problem, busy }}
    />
  );
  const { user, redraw } = draw(form(null, false));
  await user.type(field("Number"), "T-3000");
  redraw(form(null, true));
  expect(press("Save").disabled).toBe(true);
  redraw(form(refused, false));
  expect(screen.getByRole("alert").textContent).toBe("There is a contract T-3000.Change that one.");
  expect(field("Number").value).toBe("T-3000");
  expect(press("Save").disabled).toBe(false);
});

test("Enter sends a form, Escape and Cancel leave it", async () => {
  const { user, onSubmit, onClose } = drawForm({ values: VALUES });
  field("Number").focus();
  await user.keyboard("{Enter}");
  expect(onSubmit).toHaveBeenCalledTimes(1);
  await user.click(press("Cancel"));
  await user.keyboard("{Escape}");
  expect(onClose).toHaveBeenCalledTimes(2);
  expect(onSubmit).toHaveBeenCalledTimes(1);
});

test("vendors, sites and people are chosen by name", async () => {
  service({
    "GET /api/v1/vendors": { items: [{ key: "tarnfell", name: "Tarnfell Storage" }], next: null },
    "GET /api/v1/sites": { items: [{ key: "book-store", name: "Book store" }], next: null },
    "GET /api/v1/people": { items: [{ key: "marit", name: "Marit Oswin" }], next: null },
  });
  const keyed = (["vendor", "site", "person"] as const).map((kind) => ({ name: kind, title: kind, kind }));
  const { user, onSubmit } = drawForm({ fields: keyed });
  await user.selectOptions(field("vendor"), await screen.findByRole("option", { name: "Tarnfell Storage" }));
  await user.selectOptions(field("site"), await screen.findByRole("option", { name: "Book store" }));
  await user.click(press("Save"));
  expect(onSubmit).toHaveBeenCalledExactlyOnceWith({ vendor: "tarnfell", site: "book-store", person: null });
});

const one = (kind: FieldSpec["kind"], more: Partial<FieldSpec> = {}): FieldSpec => ({
  ...{ name: "a", title: "A", kind },
  ...more,
});

test.each([
  ["a text that may be empty", one("text"), "  ", ""],
  ["a text that must be given", one("text", { needed: true }), "", null],
  ["a key that may be empty", one("mono"), "", null],
  ["a day", one("day"), " 2027-03-31 ", "2027-03-31"],
  ["no day", one("day"), "", null],
  ["a whole number", one("whole"), "12", 12],
  ["no number", one("whole"), "", null],
  ["no number where there is a usual one", one("whole", { first: 3 }), "", 3],
  ["a number that is none goes to the service, which says so", one("whole"), "12 days", "12 days"],
  ["no money", one("money"), "", null],
  ["money that is no number", one("money"), "£ 30", "£ 30"],
  ["a list with empty places", one("list"), " a ,, b\nc;", ["a", "b", "c"]],
  ["an empty list", one("list"), "", []],
  ["no", one("yes"), false, false],
])("%s", (_name, spec, typed, given) => {
  expect(taken(spec, typed, { a: typed })).toEqual(given);
});

test.each([
  ["nothing", one("text"), {}, ""],
  ["none", one("day"), { a: null }, ""],
  ["the usual one", one("text", { first: "en" }), {}, "en"],
  ["a number", one("whole"), { a: 0 }, "0"],
  ["money of yen, which has no small coin", one("money"), { a: 5000, currency: "JPY" }, "5000"],
  ["no money", one("money"), { currency: "GBP" }, ""],
  ["a list", one("list"), { a: ["x", "y"] }, "x, y"],
  ["no list", one("list"), {}, ""],
  ["several of none", one(["x"], { many: true }), {}, []],
  ["a yes that nobody said", one("yes"), {}, false],
])("%s is shown as one types it", (_name, spec, values, typed) => {
  expect(shown(spec, values)).toEqual(typed);
});
