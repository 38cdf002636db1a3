// @vitest-environment happy-dom
import { screen, waitFor, within } from "@testing-library/react";
import { beforeEach, expect, test } from "vitest";
import type { Packet } from "../src/api/packets";
import { PacketPage } from "../src/pages/packets/page";
import { draw } from "./drawing";
import { asset, caseShown, message, PATH, packet } from "./samples";
import { type Call, callsTo, later, problem, service } from "./service";

const asked = (id: string, text: string, more = {}) => ({ id, text, doubtful: false, open: true, by: "", ...more });

const lodged = (more: Partial<Packet> = {}) =>
  packet({ asset, life: "lodged", turn: "ours", reference: "TS-1", desk_status: "waiting", ...more });

const unchanged = ({ body }: Call) => {
  const { text } = body as { text: string };
  return {
    path: "message",
    ask: "The message",
    in_clear: "",
    kept: [],
    parts: [{ text, goes: text, masked: [], stops: false, sure: true }],
  };
};

beforeEach(() => {
  service({
    [`GET ${PATH}/decisions`]: { decisions: [] },
    [`POST ${PATH}/messages/preview`]: unchanged,
    "GET /api/v1/redaction-plan": { floor: [] },
    "GET /api/v1/people": { items: [], next: null },
  });
});

async function open(shown: Packet, roles = ["preparer", "releaser"]) {
  service({ [`GET ${PATH}`]: shown });
  const drawn = draw(<PacketPage number="P-0042" part="replies" name={undefined} roles={roles} />, "/packets/P-0042");
  await screen.findByRole("heading", { level: 1, name: "Volumes are slow" });
  return drawn;
}

const field = () => screen.getByLabelText<HTMLTextAreaElement>(/^(Answer|Write to) Tarnfell Storage/);

test("an answer is looked over before it is sent, with the questions that it answers", async () => {
  const questions = [asked("q1", "Which firmware?"), asked("q2", "Since when?")];
  service({ [`POST ${PATH}/messages`]: lodged({ turn: "vendor" }) });
  const { user } = await open(lodged({ messages: [message("m1", { text: "Two questions.", questions })] }));
  expect(screen.getByText("2 of 2 questions")).toBeTruthy();
  await user.click(screen.getByRole("checkbox", { name: /Since when/ }));
  await user.keyboard("r");
  await user.type(field(), "7.4.2");
  await user.keyboard("{Control>}{Enter}{/Control}");
  expect(await screen.findByText("Nothing in it is masked: it is sent unchanged.")).toBeTruthy();
  expect(callsTo(`POST ${PATH}/messages`)).toEqual([]);
  await user.keyboard("{Control>}{Enter}{/Control}");
  await waitFor(() => expect(field().value).toBe(""));
  const [sent] = callsTo(`POST ${PATH}/messages`);
  expect(sent?.body).toMatchObject({ text: "7.4.2", questions: ["q1"], files: [] });
  expect(sent?.headers.get("Idempotency-Key")).toBeTruthy();
});

test("what was changed after the look is looked over again", async () => {
  const { user } = await open(lodged());
  await user.type(field(), "first");
  await user.click(screen.getByRole("button", { name: "Preview" }));
  await screen.findByRole("button", { name: "Send" });
  await user.type(field(), " and second");
  expect(screen.getByRole("button", { name: "Preview" })).toBeTruthy();
});

test("a secret stops an answer, and what is masked stands beside what was typed", async () => {
  const masked = [{ kind: "secret", original: "heron-77", placeholder: "[secret:aaaaaaaaaa]" }];
  const parts = [
    { text: "It is ", goes: "It is ", masked: [], stops: false, sure: true },
    { text: "heron-77", goes: "[secret:aaaaaaaaaa]", masked, stops: true, sure: true },
  ];
  service({
    [`POST ${PATH}/messages/preview`]: { path: "message", ask: "The message", in_clear: "", kept: [], parts },
  });
  const { user } = await open(lodged());
  await user.type(field(), "It is heron-77");
  await user.click(screen.getByRole("button", { name: "Preview" }));
  expect(await screen.findByText(/A secret stops it/)).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Send" }).disabled).toBe(true);
  screen.getByRole("row", { name: /heron-77/ }).focus();
  await user.keyboard("m");
  expect(await screen.findByRole("dialog", { name: "Mask this value everywhere" })).toBeTruthy();
});

