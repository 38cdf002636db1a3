// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import type { Packet } from "../src/api/packets";
import { sayAtDesk } from "../src/format/dates";
import { Find } from "../src/frame/find";
import { AssetPicker } from "../src/pages/packets/asset-picker";
import { RepliesPart } from "../src/pages/packets/replies";
import { ThreadPart } from "../src/pages/packets/thread";
import { UnreadHours } from "../src/pages/register/unread-hours";
import { draw } from "./drawing";
import { asset, message, PATH, packet } from "./samples";
import { callsTo, problem, service } from "./service";

const used = (kind: string, handle: string, name: string, pinned = false) => ({
  ...{ kind, handle, name, pinned, beside: "Book store" },
});
const USED = [
  used("asset", "a1", "TN9-1", true),
  used("asset", "a2", "LK40-7"),
  used("desk", "tarnfell-support", "Tarnfell"),
];
const HOUR = 3_600_000;
const inHours = (hours: number) => new Date(Date.now() + hours * HOUR).toISOString();

beforeEach(() => {
  service({
    "GET /api/v1/me": { name: "marit", person: "Marit", roles: ["keeper", "preparer"], csrf: "c1", version: "0.1.0" },
    "GET /api/v1/vendors": { items: [], next: null },
    "GET /api/v1/often-used": { items: USED },
    "PUT /api/v1/pins/asset/a2": { items: [USED[0], { ...USED[1], pinned: true }] },
    "DELETE /api/v1/pins/asset/a1": { items: [{ ...USED[0], pinned: false }] },
    [`GET ${PATH}/decisions`]: { decisions: [] },
    [`GET ${PATH}/thread`]: { items: [], looked_at: null, next: null },
  });
});

test("finding offers what is used often, and pins it by a key", async () => {
  const { user } = draw(<Find open onChange={() => {}} />);
  const rows = await screen.findAllByRole("option");
  expect(rows.map((row) => row.textContent)).toEqual([
    expect.stringMatching(/TN9-1.*pinned/),
    expect.stringMatching(/LK40-7/),
    expect.stringMatching(/Tarnfell/),
  ]);
  await user.keyboard("{ArrowDown}");
  await user.click(screen.getByRole("button", { name: /^Pin LK40-7/ }));
  await waitFor(() => expect(callsTo("PUT /api/v1/pins/asset/a2")).toHaveLength(1));
  expect(await screen.findByRole("button", { name: /^Unpin LK40-7/ })).toBeTruthy();
});

test("an asset that is used often is chosen without typing", async () => {
  const chosen: string[] = [];
  service({ "GET /api/v1/assets": { items: [], next: null }, "GET /api/v1/assets/a2": { id: "a2", serial: "LK40-7" } });
  const { user } = draw(<AssetPicker asset={null} onPick={(one) => chosen.push(one?.serial ?? "")} />);
  await user.click(await screen.findByRole("button", { name: /LK40-7/ }));
  await waitFor(() => expect(chosen).toEqual(["LK40-7"]));
});

test("hours that do not say when are converted once", async () => {
  let unread = [{ text: "9x5", entitlements: 12 }];
  service({
    "GET /api/v1/hours": () => ({ items: unread }),
    "POST /api/v1/hours": ({ body }: { body: unknown }) => {
      if ((body as { hours: string }).hours === "soon") return problem(422, "invalid", "They cannot be read.");
      unread = [];
      return { entitlements: 12 };
    },
  });
  const { user } = draw(<UnreadHours mayEdit />);
  await user.click(await screen.findByText(/One kind of hours does not say when/));
  const field = screen.getByLabelText("Hours meant by 9x5");
  await user.type(field, "soon{Enter}");
  expect(await screen.findByText(/They cannot be read/)).toBeTruthy();
  await user.clear(field);
  await user.type(field, "Mo–Fr 08:30–17:00{Enter}");
  await waitFor(() => expect(screen.queryByLabelText("Hours meant by 9x5")).toBeNull());
  expect(callsTo("POST /api/v1/hours").at(-1)?.body).toEqual({ text: "9x5", hours: "Mo–Fr 08:30–17:00" });
});

const uploads = { uploads: [], add: () => {}, drop: () => {} } as never;
const lodged = (more: Partial<Packet>) =>
  packet({ asset, life: "lodged", turn: "vendor", reference: "TS-1", desk_status: "working", ...more });

test("a promise that is broken says by which rule it may be escalated", () => {
  const step = { trigger: "too slow", action: "call the duty manager", contact: "+44 1632 960455", after_hours: 4 };
  const severity = {
    ...{ set_by: "us", level: "2", label: "", raising: "", levels: [] },
    escalation: [{ ...step, allowed_at: inHours(-2) }],
  };
  const due = { due_at: inHours(-1), due_what: "first_answer", escalate_at: inHours(-1), severity } as const;
  draw(<RepliesPart packet={lodged(due)} roles={["preparer"]} uploads={uploads} />);
  expect(screen.getByText(/The first answer is overdue for/)).toBeTruthy();
  expect(screen.getByText(/You may escalate it now: call the duty manager \+44 1632 960455/)).toBeTruthy();
});

