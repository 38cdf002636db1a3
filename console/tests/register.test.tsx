// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { RegisterPage } from "../src/pages/register/page";
import { draw, where } from "./drawing";
import { callsTo, later, problem, service } from "./service";

const KEEPER = ["keeper", "preparer"];

const asset = (place: number, more = {}) => ({
  ...{
    id: `a${place}`,
    version: 7,
    serial: `TN9-${place}`,
    name: `Array ${place}`,
    vendor: "tarnfell",
    product: "TN9",
  },
  ...{ product_name: "TN9 array", vendor_name: "Tarnfell Storage", site_name: "Book store", site: "book-store" },
  ...{ status: "in_use", host_names: [], addresses: [], updated_at: "2026-11-20T08:00:00Z", stays: [] },
  ...more,
});

beforeEach(() => {
  service({
    "GET /api/v1/assets": { items: [asset(1), asset(2), asset(3)], next: null },
    "GET /api/v1/vendors": { items: [{ key: "tarnfell", name: "Tarnfell Storage" }], next: null },
    "GET /api/v1/sites": { items: [], next: null },
    "GET /api/v1/people": { items: [], next: null },
    "GET /api/v1/views": { items: [] },
  });
});

const drawAssets = (roles = KEEPER, at = "/assets") => draw(<RegisterPage plural="assets" roles={roles} />, at);

const asked = () => callsTo("GET /api/v1/assets").map((call) => call.query);

const row = (serial: string) => screen.findByRole("link", { name: serial });

test("a list is waited for, then drawn with how many there are", async () => {
  const list = later({ items: [asset(1)], next: null });
  service({ "GET /api/v1/assets": list.waiting });
  drawAssets();
  expect(screen.getByRole("status", { name: "Loading assets" })).toBeTruthy();
  list.come();
  expect(await row("TN9-1")).toBeTruthy();
  expect(screen.queryByRole("status")).toBeNull();
  expect(screen.getByText("1")).toBeTruthy();
});

test("an empty register says how it is filled, an empty search that nothing matches", async () => {
  service({ "GET /api/v1/assets": { items: [], next: null } });
  const { user } = drawAssets();
  expect(await screen.findByText("Nothing is kept here yet. Import a list, or add one.")).toBeTruthy();
  await user.type(screen.getByLabelText("Serial, model, host name, site or words"), "quokka");
  expect(await screen.findByText("Nothing matches, even with typing mistakes.")).toBeTruthy();
});

test("a list that cannot be read says why and what to do", async () => {
  service({ "GET /api/v1/assets": problem(503, "no-database", "The database cannot be reached.", "Try in a minute.") });
  drawAssets();
  expect((await screen.findByRole("alert")).textContent).toBe("The database cannot be reached.Try in a minute.");
  expect(screen.queryByRole("table")).toBeNull();
});

