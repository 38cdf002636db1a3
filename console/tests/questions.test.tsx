// @vitest-environment happy-dom

import { useQuery } from "@tanstack/react-query";
import { screen, waitFor, within } from "@testing-library/react";
import { expect, test } from "vitest";
import type { Packet, Question } from "../src/api/packets";
import { QuestionsPart } from "../src/pages/packets/questions";
import { draw } from "./drawing";
import { choice, packet, question } from "./samples";
import { callsTo, problem, service } from "./service";

const ANSWERS = "PUT /api/v1/packets/P-0042/answers";

/** The questions of a packet, which is drawn anew with what each answer brings. */
function Bench({ first, focus }: { first: Packet; focus: string | undefined }) {
  const seen = useQuery({ queryKey: ["packet", "P-0042"], queryFn: () => first, initialData: first, staleTime: 1e9 });
  return <QuestionsPart packet={seen.data} focus={focus} />;
}

function ask(questions: Question[], more: Partial<Packet> = {}, focus?: string) {
  const first = packet({ questions, ...more });
  service({
    [ANSWERS]: ({ body }: { body: { answers: Record<string, string | null> } }) => ({
      ...first,
      questions: questions.map((one) =>
        one.id in body.answers
          ? { ...one, answer: { ...one.answer, value: body.answers[one.id], typed: body.answers[one.id] !== null } }
          : one,
      ),
    }),
  });
  return draw(<Bench first={first} focus={focus} />);
}

const sent = () => callsTo(ANSWERS).map((call) => (call.body as { answers: Record<string, string | null> }).answers);

const answer = (id: string, value: string | null, more: Partial<Question["answer"]> = {}) => ({
  ...{ question: id, shown: true, required: true, value, typed: false, source: null, fact: "" },
  ...{ fixed: false, because: "" },
  ...more,
});

const column = (id: string, ask: string, more: Partial<Question["columns"][number]> = {}) => ({
  ...{ id, ask, number: false, minimum: 0, maximum: null, maximum_by: null, more_than: "", one_of: [] },
  ...more,
});

test("a text is kept when it is left, or by Enter, and only if it is another one", async () => {
  const { user } = ask([question("impact")]);
  const field = screen.getByLabelText("What is impact?");
  await user.type(field, "  Searches are slow. ");
  expect(sent()).toEqual([]);
  await user.tab();
  await waitFor(() => expect(sent()).toEqual([{ impact: "Searches are slow." }]));
  await screen.findByText("answered by you");
  await user.click(field);
  await user.tab();
  await user.type(field, " Very.{Enter}");
  await waitFor(() => expect(sent().at(-1)).toEqual({ impact: "Searches are slow. Very." }));
  expect(sent()).toHaveLength(2);
});

test("an emptied answer is no answer", async () => {
  const { user } = ask([question("impact", { answer: answer("impact", "Slow.", { typed: true }) })]);
  await user.clear(screen.getByLabelText("What is impact?"));
  await user.tab();
  await waitFor(() => expect(sent()).toEqual([{ impact: null }]));
});

test("a choice stands at once, before the service has answered", async () => {
  const { user } = ask([question("severity", { form: "choice", choices: [choice("1"), choice("2")] })]);
  await user.click(screen.getByRole("radio", { name: "2" }));
  expect(screen.getByRole<HTMLInputElement>("radio", { name: "2" }).checked).toBe(true);
  await waitFor(() => expect(sent()).toEqual([{ severity: "2" }]));
});

test("a choice that is refused goes back, and the reason is said", async () => {
  const { user } = ask([question("severity", { form: "choice", choices: [choice("1"), choice("2")] })]);
  service({ [ANSWERS]: problem(409, "sealed", "P-0042 is sealed.", "Open it again.") });
  await user.click(screen.getByRole("radio", { name: "2" }));
  expect((await screen.findByRole("alert")).textContent).toBe("P-0042 is sealed.Open it again.");
  expect(screen.getByRole<HTMLInputElement>("radio", { name: "2" }).checked).toBe(false);
});

test("many choices are narrowed by what stands above them and what they mean", async () => {
  const words = ["latency", "capacity", "mirror", "battery", "fan", "power", "port", "disk", "licence"];
  const choices = words.map((word) => choice(word, { above: ["Volume"], meaning: word === "fan" ? "It howls." : "" }));
  const { user } = ask([question("category", { form: "tree", choices })]);
  const narrow = screen.getByPlaceholderText("Narrow the 9 choices");
  await user.type(narrow, "howl");
  expect(screen.getAllByRole("radio")).toHaveLength(1);
  await user.clear(narrow);
  await user.type(narrow, "volume");
  expect(screen.getAllByRole("radio")).toHaveLength(9);
  await user.clear(narrow);
  await user.type(narrow, "teapot");
  expect(screen.getByText("No choice is called that.")).toBeTruthy();
});

test("no more is ticked than the desk takes, and ticks keep the order of the choices", async () => {
  const choices = ["north", "east", "south"].map((path) => choice(path));
  const { user } = ask([question("sites", { form: "several", choices, max_items: 2 })]);
  await user.click(screen.getByRole("checkbox", { name: "south" }));
  await user.click(screen.getByRole("checkbox", { name: /north$/ }));
  await waitFor(() => expect(sent()).toEqual([{ sites: "south" }, { sites: "north, south" }]));
  expect(screen.getByRole<HTMLInputElement>("checkbox", { name: "east" }).disabled).toBe(true);
  expect(screen.getByText("2 at most")).toBeTruthy();
});