test("an answer that could not be sent stays, and is sent again as the same one", async () => {
  service({ [`POST ${PATH}/comment`]: problem(503, "no-database", "The database cannot be reached.", "Try again.") });
  const { user } = await open(lodged());
  await user.type(field(), "We wait.");
  await user.click(screen.getByRole("button", { name: "Preview" }));
  await user.click(await screen.findByRole("button", { name: "Send" }));
  expect((await screen.findAllByRole("alert")).at(-1)?.textContent).toContain("The database cannot be reached.");
  expect(field().value).toBe("We wait.");
  await user.click(screen.getByRole("button", { name: "Send" }));
  await waitFor(() => expect(callsTo(`POST ${PATH}/comment`)).toHaveLength(2));
  const keys = callsTo(`POST ${PATH}/comment`).map((call) => call.headers.get("Idempotency-Key"));
  expect(keys[0]).toBe(keys[1]);
});

test("nothing is sent while there is nothing, or while it is on its way", async () => {
  const sent = later(lodged());
  service({ [`POST ${PATH}/comment`]: sent.waiting });
  const { user } = await open(lodged());
  expect(screen.getByRole<HTMLButtonElement>("button", { name: "Preview" }).disabled).toBe(true);
  await user.type(field(), "We wait.");
  await user.keyboard("{Control>}{Enter}{/Control}");
  await screen.findByRole("button", { name: "Send" });
  await user.keyboard("{Control>}{Enter}{Enter}{Enter}{/Control}");
  expect(callsTo(`POST ${PATH}/comment`)).toHaveLength(1);
  sent.come();
  await waitFor(() => expect(field().value).toBe(""));
});

test("one answer goes to one case: a question of another case lets go of the first", async () => {
  const waiting = { desk_status: "waiting", turn: "ours" } as const;
  const cases = [caseShown("north", waiting), caseShown("south", waiting)];
  const messages = [
    message("m1", { case: "north", questions: [asked("q1", "Which rack?")] }),
    message("m2", { case: "south", questions: [asked("q2", "Which room?", { doubtful: true })] }),
  ];
  service({ [`POST ${PATH}/messages`]: lodged({ turn: "vendor" }) });
  const { user } = await open(lodged({ cases, messages }));
  const [north, south] = screen.getAllByRole<HTMLInputElement>("checkbox");
  expect([north?.checked, south?.checked]).toEqual([true, false]);
  expect(screen.getByText("perhaps a question")).toBeTruthy();
  await user.click(south as HTMLElement);
  expect([north?.checked, south?.checked]).toEqual([false, true]);
  await user.type(field(), "Room 4.");
  await user.keyboard("{Control>}{Enter}{/Control}");
  await screen.findByRole("button", { name: "Send" });
  await user.keyboard("{Control>}{Enter}{/Control}");
  await waitFor(() =>
    expect(callsTo(`POST ${PATH}/messages`)[0]?.body).toMatchObject({ case: "south", questions: ["q2"] }),
  );
});

test("without a question one writes to a case by its name", async () => {
  const cases = [caseShown("north"), caseShown("south")];
  service({ [`POST ${PATH}/comment`]: lodged({ cases }) });
  const { user } = await open(lodged({ turn: "vendor", cases }));
  await user.selectOptions(screen.getByRole("combobox", { name: "About" }), "south");
  await user.type(field(), "Any news?");
  await user.keyboard("{Control>}{Enter}{/Control}");
  await screen.findByRole("button", { name: "Send" });
  await user.keyboard("{Control>}{Enter}{/Control}");
  await waitFor(() => expect(callsTo(`POST ${PATH}/comment`)[0]?.body).toMatchObject({ case: "south" }));
});

test("what is no question is said to be none", async () => {
  const dismissed = `POST ${PATH}/questions/q1/dismiss`;
  service({
    [dismissed]: lodged({
      messages: [message("m1", { text: "Hm?", questions: [asked("q1", "Hm?", { open: false, by: "marit" })] })],
    }),
  });
  const { user } = await open(lodged({ messages: [message("m1", { text: "Hm?", questions: [asked("q1", "Hm?")] })] }));
  await user.click(screen.getByRole("button", { name: "No question" }));
  expect(await screen.findByText(/dealt with by marit/)).toBeTruthy();
  expect(callsTo(dismissed)).toHaveLength(1);
});

test("placeholders are read in clear for a reason, and hidden again", async () => {
  const words = "Is [secret:aaaaaaaaaa] still set?";
  service({ [`POST ${PATH}/legend`]: { messages: [{ id: "m1", text: "Is heron-77 still set?" }] } });
  const { user } = await open(lodged({ messages: [message("m1", { text: words })] }));
  await user.keyboard("o");
  await user.type(screen.getByLabelText("Reason, for the custody log"), "to answer the desk{Enter}");
  expect(await screen.findByText("Is heron-77 still set?")).toBeTruthy();
  expect(callsTo(`POST ${PATH}/legend`)[0]?.body).toEqual({ reason: "to answer the desk" });
  await user.click(screen.getByRole("button", { name: "As received" }));
  expect(screen.getByText(words)).toBeTruthy();
});

