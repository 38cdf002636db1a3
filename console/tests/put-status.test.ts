import { expect, test } from "vitest";
import { listsStatus, putStatus } from "../src/pages/desks/put-status";

test("a status word is put where the others are, as they are written", () => {
  expect(putStatus("replies:\n  statuses: {open: lodged}\n", "HELD")).toBe(
    "replies:\n  statuses: {HELD: asked, open: lodged}\n",
  );
  expect(putStatus("replies:\n  statuses: {}\n", "HELD")).toBe("replies:\n  statuses: {HELD: asked}\n");
  expect(putStatus("replies:\n  statuses:\n    open: lodged\n", "HELD")).toBe(
    "replies:\n  statuses:\n    HELD: asked\n    open: lodged\n",
  );
});

test("a word that YAML would read as something else is quoted", () => {
  expect(putStatus("statuses: {}\n", "No")).toBe('statuses: {"No": asked}\n');
  expect(putStatus("statuses: {}\n", "On hold: parts")).toBe('statuses: {"On hold: parts": asked}\n');
});

test("a sheet without statuses gets its first, one without replies stays as it is", () => {
  expect(putStatus("replies:\n  read: json\n", "HELD")).toBe("replies:\n  statuses: {HELD: asked}\n  read: json\n");
  expect(putStatus("name: A desk\n", "HELD")).toBeUndefined();
});

test("a word is listed where it is a key among the statuses", () => {
  expect(listsStatus("statuses: {open: lodged, HELD: asked}", "HELD")).toBe(true);
  expect(listsStatus('statuses:\n  "On hold: parts": asked\n', "On hold: parts")).toBe(true);
  expect(listsStatus("name: HELD: yes\nstatuses: {open: lodged} # HELD: later\n", "HELD")).toBe(false);
  expect(listsStatus("statuses: {open: lodged, UPHELD: asked}", "HELD")).toBe(false);
});