test("a number is kept with its unit, whichever of the two was changed", async () => {
  const { user } = ask([question("size", { form: "number", units: ["GB", "TB"], example: "12 TB" })]);
  const field = screen.getByLabelText("What is size?");
  await user.type(field, "30{Enter}");
  await waitFor(() => expect(sent()).toEqual([{ size: "30 GB" }]));
  await user.selectOptions(screen.getByLabelText("Unit of: What is size?"), "TB");
  await waitFor(() => expect(sent().at(-1)).toEqual({ size: "30 TB" }));
});

test("a small table is kept as lines with bars; empty rows are none", async () => {
  const columns = [
    column("host", "Host"),
    column("cores", "Cores", { number: true }),
    column("kind", "Kind", { one_of: ["new", "more"] }),
  ];
  const { user } = ask([question("machines", { form: "rows", columns, max_items: 2 })]);
  await user.type(screen.getByLabelText("Host, row 1"), "north-1");
  await user.type(screen.getByLabelText("Cores, row 1"), "160");
  await user.selectOptions(screen.getByLabelText("Kind, row 1"), "more");
  await waitFor(() => expect(sent().at(-1)).toEqual({ machines: "north-1 | 160 | more" }));
  await user.click(screen.getByRole("button", { name: "Another row" }));
  expect(screen.queryByRole("button", { name: "Another row" })).toBeNull();
  await user.click(screen.getByLabelText("Cores, row 2"));
  await user.tab();
  await waitFor(() => expect(sent().at(-1)).toEqual({ machines: "north-1 | 160 | more" }));
});

test("consent is given or refused to the whole wording", async () => {
  const { user } = ask([question("terms", { form: "consent", wording: "Parts are lent for 30 days." })]);
  expect(screen.getByText("Parts are lent for 30 days.")).toBeTruthy();
  await user.click(screen.getByRole("radio", { name: "No" }));
  await waitFor(() => expect(sent()).toEqual([{ terms: "no" }]));
});

test("a moment is kept with its offset, and Now is one press", async () => {
  const { user } = ask([question("began_at", { form: "moment" })]);
  await user.click(screen.getByRole("button", { name: "Now" }));
  await waitFor(() => expect(sent()).toHaveLength(1));
  const kept = sent()[0]?.began_at ?? "";
  expect(kept).toMatch(/^\d{4}-\d{2}-\d{2}T\d{2}:\d{2}[+-]\d{2}:\d{2}$/);
  expect(Math.abs(Date.parse(kept) - Date.now())).toBeLessThan(120_000);
});

test("people say whether they are reachable, and one who is asked for is chosen by key", async () => {
  const people = [
    { key: "marit", name: "Marit Oswin", on_call: true, away: "" },
    { key: "teo", name: "Teo Valcourt", on_call: false, away: "2026-12-04" },
  ];
  const { user } = ask([question("contact", { form: "person" })], { people });
  const select = screen.getByLabelText("What is contact?");
  expect(
    within(select)
      .getAllByRole("option")
      .map((one) => one.textContent),
  ).toEqual(["nobody yet", "Marit Oswin · reachable day and night", "Teo Valcourt · away until 2026-12-04"]);
  await user.selectOptions(select, "teo");
  await waitFor(() => expect(sent()).toEqual([{ contact: "teo" }]));
});

test("each answer says where it comes from, and what was typed can be forgotten", async () => {
  const { user } = ask([
    question("serial", { answer: answer("serial", "TN9-1", { source: "asset TN9-1", fixed: true }) }),
    question("impact", { answer: answer("impact", "Slow.", { typed: true, because: "severity is 2" }) }),
    question("extra", { answer: answer("extra", null, { required: false }) }),
  ]);
  expect(screen.getByText("from asset TN9-1; changed there")).toBeTruthy();
  expect(screen.getByLabelText<HTMLInputElement>("What is serial?").disabled).toBe(true);
  expect(screen.getByText("asked because severity is 2")).toBeTruthy();
  expect(screen.getByText("if you know it")).toBeTruthy();
  await user.click(screen.getByRole("button", { name: "Forget" }));
  await waitFor(() => expect(sent()).toEqual([{ impact: null }]));
});

test("what others answered before is taken by one press", async () => {
  const suggested = [{ value: "Moved the volume.", label: "Moved the volume.", why: "P-0007" }];
  const { user } = ask([question("tried", { suggested })]);
  await user.click(within(screen.getByRole("list", { name: "Suggested" })).getByRole("button"));
  await waitFor(() => expect(sent()).toEqual([{ tried: "Moved the volume." }]));
});

test("a question that a stop leads to has the focus", () => {
  ask([question("impact"), question("tried")], {}, "tried");
  expect(document.activeElement).toBe(screen.getByLabelText("What is tried?"));
});

test("a fault of an answer stands below it", () => {
  ask([question("version", { fault: "7.4 is no version: say it as 7.4.2." })]);
  expect(screen.getByRole("alert").textContent).toBe("7.4 is no version: say it as 7.4.2.");
});

test("a sealed packet shows its answers and takes none", () => {
  ask([question("impact", { answer: answer("impact", "Slow.", { typed: true }) })], { life: "sealed" });
  expect(screen.getByLabelText<HTMLInputElement>("What is impact?").disabled).toBe(true);
  expect(screen.queryByRole("button", { name: "Forget" })).toBeNull();
});

test("without a thing there are no questions yet", () => {
  ask([]);
  expect(screen.getByText("Name the asset first; its desk has the questions.")).toBeTruthy();
});
