// @vitest-environment happy-dom
import { act, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { App } from "../src/app";
import { draw, where } from "./drawing";
import { callsTo, service } from "./service";
import { say } from "./streams";

const KINDS = ["asked", "replied", "settled"] as const;
const notice = (id: number, kind: string, read = false) => ({
  ...{ id, kind, read, at: "2026-11-29T09:00:00Z", words: "Tarnfell Storage asks something." },
  ...{ packet: `P-000${id}`, title: "Volumes are slow", vendor: "Tarnfell Storage" },
  ...{ reference: "TS-400118", place: `/packets/P-000${id}/replies` },
});
const settings = {
  choices: KINDS.map((kind) => ({ kind, scope: "mine", ways: ["console"] })),
  ...{ sites: [], vendors: [], digest_by: "day", digest_hour: 7, mail: "marit@quillmere.example" },
  ...{ mail_configured: true, mail_trouble: "", feed: false, webhook: "", webhook_trouble: "" },
};

beforeEach(() => {
  service({
    "GET /api/v1/me": { name: "marit", person: "Marit Oswin", roles: ["preparer"], csrf: "c1", version: "0.1.0" },
    "GET /api/v1/notices": { items: [notice(2, "asked"), notice(1, "asked", true)], unread: 1, next: null },
    "POST /api/v1/notices/read": { items: [], unread: 0, next: null },
    "GET /api/v1/notices/settings": settings,
    "PUT /api/v1/notices/settings": settings,
    "GET /api/v1/vendors": { items: [], next: null },
    "GET /api/v1/sites": { items: [], next: null },
    "GET /api/v1/news": { items: [], feeds: [{ vendor: "tarnfell", read_at: null, trouble: "It cannot be reached." }] },
  });
});

test("the badge follows the stream, and the list with it", async () => {
  draw(<App />, "/notices/list");
  await screen.findByRole("list", { name: "Notices" });
  const before = callsTo("GET /api/v1/notices").length;
  act(() => say("/api/v1/notices/stream", "notices", { unread: 1 }));
  const link = screen.getByRole("link", { name: /^Notices 1 not read/ });
  act(() => say("/api/v1/notices/stream", "notices", { unread: 120 }));
  expect(within(link).getByText("99+")).toBeTruthy();
  await waitFor(() => expect(callsTo("GET /api/v1/notices").length).toBeGreaterThan(before));
});

test("a notice leads to its place and was read then", async () => {
  const { user } = draw(<App />, "/notices/list");
  const list = await screen.findByRole("list", { name: "Notices" });
  const [first] = within(list).getAllByRole("link");
  await user.click(first as HTMLElement);
  expect(where()).toBe("/packets/P-0002/replies");
  expect(callsTo("POST /api/v1/notices/read").map((call) => call.body)).toEqual([
    { ids: [2], everything: false, read: true },
  ]);
});

test("all are read by one key", async () => {
  const { user } = draw(<App />, "/notices/list");
  await screen.findByRole("list", { name: "Notices" });
  await user.keyboard("y");
  await waitFor(() => expect(callsTo("POST /api/v1/notices/read")).toHaveLength(1));
  expect(callsTo("POST /api/v1/notices/read")[0]?.body).toEqual({ ids: [], everything: true, read: true });
});

test("each kind is chosen by itself", async () => {
  const { user } = draw(<App />, "/notices/settings");
  await user.click(await screen.findByRole("checkbox", { name: "A vendor writes: Digest" }));
  await user.selectOptions(screen.getByRole("combobox", { name: "A packet is settled: of which packets" }), "none");
  const bodies = callsTo("PUT /api/v1/notices/settings").map((call) => call.body);
  expect(bodies).toEqual([
    { choices: [{ kind: "replied", scope: "mine", ways: ["console", "digest"] }] },
    { choices: [{ kind: "settled", scope: "none", ways: ["console"] }] },
  ]);
});

test("a feed that cannot be read says so", async () => {
  draw(<App />, "/notices/news");
  expect(await screen.findByText(/The feed of tarnfell could not be read: It cannot be reached/)).toBeTruthy();
});

const report = (id: number, more: object) => ({
  ...{ id, vendor: "hollowmere", vendor_name: "Hollowmere Cloud", sort: "trouble", state: "ongoing", title: `T${id}` },
  ...{ summary: "Since the move.", link: "", products: [], regions: ["north-2"], sites: [], updated_at: null },
  ...{ begins_at: "2026-11-30T09:00:00Z", ends_at: null, ...more },
});

test("reports of vendors say what of ours they name, and until when", async () => {
  const items = [
    report(1, {}),
    report(2, { sort: "maintenance", state: "planned", ends_at: "2026-11-30T11:00:00Z", regions: [] }),
  ];
  const feeds = [{ vendor: "ovenbird", read_at: null, trouble: "It cannot be reached." }];
  service({ "GET /api/v1/vendor-health": { items, feeds } });
  const { user } = draw(<App />, "/notices/health");
  const [first, second] = await screen.findAllByRole("article");
  expect(first?.textContent).toMatch(/Hollowmere Cloud: T1 goes onnorth-2 · since 30 Nov.*Since the move/);
  expect(second?.textContent).toMatch(/maintenance, plannednames nothing of ours · 30 Nov.* to 30 Nov/);
  expect(screen.getByText(/The feed of ovenbird could not be read/)).toBeTruthy();
  await user.click(screen.getByRole("checkbox", { name: "with those that are over" }));
  await waitFor(() => expect(callsTo("GET /api/v1/vendor-health").at(-1)?.query.over).toBe("true"));
});
