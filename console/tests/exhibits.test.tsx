// @vitest-environment happy-dom
import { act, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test, vi } from "vitest";
import type { Exhibit } from "../src/api/exhibits";
import type { Packet } from "../src/api/packets";
import { PacketPage } from "../src/pages/packets/page";
import { draw, where } from "./drawing";
import { asset, PATH, packet } from "./samples";
import { callsTo, problem, service } from "./service";

const exhibit = (name: string, more: Partial<Exhibit> = {}): Exhibit => ({
  ...{ id: name, name, state: "ready", size: 4_000_000, sha256: "aa", outgoing_size: 3_900_000, outgoing_sha256: "bb" },
  ...{
    done: 4_000_000,
    leaks: 0,
    reason: "",
    released_by: null,
    counts: { ip: 3, host: 1 },
    kept: { asset: 2 },
    later: false,
  },
  ...{
    sent: false,
    first_at: null,
    last_at: null,
    faults: [],
    has_summary: false,
    collected: null,
    original_deleted_at: null,
  },
  ...{ shows: "values", created_at: "2026-11-20T08:00:00Z" },
  ...more,
});

/** Uploads by XMLHttpRequest, played by the test: each is answered when the test says so. */
class Sending {
  static all: Sending[] = [];
  upload: { onprogress?: (event: { loaded: number }) => void } = {};
  status = 0;
  responseText = "";
  onload = () => {};
  onerror = () => {};
  to = "";
  open(method: string, path: string) {
    this.to = `${method} ${path}`;
  }
  setRequestHeader() {}
  send() {
    Sending.all.push(this);
  }
  async end(status: number, body: unknown = {}) {
    this.status = status;
    this.responseText = JSON.stringify(body);
    await act(async () => this.onload());
  }
}

beforeEach(() => {
  Sending.all = [];
  vi.stubGlobal("XMLHttpRequest", Sending);
  service({
    [`GET ${PATH}/decisions`]: { decisions: [] },
    [`GET ${PATH}/kits`]: { items: [] },
    [`POST ${PATH}/exhibits`]: exhibit("new"),
    "GET /api/v1/redaction-plan": { floor: [] },
    "GET /api/v1/kits": { items: [] },
    [`GET ${PATH}/exhibits/a.log/values`]: { total: 0, values: [] },
  });
});

async function open(more: Partial<Packet> = {}, name?: string, roles = ["preparer", "releaser"]) {
  service({ [`GET ${PATH}`]: packet({ asset, ...more }) });
  const drawn = draw(
    <PacketPage number="P-0042" part="exhibits" name={name} roles={roles} />,
    "/packets/P-0042/exhibits",
  );
  await screen.findByRole("heading", { level: 1, name: "Volumes are slow" });
  return drawn;
}

const row = (name: string) => screen.getByRole("row", { name: new RegExp(name) });

test("each exhibit says how it stands, and what of it is masked and kept", async () => {
  await open({
    exhibits: [
      exhibit("a.log"),
      exhibit("b.log", { state: "redacting", done: 1_000_000 }),
      exhibit("c.log", { state: "redacting" }),
      exhibit("d.bin", { state: "held", reason: "It cannot be read." }),
      exhibit("e.bin", { state: "held", released_by: "pauli" }),
      exhibit("f.log", { leaks: 2 }),
      exhibit("g.log", { state: "waiting", done: 0 }),
    ],
  });
  expect(row("a.log").textContent).toBe("a.logready4.0 MB3.9 MB42");
  expect(within(row("b.log")).getByRole("progressbar").getAttribute("aria-valuenow")).toBe("25");
  expect(row("c.log").textContent).toContain("checking for leaks");
  expect(row("d.bin").textContent).toContain("held");
  expect(row("e.bin").textContent).toContain("released");
  expect(row("f.log").textContent).toContain("leaks");
  expect(row("g.log").textContent).toContain("waiting");
});

test("files are sent side by side, each with its progress, and are gone from the way in when they are there", async () => {
  const { user } = await open();
  const files = [new File(["x".repeat(2000)], "a.log"), new File(["y"], "b log.txt")];
  await user.upload(screen.getByLabelText("Files to add"), files);
  await waitFor(() => expect(Sending.all).toHaveLength(2));
  expect(Sending.all.map((one) => one.to)).toEqual([
    `PUT ${PATH}/exhibits/a.log/content`,
    `PUT ${PATH}/exhibits/b%20log.txt/content`,
  ]);
  expect(callsTo(`POST ${PATH}/exhibits`).map((call) => call.body)).toEqual([
    { name: "a.log", size: 2000 },
    { name: "b log.txt", size: 1 },
  ]);
  act(() => Sending.all[0]?.upload.onprogress?.({ loaded: 500 }));
  expect(screen.getByRole("progressbar", { name: "a.log sent" }).getAttribute("aria-valuenow")).toBe("25");
  await Sending.all[0]?.end(200);
  await waitFor(() => expect(screen.queryByRole("progressbar", { name: "a.log sent" })).toBeNull());
  expect(screen.getByRole("progressbar", { name: "b log.txt sent" })).toBeTruthy();
});

