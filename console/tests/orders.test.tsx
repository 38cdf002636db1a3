// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { OrderDocument } from "../src/api/order-documents";
import { entryOf, first, itemsOf } from "../src/pages/order-documents/entry";
import { EntryForm } from "../src/pages/order-documents/entry-form";
import { draw } from "./drawing";
import { callsTo, problem, service } from "./service";

const place = { page: 0, left: 0.1, top: 0.1, right: 0.3, bottom: 0.2 };

const proposal = (field: string, value: string, more = {}) => ({ field, value, sure: true, place, ...more });

const order = {
  ...{ id: "o1", name: "order.pdf", state: "read", status_text: "", by: "marit", at: "2026-11-20T08:00:00Z" },
  ...{ entered_by: null, entered_at: null, effects: [] },
  proposals: [
    proposal("vendor", "tarnfell"),
    proposal("contract", "T-3000"),
    proposal("starts_on", "2026-12-01"),
    proposal("ends_on", "2027-11-30", { sure: false }),
    proposal("ends_on", "2029-11-30"),
    proposal("cost", "1240050 GBP"),
    proposal("passcode", "•"),
  ],
  bought: [
    { serial: proposal("serial", "TN9-1"), product: proposal("product", "TN9"), name: null, site: null },
    { serial: proposal("serial", "TN9-2"), product: null, name: null, site: proposal("site", "book-store") },
  ],
} as unknown as OrderDocument;

const PREVIEW = "POST /api/v1/order-documents/o1/preview";

const ENTER = "POST /api/v1/order-documents/o1/enter";

beforeEach(() => {
  service({
    [PREVIEW]: { items: [] },
    [ENTER]: { ...order, state: "entered" },
    "GET /api/v1/vendors": { items: [{ key: "tarnfell", name: "Tarnfell Storage" }], next: null },
    "GET /api/v1/sites": { items: [{ key: "book-store", name: "Book store" }], next: null },
  });
});

async function open(document = order) {
  const onShow = vi.fn();
  const drawn = draw(<EntryForm order={document} onShow={onShow} />);
  await screen.findByRole("option", { name: "Tarnfell Storage" });
  return { ...drawn, onShow };
}

/** The serials of what was last asked to be worked out. */
const itemsAsked = () => {
  const body = callsTo(PREVIEW).at(-1)?.body as { items: { serial: string }[] } | undefined;
  return body?.items.map((item) => item.serial);
};

const field = (name: string) => screen.getByLabelText<HTMLInputElement>(name);

test("a form begins with what was found, and says how sure each value is", async () => {
  const { user, onShow } = await open();
  await waitFor(() => expect(field("Vendor").value).toBe("tarnfell"));
  expect([field("Contract number").value, field("Cost").value, field("Currency").value]).toEqual([
    "T-3000",
    "12400.50",
    "GBP",
  ]);
  const last = field("Last day").closest("span") as HTMLElement;
  expect(within(last).getByText("look closely")).toBeTruthy();
  await user.selectOptions(field("Last day: what else it could be"), "2029-11-30");
  expect(field("Last day").value).toBe("2029-11-30");
  expect(within(last).getByText("page 1")).toBeTruthy();
  await user.click(field("Contract number"));
  expect(onShow).toHaveBeenLastCalledWith(place);
  await user.type(field("Contract number"), "-B");
  expect(within(field("Contract number").closest("span") as HTMLElement).getByText("by hand")).toBeTruthy();
});

test("what entering does is worked out again with each change, and Y enters it", async () => {
  const { user } = await open();
  await waitFor(() => expect(callsTo(PREVIEW).length).toBeGreaterThan(0));
  await user.click(screen.getByRole("checkbox", { name: "Enter TN9-2" }));
  await waitFor(() => expect(itemsAsked()).toEqual(["TN9-1"]));
  await waitFor(() => expect(screen.getByRole<HTMLButtonElement>("button", { name: /Enter/ }).disabled).toBe(false));
  (document.activeElement as HTMLElement).blur();
  await user.keyboard("y");
  await waitFor(() => expect(callsTo(ENTER)).toHaveLength(1));
  expect(callsTo(ENTER)[0]?.body).toMatchObject({
    ...{ vendor: "tarnfell", contract: "T-3000", cost_minor: 1_240_050, currency: "GBP", keep_passcode: true },
    items: [{ serial: "TN9-1", product: "TN9", name: "", site: null }],
  });
});

test("without what it needs nothing is entered, and the form says what is missing", async () => {
  const { user } = await open();
  await user.clear(field("Contract number"));
  expect(screen.getByText("Give the vendor, the contract number and both days first.")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Enter/ }).disabled).toBe(true);
  (document.activeElement as HTMLElement).blur();
  await user.keyboard("y");
  expect(callsTo(ENTER)).toEqual([]);
});

test("what cannot be entered says why before anybody tries", async () => {
  service({ [PREVIEW]: problem(422, "days", "It would end before it starts.", "Check both days.") });
  await open();
  expect((await screen.findByRole("alert")).textContent).toBe("It would end before it starts.Check both days.");
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Enter/ }).disabled).toBe(true);
});

test("a serial that was not found is added by hand", async () => {
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Add a serial" }));
  const rows = within(screen.getByRole("list", { name: "Assets on the order document" })).getAllByRole("listitem");
  await user.type(within(rows[2] as HTMLElement).getByLabelText("Serial"), "TN9-3");
  await waitFor(() => expect(itemsAsked()).toEqual(["TN9-1", "TN9-2", "TN9-3"]));
});

test("a passcode is shown only when somebody asks, and kept only if it is wanted", async () => {
  service({ "POST /api/v1/order-documents/o1/passcode": ["heron-77"] });
  const { user } = await open();
  expect(screen.queryByText("heron-77")).toBeNull();
  await user.click(screen.getByRole("checkbox", { name: /keep it with the contract/ }));
  await waitFor(() => expect(callsTo(PREVIEW).at(-1)?.body).toMatchObject({ keep_passcode: false }));
});

test("one that is of no use is set aside", async () => {
  service({ "POST /api/v1/order-documents/o1/aside": { ...order, state: "aside" } });
  const { user } = await open();
  await user.click(screen.getByRole("button", { name: "Set aside" }));
  await waitFor(() => expect(callsTo("POST /api/v1/order-documents/o1/aside")).toHaveLength(1));
});

test("a cost that cannot be read goes to the service, which refuses it: it is never left out", () => {
  const draft = { ...first(order), cost: "12,400" };
  expect(entryOf(draft, itemsOf(order), false)).toMatchObject({ cost_minor: "12,400", currency: "GBP" });
  expect(entryOf({ ...draft, cost: "" }, [], false)).toMatchObject({ cost_minor: null, currency: null });
  expect(entryOf({ ...draft, ends_on: "" }, [], false)).toBeNull();
});
