// @vitest-environment happy-dom
import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import { App } from "../src/app";
import { draw, where } from "./drawing";
import { brief } from "./samples";
import { callsTo, later, problem, service } from "./service";

const EMPTY = { items: [], next: null };

const today = {
  ...{
    day: "2026-11-20",
    worker: true,
    worker_seen_at: null,
    releases: [],
    mailbox_trouble: "",
    desks_away: [],
    tray: [],
    tray_count: 0,
    ending: [],
  },
  ...{ access_overdue: [], shipments_due: [], ours: [brief("P-0001")], theirs: [] },
  ...{ ours_count: 1, theirs_count: 0, counts: [{ attention: "waiting", packets: 1 }], others: 0 },
};

const me = (roles: string[]) => ({ name: "marit", person: "Marit Oswin", roles, csrf: "c1", version: "0.1.0" });

beforeEach(() => {
  service({
    "GET /api/v1/me": me(["keeper", "preparer", "releaser"]),
    "GET /api/v1/today": today,
    "GET /api/v1/packets": { items: [brief("P-0001"), brief("P-0002")], next: null },
    "GET /api/v1/similar": { open: [], solved: [], articles: [], named: [] },
    ...Object.fromEntries(
      ["assets", "contracts", "vendors", "views", "packets/counts"].map((name) => [`GET /api/v1/${name}`, EMPTY]),
    ),
  });
});

async function open(at = "/") {
  const drawn = draw(<App />, at);
  await screen.findByRole("navigation", { name: "Places" });
  return drawn;
}

const heading = (name: string) => screen.findByRole("heading", { level: 1, name });

test("letters go to places, from any page to any other", async () => {
  const { user } = await open();
  await screen.findByRole("heading", { name: "Our turn" });
  await user.keyboard("p");
  expect(await heading("Packets")).toBeTruthy();
  await user.keyboard("a");
  expect(await heading("Assets")).toBeTruthy();
  await user.keyboard("c");
  expect(await heading("Contracts")).toBeTruthy();
  await user.keyboard("t");
  expect(where()).toBe("/");
});

test("letters are letters while somebody types, or holds Ctrl, or a dialog is open", async () => {
  const { user } = await open("/packets");
  await user.type(await screen.findByLabelText("Narrow by words or any number"), "ant");
  expect(where()).toBe("/packets?q=ant");
  (document.activeElement as HTMLElement).blur();
  await user.keyboard("{Control>}a{/Control}");
  expect(where()).toBe("/packets?q=ant");
  await user.keyboard("?");
  await screen.findByRole("dialog", { name: "Keys" });
  await user.keyboard("a");
  expect(where()).toBe("/packets?q=ant");
  await user.keyboard("{Escape}");
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});

test("who may not prepare packets notes none: no button, and N does nothing", async () => {
  service({ "GET /api/v1/me": me(["reader"]) });
  const { user } = await open();
  await user.keyboard("n");
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(screen.queryByRole("button", { name: /Note/ })).toBeNull();
  expect(
    within(screen.getByRole("navigation", { name: "Places" })).queryByRole("link", { name: "Imports" }),
  ).toBeNull();
});

test("without a session one signs in, and a wrong password is said", async () => {
  service({
    "GET /api/v1/me": problem(401, "not-signed-in", "Sign in first."),
    "POST /api/v1/sign-in": problem(401, "wrong", "Name or password is wrong.", "Try again."),
  });
  const { user } = draw(<App />);
  await user.type(await screen.findByLabelText("Name"), "marit");
  await user.type(screen.getByLabelText("Password"), "heron{Enter}");
  expect((await screen.findByRole("alert")).textContent).toContain("Name or password is wrong.");
  service({ "POST /api/v1/sign-in": me(["preparer"]) });
  await user.type(screen.getByLabelText("Password"), "-77{Enter}");
  expect(await screen.findByRole("heading", { name: "Our turn" })).toBeTruthy();
  expect(callsTo("POST /api/v1/sign-in").at(-1)?.body).toEqual({ name: "marit", password: "heron-77" });
});

test("a service that cannot be reached is said on an otherwise empty page", async () => {
  service({
    "GET /api/v1/me": () => {
      throw new TypeError("no network");
    },
  });
  draw(<App />);
  expect((await screen.findByRole("alert")).textContent).toContain("The service cannot be reached.");
  expect(screen.queryByRole("navigation")).toBeNull();
});

test("what changes something carries the token of the session, what reads does not", async () => {
  const noted = later(brief("P-0003"));
  service({ "POST /api/v1/packets": noted.waiting });
  const { user } = await open();
  await user.keyboard("n");
  await user.type(await screen.findByLabelText("In one line"), "Array is slow{Enter}");
  await waitFor(() => expect(callsTo("POST /api/v1/packets")).toHaveLength(1));
  expect(callsTo("POST /api/v1/packets")[0]?.headers.get("X-CSRF-Token")).toBe("c1");
  expect(callsTo("GET /api/v1/today")[0]?.headers.get("X-CSRF-Token")).toBeNull();
});