test("a long list is read in parts", async () => {
  service({
    "GET /api/v1/assets": ({ query }: { query: Record<string, string> }) =>
      query.cursor ? { items: [asset(3)], next: null } : { items: [asset(1), asset(2)], next: "after-2" },
  });
  const { user } = drawAssets();
  expect(await screen.findByText("2 and more")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Show more" }));
  expect(await row("TN9-3")).toBeTruthy();
  expect(asked().at(-1)?.cursor).toBe("after-2");
  expect(screen.queryByRole("button", { name: "Show more" })).toBeNull();
});

test("what is typed, chosen and sorted stands in the address and is asked for", async () => {
  const { user } = drawAssets();
  await row("TN9-1");
  await user.type(screen.getByLabelText("Serial, model, host name, site or words"), "tn9");
  await user.selectOptions(screen.getByLabelText("State"), "spare");
  await screen.findByRole("option", { name: "Tarnfell Storage" });
  await user.selectOptions(screen.getByLabelText("Vendor"), "tarnfell");
  await user.click(screen.getByRole("button", { name: /^Serial/ }));
  await waitFor(() => expect(where()).toBe("/assets?q=tn9&status=spare&vendor=tarnfell&sort=serial"));
  await waitFor(() =>
    expect(asked().at(-1)).toMatchObject({ q: "tn9", status: "spare", vendor: "tarnfell", sort: "serial" }),
  );
  await user.clear(screen.getByLabelText("Serial, model, host name, site or words"));
  await waitFor(() => expect(where()).toBe("/assets?status=spare&vendor=tarnfell&sort=serial"));
});

test("a view that was kept in the address comes back as it was", async () => {
  const { user } = drawAssets(KEEPER, "/assets?q=array&site=book-store&sort=-name&columns=serial,notes,carrier");
  await row("TN9-1");
  expect(asked()[0]).toMatchObject({ q: "array", site: "book-store", sort: "-name" });
  expect(screen.getAllByRole("columnheader").map((one) => one.textContent?.replace(/[↑↓]/, ""))).toEqual(
    ["", "Serial", "Sits in"],
  ); // biome-ignore format: it fits
  await user.click(screen.getByRole("button", { name: /at book-store/ }));
  await waitFor(() => expect(asked().at(-1)).not.toHaveProperty("site"));
});

test("one chosen record is changed as a form, on the version that was read", async () => {
  service({ "PATCH /api/v1/assets/a2": asset(2, { name: "Array B" }) });
  const { user } = drawAssets();
  (await row("TN9-2")).focus();
  await user.keyboard("xe");
  const form = await screen.findByRole("dialog", { name: "Change TN9-2" });
  const name = within(form).getByLabelText("Name");
  await user.clear(name);
  await user.type(name, "Array B");
  await user.click(within(form).getByRole("button", { name: "Keep this" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const [change] = callsTo("PATCH /api/v1/assets/a2");
  expect(change?.headers.get("If-Match")).toBe('"7"');
  expect(change?.body).toMatchObject({ name: "Array B", serial: "TN9-2", status: "in_use" });
  expect(change?.body).not.toHaveProperty("vendor");
});

test("somebody else's newer version refuses a change, and the form stays as it is", async () => {
  service({ "PATCH /api/v1/assets/a1": problem(412, "changed", "TN9-1 has been changed since you read it.") });
  const { user } = drawAssets();
  (await row("TN9-1")).focus();
  await user.keyboard("xe");
  const form = await screen.findByRole("dialog");
  await user.type(within(form).getByLabelText("Notes"), "moved to rack 4");
  await user.click(within(form).getByRole("button", { name: "Keep this" }));
  expect((await within(form).findByRole("alert")).textContent).toContain("has been changed since you read it");
  expect(within(form).getByLabelText<HTMLTextAreaElement>("Notes").value).toBe("moved to rack 4");
});

test("several chosen records are changed alike by a preview", async () => {
  service({ "POST /api/v1/imports/bulk": { id: "i9" } });
  const { user } = drawAssets();
  (await row("TN9-1")).focus();
  await user.keyboard("x{ArrowDown}x");
  expect(screen.getByRole("status").textContent).toContain("2 chosen");
  await user.keyboard("e");
  const form = await screen.findByRole("dialog", { name: "Change 2 assets" });
  await user.selectOptions(within(form).getByLabelText("Field"), "State");
  await user.selectOptions(within(form).getByLabelText("Becomes"), "repair");
  await user.click(within(form).getByRole("button", { name: "Preview" }));
  await waitFor(() => expect(where()).toBe("/imports/i9"));
  expect(callsTo("POST /api/v1/imports/bulk")[0]?.body).toEqual({
    ...{ kind: "asset", ids: ["a1", "a2"], changes: { status: "repair" } },
  });
});

test("two chosen records can be merged, three cannot; Escape lets go", async () => {
  const { user } = drawAssets();
  (await row("TN9-1")).focus();
  await user.keyboard("x{ArrowDown}x");
  expect(screen.getByRole("button", { name: /Merge/ })).toBeTruthy();
  await user.keyboard("{ArrowDown}x");
  expect(screen.queryByRole("button", { name: /Merge/ })).toBeNull();
  await user.keyboard("{Escape}");
  expect(screen.queryByText("3 chosen")).toBeNull();
});

test("a record is added with what a field says of itself", async () => {
  service({
    "POST /api/v1/assets": ({ body }: { body: { serial: string } }) =>
      body.serial === "TN9-1" ? problem(409, "taken", "There is TN9-1 already.", "Change that one.") : asset(4),
  });
  const { user } = drawAssets();
  await row("TN9-1");
  await user.keyboard("+");
  const form = await screen.findByRole("dialog", { name: "Add an asset" });
  await screen.findByRole("option", { name: "Tarnfell Storage", selected: false });
  await user.selectOptions(within(form).getByLabelText("Vendor"), "tarnfell");
  await user.type(within(form).getByLabelText("Part number"), "TN9");
  await user.type(within(form).getByLabelText("Serial"), "TN9-1");
  await user.type(within(form).getByLabelText("Host names"), "bs-a, bs-b");
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  expect((await within(form).findByRole("alert")).textContent).toBe("There is TN9-1 already.Change that one.");
  await user.clear(within(form).getByLabelText("Serial"));
  await user.type(within(form).getByLabelText("Serial"), "TN9-4");
  await user.click(within(form).getByRole("button", { name: "Add it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(callsTo("POST /api/v1/assets").at(-1)?.body).toMatchObject({
    ...{ vendor: "tarnfell", product: "TN9", serial: "TN9-4", host_names: ["bs-a", "bs-b"], status: "in_use" },
    ...{ site: null, shipped_on: null, notes: "", software_version: "" },
  });
});

test("a reader changes nothing: no ticks, no Add, and keys that do nothing", async () => {
  const { user } = drawAssets(["reader"]);
  (await row("TN9-1")).focus();
  await user.keyboard("xe+");
  expect(screen.queryAllByRole("checkbox")).toEqual([]);
  expect(screen.queryByRole("button", { name: /Add/ })).toBeNull();
  expect(screen.queryByRole("dialog")).toBeNull();
});

test("a preparer chooses assets to print their labels, and changes none", async () => {
  const { user } = drawAssets(["preparer"]);
  (await row("TN9-1")).focus();
  await user.keyboard("x");
  expect(screen.getByRole("status").textContent).toContain("1 chosen");
  expect(screen.getByRole("button", { name: /Print labels/ })).toBeTruthy();
  await user.keyboard("e");
  expect(screen.queryByRole("dialog")).toBeNull();
});

test("an address of no register draws nothing", () => {
  const { container } = { container: document.body };
  draw(<RegisterPage plural="unicorns" roles={KEEPER} />);
  expect(container.textContent).toBe("");
});
