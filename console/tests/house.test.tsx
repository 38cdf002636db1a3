// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { CustodyPage } from "../src/pages/house/custody";
import { PlanPage } from "../src/pages/house/plan";
import { draw, where } from "./drawing";
import { callsTo, problem, service } from "./service";

const entry = (seq: number, more = {}) => ({
  ...{ seq, hash: `h${seq}`, at: "2026-11-20T09:00:00Z", actor: "marit", action: "packet sealed" },
  ...{
    subject: "packet P-0012",
    detail: { files: 2, note: "", kinds: ["ip", "host"], bag_sha256: "ab".repeat(32) },
    ...more,
  },
});

const PLAN = { number: 3, yaml: "plan: 1\n", floor: ["card", "secret"], by: "marit", at: "2026-11-20T09:00:00Z" };

beforeEach(() => {
  service({
    "GET /api/v1/custody": { items: [entry(2), entry(1, { subject: "house", detail: {} })] },
    "GET /api/v1/custody/chain": { entries: 2, last_hash: "h2", broken_at: null, reason: "", holds: true },
    "GET /api/v1/redaction-plan": PLAN,
  });
});

test("the log says who did what about what, and leads to the packet", async () => {
  const { user } = draw(<CustodyPage roles={["preparer"]} />, "/custody");
  const row = await screen.findByRole("row", { name: /^2 / });
  expect(row.textContent).toContain(
    "maritpacket sealedpacket P-0012files: 2 · kinds: ip, host · bag sha256: abababababababab…",
  );
  expect(screen.queryByRole("button", { name: "Verify the log" })).toBeNull();
  await user.click(within(row).getByRole("button", { name: "packet P-0012" }));
  expect(where()).toBe("/packets/P-0012");
});

test("it is narrowed to a subject, which stays in the address", async () => {
  const { user } = draw(<CustodyPage roles={["keeper"]} />, "/custody");
  await screen.findByRole("row", { name: /^2 / });
  await user.type(screen.getByLabelText("Only about"), "packet P-0012{Enter}");
  await waitFor(() => expect(where()).toBe("/custody?subject=packet+P-0012"));
  await waitFor(() => expect(callsTo("GET /api/v1/custody").at(-1)?.query.subject).toBe("packet P-0012"));
});

test("the whole log is verified, and what broke it is said", async () => {
  const { user } = draw(<CustodyPage roles={["keeper"]} />, "/custody");
  await user.click(await screen.findByRole("button", { name: "Verify the log" }));
  await screen.findByText("It is whole: 2 entries.");
  service({
    "GET /api/v1/custody/chain": {
      entries: 2,
      last_hash: "h2",
      broken_at: 1,
      reason: "its hash differs",
      holds: false,
    },
  });
  await user.click(screen.getByRole("button", { name: "Verify the log" }));
  await screen.findByText(/It is broken at entry 1: its hash differs/);
});

test("a keeper writes the plan from the version that was read; what is wrong stands there, and the text stays", async () => {
  service({ "PUT /api/v1/redaction-plan": problem(422, "plan", "kinds.card: It cannot be kept.") });
  const { user } = draw(<PlanPage roles={["keeper"]} />);
  const text = await screen.findByLabelText<HTMLTextAreaElement>("The plan, as YAML");
  expect(screen.getByText(/card, secret/)).toBeTruthy();
  const keep = screen.getByRole<HTMLButtonElement>("button", { name: "Save as version 4" });
  expect(keep.disabled).toBe(true);
  await user.type(text, "style: shapes");
  await user.click(keep);
  await screen.findByText(/It cannot be kept/);
  expect(text.value).toBe("plan: 1\nstyle: shapes");
  expect(callsTo("PUT /api/v1/redaction-plan")[0]?.body).toEqual({ yaml: "plan: 1\nstyle: shapes", number: 3 });
});

test("a preparer reads the plan only", async () => {
  draw(<PlanPage roles={["preparer"]} />);
  expect((await screen.findByLabelText<HTMLTextAreaElement>("The plan, as YAML")).readOnly).toBe(true);
  expect(screen.queryByRole("button", { name: /Save as/ })).toBeNull();
});
