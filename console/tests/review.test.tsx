// @vitest-environment happy-dom
import { act, fireEvent, screen, waitFor, within } from "@testing-library/react";
import { useState } from "react";
import { beforeEach, expect, test } from "vitest";
import type { Exhibit } from "../src/api/exhibits";
import { FIRST } from "../src/pages/packets/look";
import { Review } from "../src/pages/packets/review";
import { draw } from "./drawing";
import { PATH, packet } from "./samples";
import { type Call, callsTo, problem, service } from "./service";

const exhibit = {
  ...{
    id: "e1",
    name: "a.log",
    state: "ready",
    shows: "lines",
    outgoing_sha256: "ab",
    counts: { ip: 2, host: 1, secret: 1 },
  },
};

const FINDINGS = [
  { kind: "ip", value: "10.40.7.22", sure: true },
  { kind: "host", value: "br02-kiosk1", sure: false },
  { kind: "secret", value: "heron-77", sure: true },
  { kind: "ip", value: "10.40.7.23", sure: true },
];

/** What the service shows of a log of 400 lines, with a finding on every tenth. */
function shown({ query }: Call) {
  const at = Number(query.at);
  const line = Number(query.line) || at * 10 + 1;
  const lines = Array.from({ length: 15 }, (_, place) => ({
    number: line + place,
    spans: [{ text: `line ${line + place} of the log` }],
  }));
  return { findings: FINDINGS.length, doubtful: 1, all_lines: 400, line, focus: FINDINGS[at], lines };
}

beforeEach(() => {
  service({
    [`GET ${PATH}/exhibits/a.log/review`]: shown,
    [`GET ${PATH}/exhibits/a.log/values`]: {
      ...{ total: 2 },
      values: [
        { value: "10.40.7.22", kind: "ip", times: 1_200, placeholder: "[ip:aaaaaaaaaa]" },
        { value: "heron-77", kind: "secret", times: 2, placeholder: "[secret:bbbbbbbbbb]" },
      ],
    },
    [`POST ${PATH}/decisions`]: { decisions: [] },
    "GET /api/v1/redaction-plan": { floor: ["secret"] },
  });
});

function Bench({ mayDecide, more }: { mayDecide: boolean; more: object }) {
  const [place, setPlace] = useState(FIRST);
  const given = { ...exhibit, ...more } as unknown as Exhibit;
  return <Review {...{ packet: packet(), exhibit: given, place, setPlace, mayDecide }} />;
}

async function open(mayDecide = true, more: object = {}) {
  const drawn = draw(<Bench mayDecide={mayDecide} more={more} />);
  if (!("shows" in more)) await screen.findByText("finding 1 of 4");
  if (mayDecide) await waitFor(() => expect(callsTo("GET /api/v1/redaction-plan")).toHaveLength(1));
  return drawn;
}

const asked = () => callsTo(`GET ${PATH}/exhibits/a.log/review`).at(-1)?.query;

/** Select a part of what stands in a cell, as with the mouse. */
function select(text: string, part: string) {
  const cell = screen.getAllByRole("cell", { name: text })[0]?.firstChild as Text;
  const range = document.createRange();
  range.setStart(cell, cell.data.indexOf(part));
  range.setEnd(cell, cell.data.indexOf(part) + part.length);
  act(() => {
    document.getSelection()?.removeAllRanges();
    document.getSelection()?.addRange(range);
    document.dispatchEvent(new Event("selectionchange"));
  });
}

test("J and K go from finding to finding and stop at both ends", async () => {
  const { user } = await open();
  expect(screen.getByText("10.40.7.22")).toBeTruthy();
  await user.keyboard("j");
  expect(await screen.findByText("finding 2 of 4")).toBeTruthy();
  expect(await screen.findByText("not certain")).toBeTruthy();
  await user.keyboard("jjjj");
  expect(await screen.findByText("finding 4 of 4")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Next finding/ }).disabled).toBe(true);
  await user.keyboard("kkkkkk");
  expect(await screen.findByText("finding 1 of 4")).toBeTruthy();
});

test("any line is shown by the slider or the wheel, and findings begin where they were", async () => {
  const { user } = await open();
  const slider = screen.getByRole("slider", { name: "Place in the file" });
  expect(slider.getAttribute("max")).toBe("386");
  fireEvent.change(slider, { target: { value: "386" } });
  expect((await screen.findAllByText("line 400 of the log")).length).toBeGreaterThan(0);
  const turn = (by: number) => new WheelEvent("wheel", { deltaY: by, cancelable: true, bubbles: true });
  fireEvent(screen.getByRole("table"), turn(-30));
  await waitFor(() => expect(asked()?.line).toBe("383"));
  const further = turn(300);
  fireEvent(screen.getByRole("table"), further);
  await waitFor(() => expect(asked()?.line).toBe("386"));
  expect(further.defaultPrevented).toBe(true);
  const nowhere = turn(300);
  fireEvent(screen.getByRole("table"), nowhere);
  expect(nowhere.defaultPrevented).toBe(false); // there is nothing left: the page may move
  await user.keyboard("j");
  await waitFor(() => expect(asked()).toMatchObject({ at: "1", line: "0" }));
});