test("once the legend is destroyed nobody reads its placeholders", async () => {
  const messages = [message("m1", { text: "Is [secret:aaaaaaaaaa] still set?" })];
  const { user } = await open(lodged({ messages, legend_destroyed_at: "2026-11-22T09:00:00Z" }));
  await user.keyboard("o");
  expect(screen.getByText(/nobody can read the placeholders any more/)).toBeTruthy();
  expect(screen.queryByLabelText("Reason, for the custody log")).toBeNull();
});

test("what waits for a desk that is away is tried at once by T", async () => {
  const waiting = lodged({ next_try_at: "2026-11-20T10:00:00Z", waits_because: "The desk does not answer." });
  service({ [`POST ${PATH}/try-now`]: lodged() });
  const { user } = await open(waiting);
  expect(screen.getByText(/The desk does not answer\. Next try/)).toBeTruthy();
  await user.keyboard("y");
  await waitFor(() => expect(screen.queryByText(/Next try/)).toBeNull());
  expect(callsTo(`POST ${PATH}/try-now`)).toHaveLength(1);
});

test("a reader reads, and writes nothing", async () => {
  await open(
    lodged({ messages: [message("m1", { text: "Which firmware?", questions: [asked("q1", "Which firmware?")] })] }),
    ["reader"],
  );
  expect(screen.getByText("Which firmware?")).toBeTruthy();
  expect(screen.queryByRole("textbox")).toBeNull();
  expect(within(screen.getByRole("main")).queryAllByRole("checkbox")).toEqual([]);
});

test("an answer that is being written is there again after another page, and gone once it was sent", async () => {
  service({ [`POST ${PATH}/messages`]: lodged({ turn: "vendor" }) });
  const questions = [asked("q1", "Which firmware?")];
  const shown = lodged({ messages: [message("m1", { text: "A question.", questions })] });
  const first = await open(shown);
  await first.user.type(field(), "7.4.2 on both");
  first.unmount();
  const again = await open(shown);
  expect(field().value).toBe("7.4.2 on both");
  await again.user.click(field());
  await again.user.keyboard("{Control>}{Enter}{/Control}");
  await screen.findByText("Nothing in it is masked: it is sent unchanged.");
  await again.user.keyboard("{Control>}{Enter}{/Control}");
  await waitFor(() => expect(field().value).toBe(""));
  expect(document.activeElement).not.toBe(field());
  again.unmount();
  await open(shown);
  expect(field().value).toBe("");
});

test("the words of a hand-over stand above the messages", async () => {
  const handed = { by: "marit", to: "teo", at: "2026-11-20T09:00:00Z", note: "Ring them at nine." };
  await open(lodged({ owner: "teo", handed }));
  expect(screen.getByText(/Handed over to teo by marit/)).toBeTruthy();
  expect(screen.getByText("Ring them at nine.")).toBeTruthy();
});

test("a desk with two rules for escalating is told which one is meant", async () => {
  service({ [`POST ${PATH}/escalate`]: lodged() });
  const rule = (trigger: string) => ({
    trigger,
    action: "call",
    contact: "",
    after_hours: 0,
    allowed_at: "2026-11-20T07:40:00Z",
  });
  const severity = {
    ...{ set_by: "desk", level: "", label: "", raising: "", levels: [] },
    escalation: [rule("no answer"), rule("it gets worse")],
  };
  const acts = [{ act: "escalate", possible: true, because: "", own: false }] as never;
  const { user } = await open(lodged({ severity, acts }));
  await user.keyboard("m");
  await user.click(await screen.findByRole("menuitem", { name: "Escalate" }));
  const form = await screen.findByRole("dialog", { name: "Escalate" });
  await user.selectOptions(within(form).getByLabelText("By which rule"), "it gets worse");
  await user.type(within(form).getByLabelText("Why"), "It stands.");
  await user.click(within(form).getByRole("button", { name: "Escalate" }));
  await waitFor(() => expect(callsTo(`POST ${PATH}/escalate`)[0]?.body).toMatchObject({ step: 1, text: "It stands." }));
});

test("who looks after it, whom an act names, and what it came to stand on the page", async () => {
  const told = message("m1", { direction: "out", act: "contact", about: "Ines Harrowgate", by: "marit", text: "" });
  await open(
    lodged({ owner: "teo", life: "settled", messages: [told], cause: "A loose cable.", cure: "Fastened it." }),
  );
  expect(screen.getByText("looked after by teo")).toBeTruthy();
  expect(screen.getByText(/named another contact: Ines Harrowgate/)).toBeTruthy();
  expect(screen.getByText("A loose cable.")).toBeTruthy();
  expect(screen.getByText("Fastened it.")).toBeTruthy();
});