test("a note that could not be kept stays as it was typed, and is sent again as the same one", async () => {
  service({ "POST /api/v1/packets": problem(503, "no-database", "The database cannot be reached.", "Try again.") });
  const { user } = await open();
  await user.keyboard("n");
  const form = await screen.findByRole("dialog", { name: "What happened?" });
  await user.type(within(form).getByLabelText("In one line"), "Array is slow");
  await user.type(within(form).getByLabelText(/In plain words/), "Since this morning.");
  await user.selectOptions(within(form).getByLabelText("It is"), "question");
  await user.click(within(form).getByRole("button", { name: "Note it" }));
  expect((await within(form).findByRole("alert")).textContent).toContain("The database cannot be reached.");
  expect(within(form).getByLabelText<HTMLInputElement>("In one line").value).toBe("Array is slow");
  await user.click(within(form).getByRole("button", { name: "Note it" }));
  await waitFor(() => expect(callsTo("POST /api/v1/packets")).toHaveLength(2));
  const [first, second] = callsTo("POST /api/v1/packets");
  expect(first?.body).toEqual({
    ...{ title: "Array is slow", note: "Since this morning.", need: "question", asset: null, ticket: "" },
  });
  expect(second?.headers.get("Idempotency-Key")).toBe(first?.headers.get("Idempotency-Key"));
});

test("F2 takes the thing that a note speaks of, and another can be chosen", async () => {
  const array = { id: "a1", serial: "TN9-1", name: "Array A", product: "TN9", vendor: "tarnfell" };
  const named = [
    { asset: { ...array, vendor_name: "Tarnfell Storage", site: "Book store", retired: false }, because: ["its name"] },
  ];
  service({ "GET /api/v1/similar": { open: [], solved: [], articles: [], named } });
  const { user } = await open();
  await user.keyboard("n");
  const form = await screen.findByRole("dialog", { name: "What happened?" });
  await user.type(within(form).getByLabelText("In one line"), "Array A is slow");
  await within(form).findByRole("region", { name: "It may be about" });
  await user.keyboard("{F2}");
  expect(within(form).getByText("TN9-1")).toBeTruthy();
  expect(within(form).queryByRole("region", { name: "It may be about" })).toBeNull();
  await user.click(within(form).getByRole("button", { name: "Another" }));
  expect(await within(form).findByRole("region", { name: "It may be about" })).toBeTruthy();
});

test("finding begins with two letters, moves by arrows and opens by Enter", async () => {
  const item = (kind: string, handle: string, name: string) => ({
    ...{ kind, handle, name, title: "Controller tn9", beside: "", matched: "", exact: false, at: null },
  });
  const packets = [item("packet", "P-0001", "P-0001"), item("packet", "P-0002", "P-0002")];
  const groups = [
    { kind: "packet", items: packets, more: true },
    { kind: "asset", items: [item("asset", "a1", "TN9-1")], more: false },
  ];
  service({ "GET /api/v1/find": { groups, words: ["tn"], likely: false } });
  const { user } = await open();
  await user.keyboard("/");
  const words = await screen.findByRole("combobox");
  await user.type(words, "t");
  expect(screen.getByText(/Type two letters or more/)).toBeTruthy();
  expect(callsTo("GET /api/v1/find")).toEqual([]);
  await user.type(words, "n");
  const options = await screen.findAllByRole("option");
  expect(options.map((one) => one.getAttribute("aria-selected"))).toEqual(["true", "false", "false", "false"]);
  expect([...document.querySelectorAll("mark")].map((one) => one.textContent)).toEqual(["tn", "tn", "TN", "tn"]);
  await user.keyboard("{ArrowUp}{ArrowDown}{ArrowDown}{ArrowDown}{ArrowDown}");
  expect(words.getAttribute("aria-activedescendant")).toBe("found-asset-0");
  await user.keyboard("{ArrowUp}{Enter}");
  await waitFor(() => expect(callsTo("GET /api/v1/find").at(-1)?.query).toMatchObject({ kind: "packet", limit: "50" }));
  await user.keyboard("{ArrowDown}{Enter}");
  await waitFor(() => expect(where()).toBe("/packets/P-0002"));
  expect(screen.queryByRole("combobox")).toBeNull();
});

test("finding nothing says so", async () => {
  service({ "GET /api/v1/find": { groups: [], words: ["quokka"], likely: false } });
  const { user } = await open();
  await user.keyboard("/");
  await user.type(await screen.findByRole("combobox"), "quokka{Enter}");
  expect(await screen.findByText("Nothing matches.")).toBeTruthy();
  expect(where()).toBe("/");
});

test("the list of packets is narrowed by words and by state", async () => {
  const { user } = await open("/packets");
  expect(await screen.findByText("2 packets")).toBeTruthy();
  service({ "GET /api/v1/packets": EMPTY });
  await user.selectOptions(screen.getByRole("combobox", { name: "State" }), "sealed");
  await user.selectOptions(screen.getByRole("combobox", { name: "Turn" }), "open");
  await user.selectOptions(screen.getByRole("combobox", { name: "Looked after by" }), "nobody");
  await user.type(screen.getByLabelText("Narrow by words or any number"), "fan");
  expect(await screen.findByText("No packet matches.")).toBeTruthy();
  expect(callsTo("GET /api/v1/packets").at(-1)?.query).toMatchObject({
    ...{ life: "sealed", open: "true", unowned: "true", q: "fan", sort: "-created_at" },
  });
});

