// @vitest-environment happy-dom
import { fireEvent, screen, waitFor, within } from "@testing-library/react";
import { useState } from "react";
import { beforeEach, expect, test } from "vitest";
import type { Exhibit } from "../src/api/exhibits";
import { FIRST } from "../src/pages/packets/look";
import { PagesReview } from "../src/pages/packets/pages";
import { draw } from "./drawing";
import { packet } from "./samples";
import { callsTo, problem, service } from "./service";

const BOXES = "POST /api/v1/packets/P-0042/exhibits/screen.png/boxes";

const exhibit = { id: "e1", name: "screen.png", state: "ready", shows: "pages", outgoing_sha256: "ab", counts: {} };

const mark = (value: string, kind: string, left: number) => ({
  ...{ value, kind, placeholder: `[${kind}:aaaaaaaaaa]`, left, top: 0.1, right: left + 0.1, bottom: 0.2 },
});

const PAGES = {
  pages: [
    { width: 400, height: 300, covered: [mark("10.40.7.22", "ip", 0.1), mark("heron-77", "secret", 0.5)] },
    { width: 400, height: 300, covered: [mark("Ines Harrowgate", "person", 0.2)] },
  ],
  drawn: [],
};

beforeEach(() => {
  service({
    "GET /api/v1/packets/P-0042/exhibits/screen.png/pages": PAGES,
    "GET /api/v1/redaction-plan": { floor: ["secret"] },
    [BOXES]: { boxes: [] },
  });
});

function Bench({ mayDecide }: { mayDecide: boolean }) {
  const [place, setPlace] = useState(FIRST);
  return <PagesReview {...{ packet: packet(), exhibit: exhibit as unknown as Exhibit, place, setPlace, mayDecide }} />;
}

async function open(mayDecide = true) {
  const drawn = draw(<Bench mayDecide={mayDecide} />);
  await screen.findByAltText("The original page");
  return drawn;
}

const boxes = () => screen.queryAllByRole("button", { name: /^Box \d+: arrows move it/ });

/** Each box stands on the original and on the copy; the first of each name is the one on the original. */
const held = (number: number) => screen.getAllByRole("button", { name: new RegExp(`^Box ${number}:`) })[0];

test("B puts a box in the middle, which has the focus; arrows move it, with Shift they size it", async () => {
  const { user } = await open();
  await user.keyboard("b");
  expect(document.activeElement).toBe(held(1));
  const before = held(1)?.style.left;
  await user.keyboard("{ArrowRight}{ArrowRight}");
  expect(Number.parseFloat(held(1)?.style.left ?? "")).toBeCloseTo(Number.parseFloat(before ?? "") + 1);
  const high = Number.parseFloat(held(1)?.style.height ?? "");
  await user.keyboard("{Shift>}{ArrowDown}{/Shift}");
  expect(Number.parseFloat(held(1)?.style.height ?? "")).toBeCloseTo(high + 0.5);
  await user.keyboard("{Delete}");
  expect(boxes()).toEqual([]);
});

test("boxes wait on their pages until they are covered for a reason", async () => {
  const { user } = await open();
  await user.keyboard("b");
  await user.keyboard("{PageDown}");
  await user.keyboard("b");
  expect(screen.getByText(/2 boxes drawn, not covered yet, 1 on other pages/)).toBeTruthy();
  await user.keyboard("m");
  const form = await screen.findByRole("dialog", { name: "Cover what is drawn" });
  expect(within(form).getByText(/The 2 boxes are/)).toBeTruthy();
  await user.type(within(form).getByLabelText("Reason, for the custody log"), "a reader's face{Enter}");
  await waitFor(() => expect(screen.queryByRole("dialog")).toBeNull());
  const [call] = callsTo(BOXES);
  expect(call?.body).toEqual({
    reason: "a reader's face",
    boxes: [1, 2].map((page) => ({ page, left: 0.4, top: 0.46, right: 0.6, bottom: 0.54 })),
  });
  expect(boxes()).toEqual([]);
});

test("boxes that could not be covered are still there", async () => {
  service({ [BOXES]: problem(409, "sealed", "P-0042 is sealed.", "Open it again.") });
  const { user } = await open();
  await user.keyboard("bm");
  const form = await screen.findByRole("dialog");
  await user.type(within(form).getByLabelText("Reason, for the custody log"), "a face{Enter}");
  expect((await within(form).findByRole("alert")).textContent).toBe("P-0042 is sealed.Open it again.");
  await user.click(within(form).getByRole("button", { name: "Cancel" }));
  expect(boxes()).toHaveLength(2);
});

test("J and K go through the findings, over pages, and stop at both ends", async () => {
  const { user } = await open();
  const chosen = () => document.querySelector("[data-chosen]")?.getAttribute("aria-label");
  expect(chosen()).toBe("ip 10.40.7.22");
  await user.keyboard("jj");
  expect(chosen()).toBe("person Ines Harrowgate");
  await user.keyboard("j");
  expect(chosen()).toBe("person Ines Harrowgate");
  await user.keyboard("kkkk");
  expect(chosen()).toBe("ip 10.40.7.22");
});

test("U lets a value go for a reason, but none of a kind that never goes out", async () => {
  const { user } = await open();
  await waitFor(() => expect(callsTo("GET /api/v1/redaction-plan")).toHaveLength(1));
  await user.keyboard("ju");
  expect(screen.queryByRole("dialog")).toBeNull();
  await user.keyboard("ku");
  expect(await screen.findByRole("dialog", { name: "Let this value go out" })).toBeTruthy();
});

test("a page is made larger and smaller within bounds", async () => {
  const { user } = await open();
  const smaller = screen.getByRole<HTMLButtonElement>("button", { name: /Smaller/ });
  expect(smaller.disabled).toBe(true);
  await user.keyboard("++++++");
  expect(screen.getByText("400 %")).toBeTruthy();
  expect(screen.getByRole<HTMLButtonElement>("button", { name: /Larger/ }).disabled).toBe(true);
  await user.keyboard("-");
  expect(screen.getByText("300 %")).toBeTruthy();
});

test("who may not decide draws nothing", async () => {
  const { user } = await open(false);
  await user.keyboard("bmu");
  expect(boxes()).toEqual([]);
  expect(screen.queryByRole("dialog")).toBeNull();
});

test("a box is drawn with the mouse; a click draws none", async () => {
  await open();
  const ground = screen.getByAltText("The original page").parentElement as HTMLElement;
  ground.setPointerCapture = () => {};
  ground.getBoundingClientRect = () => ({ left: 0, top: 0, width: 400, height: 300 }) as DOMRect;
  const at = (x: number, y: number) => ({ clientX: x, clientY: y, button: 0, pointerType: "mouse", pointerId: 1 });
  fireEvent.pointerDown(ground, at(100, 150));
  fireEvent.pointerUp(ground, at(100, 150));
  expect(boxes()).toEqual([]);
  fireEvent.pointerDown(ground, at(200, 150));
  fireEvent.pointerMove(ground, at(100, 75));
  fireEvent.pointerUp(ground, at(100, 75));
  expect(held(1)?.style.left).toBe("25%");
  expect(held(1)?.style.width).toBe("25%");
});
