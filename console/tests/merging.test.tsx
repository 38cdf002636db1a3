// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Asset } from "../src/api/assets";
import { AssetActs } from "../src/pages/register/asset-acts";
import { REGISTER, type Register } from "../src/pages/register/kinds";
import { MergeDialog } from "../src/pages/register/merge";
import { draw } from "./drawing";
import { type Call, callsTo, problem, service } from "./service";

const ASSETS = REGISTER.find((one) => one.kind === "asset") as Register;

const one = (id: string) => ({
  id,
  serial: id === "a1" ? "TN9-1" : "TN9-l",
  version: id === "a1" ? 4 : 9,
  product: "TN9",
});

/** What would become of it, if the first one stays or the other. */
const would = ({ path, query }: Call) => ({
  stays: one(path.includes("/a1/") ? "a1" : "a2"),
  goes: one(query.other ?? ""),
  takes: { host_names: ["bs-a", "bs-b"], installed_on: "2024-01-01" },
  moving: { entitlement_asset: 2, asset_stay: 1 },
});

beforeEach(() => {
  service({
    "GET /api/v1/assets/a1/merge": would,
    "GET /api/v1/assets/a2/merge": would,
    "POST /api/v1/assets/a1/merge": one("a1"),
    "POST /api/v1/assets/a2/merge": one("a2"),
    "GET /api/v1/sites": { items: [{ key: "quay", name: "Quay Street" }], next: null },
  });
});

async function open() {
  const onDone = vi.fn();
  const drawn = draw(<MergeDialog register={ASSETS} ids={["a1", "a2"]} onClose={() => {}} onDone={onDone} />);
  await screen.findByRole("button", { name: "Merge them" });
  return { ...drawn, onDone };
}

test("what is taken over and what moves is said before two become one", async () => {
  await open();
  const shown = screen.getByRole("dialog", { name: "Two assets that are one" }).textContent;
  expect(shown).toContain("TN9-1 stays, TN9-l goes");
  expect(shown).toContain("host namesbs-a, bs-b");
  expect(shown).toContain("installed2024-01-01");
  expect(shown).toContain("2 listings on entitlements, 1 former stay");
  expect(screen.queryByText(/of two models/)).toBeNull();
});

test("the other one can stay, on the version that was read of it", async () => {
  const { user, onDone } = await open();
  await user.click(screen.getByRole("button", { name: "The other way round" }));
  await screen.findByText("TN9-l", { selector: ".font-semibold" });
  await waitFor(() => expect(screen.getByRole("dialog").textContent).toContain("TN9-l stays, TN9-1 goes"));
  await user.click(screen.getByRole("button", { name: "Merge them" }));
  await waitFor(() => expect(onDone).toHaveBeenCalledTimes(1));
  const [merged] = callsTo("POST /api/v1/assets/a2/merge");
  expect(merged?.body).toEqual({ other: "a1" });
  expect(merged?.headers.get("If-Match")).toBe('"9"');
});

test("two models are looked at twice", async () => {
  service({
    "GET /api/v1/assets/a1/merge": (call: Call) => ({ ...would(call), goes: { ...one("a2"), product: "TN4" } }),
  });
  await open();
  expect(screen.getByText("They are of two models. Check before you merge.")).toBeTruthy();
});

test("where nothing is taken over and nothing moves, that is said", async () => {
  service({ "GET /api/v1/assets/a1/merge": (call: Call) => ({ ...would(call), takes: {}, moving: {} }) });
  await open();
  expect(screen.getByText("Nothing: it has all of it already.")).toBeTruthy();
  expect(screen.getByText("Nothing refers to the other one.")).toBeTruthy();
});

test("what cannot be merged says why, and nothing is done", async () => {
  service({ "POST /api/v1/assets/a1/merge": problem(412, "changed", "TN9-1 has been changed.", "Look again.") });
  const { user, onDone } = await open();
  await user.click(screen.getByRole("button", { name: "Merge them" }));
  expect((await screen.findByRole("alert")).textContent).toBe("TN9-1 has been changed.Look again.");
  expect(onDone).not.toHaveBeenCalled();
});

const asset = { ...one("a1"), site: null, status: "in_use" } as unknown as Asset;

test("V moves an asset from a day on, on the version that was read", async () => {
  service({ "POST /api/v1/assets/a1/move": one("a1") });
  const { user } = draw(<AssetActs asset={asset} listed="TSE-1" />);
  await user.keyboard("v");
  const form = await screen.findByRole("dialog", { name: "Move TN9-1" });
  const day = within(form).getByLabelText("From");
  await user.clear(day);
  await user.type(day, "2026-12-01");
  await user.selectOptions(
    within(form).getByLabelText("At"),
    await within(form).findByRole("option", { name: "Quay Street" }),
  );
  await user.selectOptions(within(form).getByLabelText("State"), "spare");
  await user.click(within(form).getByRole("button", { name: "Move it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const [moved] = callsTo("POST /api/v1/assets/a1/move");
  expect(moved?.body).toEqual({ from_on: "2026-12-01", site: "quay", status: "spare" });
  expect(moved?.headers.get("If-Match")).toBe('"4"');
});

test("O takes an asset off the entitlement on which it is listed", async () => {
  service({
    "POST /api/v1/assets/a1/transfer": problem(404, "not-found", "There is no entitlement TSE-9.", "Look for it."),
  });
  const { user } = draw(<AssetActs asset={asset} listed="TSE-1" />);
  await user.keyboard("o");
  const form = await screen.findByRole("dialog", { name: "Take TN9-1 to another entitlement" });
  expect(within(form).getByLabelText<HTMLInputElement>("Off").value).toBe("TSE-1");
  await user.click(within(form).getByRole("button", { name: "Take it there" }));
  expect(callsTo("POST /api/v1/assets/a1/transfer")).toEqual([]); // it has to go somewhere
  await user.type(within(form).getByLabelText("Onto"), "TSE-9{Enter}");
  expect((await within(form).findByRole("alert")).textContent).toBe("There is no entitlement TSE-9.Look for it.");
  expect(callsTo("POST /api/v1/assets/a1/transfer")[0]?.body).toMatchObject({ out_of: "TSE-1", into: "TSE-9" });
});