test("before that it says from when", () => {
  const due = { due_at: inHours(30), due_what: "next_word", escalate_at: inHours(30) } as const;
  draw(<RepliesPart packet={lodged(due)} roles={["preparer"]} uploads={uploads} />);
  expect(screen.getByText(/It may be escalated from/)).toBeTruthy();
});

test("the desk's clocks are said where they show another time", () => {
  const here = Intl.DateTimeFormat().resolvedOptions().timeZone;
  expect(sayAtDesk("2026-12-01T10:00:00Z", here)).toBe("");
  expect(sayAtDesk("2026-12-01T10:00:00Z", "")).toBe("");
  expect(sayAtDesk("2026-12-01T10:00:00Z", "Asia/Kolkata")).toMatch(/15:30 at the desk$/);
});

test("a call that was not wished is noted with one press, and taken back", async () => {
  const call = message("c1", { how: "call", text: "Is it slow?", outside_hours: true, mail_asked: true });
  service({
    [`POST ${PATH}/messages/c1/unwished`]: ({ body }: { body: unknown }) =>
      lodged({ messages: [{ ...call, unwished: (body as { unwished: boolean }).unwished }] }),
  });
  const { user } = draw(<RepliesPart packet={lodged({ messages: [call] })} roles={["preparer"]} uploads={uploads} />);
  const line = screen.getByText("Is it slow?").closest("li") as HTMLElement;
  expect(within(line).getByText("outside the hours of our contact")).toBeTruthy();
  await user.click(within(line).getByRole("button", { name: "Called although mail was asked for" }));
  await waitFor(() => expect(callsTo(`POST ${PATH}/messages/c1/unwished`)[0]?.body).toEqual({ unwished: true }));
});

test("what came after the seal is sealed from the thread, and later bags are fetched there", async () => {
  const seal = { at: "2026-11-20T08:00:00Z", by: "marit", tag_manifest: "aa", key: "k", files: 3, octets: 10 };
  const later = { place: 1, at: "2026-11-22T08:00:00Z", by: "marit", form: "sent", files: 2, octets: 9 } as const;
  const sealed = lodged({
    seal: { ...seal, bag_sha256: "bb", version: 3 },
    later_bags: [{ ...later, tag_manifest: "cc", follows: "aa", sha256: "dd" }],
  });
  service({ [`POST ${PATH}/later-bags`]: sealed });
  const { user } = draw(<ThreadPart packet={sealed} roles={["releaser"]} />, "/packets/P-0042/thread");
  expect(screen.getByRole("link", { name: /^later bag 1/ }).getAttribute("href")).toBe(`${PATH}/later-bags/1`);
  await user.click(screen.getByRole("button", { name: "Seal what came after" }));
  await waitFor(() => expect(callsTo(`POST ${PATH}/later-bags`)).toHaveLength(1));
});

test("what follows from an answer is taken by a key beside what the register has, and undone by one", async () => {
  const offered = {
    ...{ id: "f1", what: "the new level of service", case: "", record: "entitlement", handle: "e1", name: "HCE-1180" },
    ...{ field: "level", now: "Care", value: "Extended care", from_on: "2026-12-20", state: "offered" },
    ...{ offered_at: "2026-12-01T09:00:00Z", decided_by: "", decided_at: null },
  } as const;
  const decided = { ...offered, now: "Extended care", decided_by: "marit", decided_at: "2026-12-01T10:00:00Z" };
  const withOne = (one: object) => lodged({ consequences: [one] } as Partial<Packet>);
  service({
    [`POST ${PATH}/consequences/f1/take`]: withOne({ ...decided, state: "taken" }),
    [`POST ${PATH}/consequences/f1/undo`]: withOne({ ...decided, state: "undone" }),
  });
  const keeper = ["keeper", "preparer"];
  const drawn = draw(<RepliesPart packet={withOne(offered)} roles={keeper} uploads={uploads} />);
  expect(screen.getByText("Care")).toBeTruthy();
  expect(screen.getByText(/from 20 Dec 2026/)).toBeTruthy();
  await drawn.user.keyboard("v");
  await waitFor(() => expect(callsTo(`POST ${PATH}/consequences/f1/take`)).toHaveLength(1));
  drawn.unmount();
  const { user } = draw(
    <RepliesPart packet={withOne({ ...decided, state: "taken" })} roles={keeper} uploads={uploads} />,
  );
  expect(screen.getByText("taken")).toBeTruthy();
  await user.keyboard("u");
  await waitFor(() => expect(callsTo(`POST ${PATH}/consequences/f1/undo`)).toHaveLength(1));
});