test("findings of one kind are chosen, those that are not certain first", async () => {
  const { user } = await open();
  const kinds = screen.getAllByRole("radio").map((one) => one.parentElement?.textContent?.trim());
  expect(kinds).toEqual(["all kinds", "doubtful 1", "ip 2", "host 1", "secret 1"]);
  await user.click(screen.getByRole("radio", { name: /doubtful/ }));
  await waitFor(() => expect(asked()).toMatchObject({ kind: "doubtful", at: "0" }));
});

test("M masks what is selected, as a kind and for a reason, in this packet or in all", async () => {
  const { user } = await open();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Mask what is selected/ }).disabled).toBe(true);
  select("line 3 of the log", "3 of the log");
  await user.keyboard("m");
  const form = await screen.findByRole("dialog", { name: "Mask this value everywhere" });
  expect(within(form).getByText("3 of the log")).toBeTruthy();
  await user.selectOptions(within(form).getByRole("combobox"), "person");
  await user.click(within(form).getByRole("checkbox", { name: "Mask it in every packet from now on" }));
  await user.click(within(form).getByRole("button", { name: "Mask it" }));
  expect(callsTo(`POST ${PATH}/decisions`)).toEqual([]); // a reason is wanted first
  await user.type(within(form).getByLabelText("Reason, for the custody log"), "nobody outside knows");
  await user.click(within(form).getByRole("button", { name: "Mask it" }));
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  expect(callsTo(`POST ${PATH}/decisions`)[0]?.body).toEqual({
    ...{ action: "mask", kind: "person", value: "3 of the log", reason: "nobody outside knows", as_term: true },
  });
});

test("a decision that is refused stays as it was written", async () => {
  service({ [`POST ${PATH}/decisions`]: problem(409, "never", "Secrets never go out.", "Leave it masked.") });
  const { user } = await open();
  await user.keyboard("u");
  const form = await screen.findByRole("dialog", { name: "Let this value go out" });
  await user.type(within(form).getByLabelText("Reason, for the custody log"), "the desk asks{Enter}");
  expect((await within(form).findByRole("alert")).textContent).toBe("Secrets never go out.Leave it masked.");
  expect(within(form).getByLabelText<HTMLInputElement>("Reason, for the custody log").value).toBe("the desk asks");
  await user.keyboard("{Escape}");
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
});

test("what never goes out says so, and U does nothing to it", async () => {
  const { user } = await open();
  await user.keyboard("jj");
  const button = await screen.findByRole<HTMLButtonElement>("button", { name: /Never goes out/ });
  expect(button.disabled).toBe(true);
  await user.keyboard("u");
  expect(screen.queryByRole("dialog")).toBeNull();
});

test("V shows the values, each with what can be done, and back to where one stands", async () => {
  const { user } = await open();
  await user.keyboard("v");
  const rows = await screen.findAllByRole("row");
  expect(rows.map((one) => one.textContent)).toEqual([
    "ValueKindTimesGoes out asActs",
    "10.40.7.22ip1,200[ip:aaaaaaaaaa]ShowLet it go out",
    "heron-77secret2[secret:bbbbbbbbbb]Shownever goes out",
  ]);
  await user.click(screen.getAllByRole("button", { name: "Show" })[0] as HTMLElement);
  await waitFor(() => expect(asked()).toMatchObject({ placeholder: "[ip:aaaaaaaaaa]", kind: "ip" }));
  await user.click(await screen.findByRole("button", { name: "All findings again" }));
  await waitFor(() => expect(asked()).toMatchObject({ placeholder: "", kind: "" }));
});

test("a value is searched for by a part of it", async () => {
  const { user } = await open();
  await user.keyboard("v");
  service({ [`GET ${PATH}/exhibits/a.log/values`]: { total: 0, values: [] } });
  await user.type(await screen.findByLabelText("Part of a value"), "quokka");
  expect(await screen.findByText("No masked value has “quokka” in it.")).toBeTruthy();
  expect(callsTo(`GET ${PATH}/exhibits/a.log/values`).at(-1)?.query.q).toBe("quokka");
});

test("of a kind all lines or files are left out, but what never goes out is not let go", async () => {
  const { user } = await open();
  await user.click(screen.getByRole("radio", { name: /secret 1/ }));
  await user.keyboard("v");
  expect(await screen.findByRole("button", { name: "leave out its lines" })).toBeTruthy();
  expect(screen.queryByRole("button", { name: "let it go out" })).toBeNull();
  await user.click(screen.getByRole("button", { name: "leave out its files" }));
  const form = await screen.findByRole("dialog", { name: "Leave out each file with a secret" });
  await user.type(within(form).getByLabelText("Reason, for the custody log"), "too much in it{Enter}");
  await waitFor(() =>
    expect(callsTo(`POST ${PATH}/decisions`)[0]?.body).toMatchObject({
      action: "drop-file",
      kind: "secret",
      value: "",
    }),
  );
});

test("what has no lines is shown by its values", async () => {
  await open(true, { shows: "values" });
  expect(await screen.findByText("heron-77")).toBeTruthy();
  expect(screen.queryByRole("button", { name: "Show" })).toBeNull();
  expect(callsTo(`GET ${PATH}/exhibits/a.log/review`)).toEqual([]);
});

test("who may not decide looks only", async () => {
  const { user } = await open(false);
  select("line 3 of the log", "log");
  await user.keyboard("mu");
  expect(screen.queryByRole("dialog")).toBeNull();
  expect(screen.queryByRole("button", { name: /Let it go out/ })).toBeNull();
});