test("a house without packets says how one begins", async () => {
  service({ "GET /api/v1/packets": EMPTY });
  await open("/packets");
  expect(await screen.findByText("No packets yet. Press N to note what happened.")).toBeTruthy();
});

test("Today says what does not work, and what waits", async () => {
  const desks_away = [{ desk: "Tarnfell Support", since: "2026-11-20T07:40:00Z", words: "It does not answer." }];
  service({
    "GET /api/v1/today": {
      ...today,
      ...{ worker: false, worker_seen_at: "2026-11-20T07:40:00Z", desks_away, mailbox_trouble: "The mailbox is shut." },
      ours: [
        brief("P-0001", { life: "lodged", attention: "asked" }),
        brief("P-0002", { life: "refused", attention: "refused", owner: "" }),
      ],
      theirs: [brief("P-0003", { life: "lodged", turn: "vendor", attention: "theirs" })],
      ours_count: 202,
      theirs_count: 1,
      counts: [
        { attention: "asked", packets: 1 },
        { attention: "refused", packets: 201 },
      ],
      others: 7,
    },
  });
  const { user } = await open();
  expect((await screen.findByRole("alert")).textContent).toContain("The worker is not running");
  expect(screen.getByText("The mailbox is shut.")).toBeTruthy();
  expect(screen.getByText(/Tarnfell Support has not been reached since/)).toBeTruthy();
  expect(screen.getByText(/^202 packets wait for us. 1 vendor has asked back. 1 packet is with vendors./)).toBeTruthy();
  const linkIn = (part: string) => within(screen.getByRole("list", { name: part })).getByRole("link").textContent;
  expect(linkIn("A vendor asks")).toMatch(/^P-0001/);
  expect(linkIn("Refused")).toMatch(/^P-0002.*nobody's/);
  expect(linkIn("Their turn")).toMatch(/^P-0003/);
  expect(screen.getByRole("link", { name: "200 more" }).getAttribute("href")).toBe(
    "/packets?turn=ours&sort=turn_since",
  );
  expect(callsTo("GET /api/v1/today").at(-1)?.query).toEqual({ mine: "true" });
  await user.keyboard("o");
  await waitFor(() => expect(callsTo("GET /api/v1/today").at(-1)?.query).toEqual({ mine: "false" }));
});

test("many packets are dealt with at once, and of each it is said", async () => {
  service({
    "POST /api/v1/packets/together": {
      items: [
        { number: "P-0001", problem: "" },
        { number: "P-0002", problem: "Its desk settles cases itself." },
      ],
    },
  });
  const { user } = await open("/packets?sort=title&contract=T-2210");
  expect(await screen.findByRole("button", { name: /contract T-2210/ })).toBeTruthy();
  await user.click(await screen.findByRole("checkbox", { name: "Choose all that are shown" }));
  await user.click(screen.getByRole("button", { name: "Hand over" }));
  await user.type(screen.getByLabelText("To the account"), "teo");
  const dialog = screen.getByRole("dialog");
  await user.click(within(dialog).getByRole("button", { name: "Hand over" }));
  expect(await screen.findByText("1 of 2 handed over.")).toBeTruthy();
  expect(dialog.textContent).toContain("P-0002 Its desk settles cases itself.");
  expect(callsTo("POST /api/v1/packets/together")[0]?.body).toEqual({
    ...{ act: "hand_over", numbers: ["P-0001", "P-0002"], to: "teo", text: "" },
  });
});

test("an unknown address says so", async () => {
  await open("/nowhere");
  expect(await heading("There is no such page")).toBeTruthy();
});

/** Drop or paste a file on the page. */
function bring(kind: "drop" | "paste", file: File, on: Element = document.body) {
  const files = Object.assign([file], { item: () => file });
  const transfer = { files, types: ["Files"], items: [] };
  act(() => {
    if (kind === "drop") fireEvent.drop(on, { dataTransfer: transfer });
    else fireEvent.paste(on, { clipboardData: transfer });
  });
}

test.each(["drop", "paste"] as const)("what is to become of a file is asked first: %s", async (kind) => {
  const { user } = await open("/packets");
  await screen.findByText("2 packets");
  bring(kind, new File(["x"], "kiosk.log"));
  const question = await screen.findByRole("dialog", { name: "What is this for?" });
  expect(question.textContent).toContain("kiosk.log");
  await user.click(within(question).getByRole("button", { name: "Leave it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(callsTo("POST /api/v1/packets")).toEqual([]);
  bring(kind, new File(["x"], "kiosk.log"));
  await user.click(await screen.findByRole("button", { name: "Note a packet with it" }));
  const form = await screen.findByRole("dialog", { name: "What happened?" });
  expect(within(form).getByRole("list", { name: "Goes with it" }).textContent).toContain("kiosk.log");
});