test("a file that is refused says so until somebody has read it; the others go on", async () => {
  const { user } = await open();
  await user.upload(screen.getByLabelText("Files to add"), [new File(["x"], "a.log"), new File(["y"], "b.log")]);
  await waitFor(() => expect(Sending.all).toHaveLength(2));
  await Sending.all[0]?.end(413, { code: "too-large", detail: "a.log is too large.", remedy: "Cut it." });
  expect((await screen.findByRole("alert")).textContent).toContain("a.log is too large.Cut it.");
  await Sending.all[1]?.end(200);
  await user.click(screen.getByRole("button", { name: "Understood" }));
  expect(screen.queryByRole("alert")).toBeNull();
});

test("an upload that breaks off says that nothing was kept of it", async () => {
  const { user } = await open();
  await user.upload(screen.getByLabelText("Files to add"), new File(["x"], "a.log"));
  await waitFor(() => expect(Sending.all).toHaveLength(1));
  await act(async () => Sending.all[0]?.onerror());
  expect((await screen.findByRole("alert")).textContent).toContain("The upload of a.log broke off.");
});

test("a name that the packet has already is refused before anything is sent", async () => {
  service({ [`POST ${PATH}/exhibits`]: problem(409, "taken", "There is an a.log already.", "Rename it.") });
  const { user } = await open();
  await user.upload(screen.getByLabelText("Files to add"), new File(["x"], "a.log"));
  expect((await screen.findByRole("alert")).textContent).toContain("There is an a.log already.");
  expect(Sending.all).toEqual([]);
});

test("what is held goes out only when a releaser answers for it", async () => {
  const held = exhibit("d.bin", { state: "held", reason: "It is no text." });
  service({ [`POST ${PATH}/exhibits/d.bin/release`]: exhibit("d.bin", { state: "held", released_by: "marit" }) });
  const { user } = await open({ exhibits: [held] }, "d.bin");
  expect(screen.getByText("It is no text.")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Release" }));
  expect(callsTo(`POST ${PATH}/exhibits/d.bin/release`)).toEqual([]);
  await user.type(screen.getByLabelText("Reason, for the custody log"), "Read by eye.{Enter}");
  await waitFor(() =>
    expect(callsTo(`POST ${PATH}/exhibits/d.bin/release`)[0]?.body).toEqual({ reason: "Read by eye." }),
  );
});

test("who may not release sees what is held, and no way to let it go", async () => {
  await open({ exhibits: [exhibit("d.bin", { state: "held", reason: "It is no text." })] }, "d.bin", ["preparer"]);
  expect(screen.getByText(/until a releaser answers for it/)).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Release" })).toBeNull();
});

test("an exhibit is taken out, and one is back among the others", async () => {
  service({ [`DELETE ${PATH}/exhibits/a.log`]: { done: true } });
  const { user } = await open({ exhibits: [exhibit("a.log")] }, "a.log");
  await user.click(screen.getByRole("button", { name: "Take it out" }));
  await waitFor(() => expect(where()).toBe("/packets/P-0042/exhibits"));
  expect(callsTo(`DELETE ${PATH}/exhibits/a.log`)).toHaveLength(1);
});

test("what is being redacted is not redacted again meanwhile", async () => {
  await open({ exhibits: [exhibit("a.log", { state: "redacting" })] }, "a.log");
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Redact again" }).disabled).toBe(true);
});

test("a sealed packet takes no files, and gives none up", async () => {
  await open({ life: "sealed", exhibits: [exhibit("a.log")] });
  expect(screen.queryByLabelText("Files to add")).toBeNull();
});

test("what the desk wants to see is said, with what is missing of it", async () => {
  const evidence = [
    {
      what: "The controller's log",
      hours_before: 2,
      hours_after: 1,
      state: "missing",
      required: true,
      exhibit: null,
      faults: [],
      because: "severity is 1",
    },
    {
      what: "Its settings",
      hours_before: 0,
      hours_after: 0,
      state: "doubtful",
      required: false,
      exhibit: "array.cfg",
      faults: ["It is of another array."],
      because: "",
    },
  ] as unknown as Packet["evidence"];
  await open({ evidence });
  const lines = within(
    screen.getByRole("heading", { name: "Tarnfell Storage wants to see" }).closest("section") as HTMLElement,
  );
  const [log, settings] = lines.getAllByRole("listitem").map((one) => one.textContent);
  expect(log).toBe("The controller's log, from 2 hours before it began to 1 hour afterneededbecause severity is 1");
  expect(settings).toBe("Its settingslook again: array.cfgIt is of another array.");
});
