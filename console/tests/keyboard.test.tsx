// @vitest-environment happy-dom
import { screen } from "@testing-library/react";
import { expect, test, vi } from "vitest";
import { useKeys } from "../src/keyboard/keys";
import { moveInRows } from "../src/keyboard/rows";
import { draw } from "./drawing";

type Acts = { note?: (() => void) | false; today?: (() => void) | false };

const focused = () => document.activeElement?.textContent;

test("arrows move through rows and stop at both ends", async () => {
  const { user } = draw(
    <ul onKeyDown={moveInRows}>
      {["first", "second", "third"].map((name) => (
        <li key={name}>
          <a href={`#${name}`} data-row>
            {name}
          </a>
        </li>
      ))}
    </ul>,
  );
  screen.getByRole("link", { name: "first" }).focus();
  await user.keyboard("{ArrowDown}");
  expect(focused()).toBe("second");
  await user.keyboard("{ArrowDown}{ArrowDown}");
  expect(focused()).toBe("third");
  await user.keyboard("{ArrowUp}{ArrowUp}{ArrowUp}");
  expect(focused()).toBe("first");
});

function Keys({ acts }: { acts: Acts }) {
  useKeys("frame", acts);
  return (
    <>
      <input aria-label="Words" />
      <input type="checkbox" aria-label="Tick" />
    </>
  );
}

test("a key acts, but not while somebody types or holds Ctrl", async () => {
  const note = vi.fn();
  const { user } = draw(<Keys acts={{ note }} />);
  await user.keyboard("n");
  expect(note).toHaveBeenCalledTimes(1);
  screen.getByLabelText("Words").focus();
  await user.keyboard("n");
  screen.getByLabelText("Words").blur();
  await user.keyboard("{Control>}n{/Control}m");
  expect(note).toHaveBeenCalledTimes(1);
  screen.getByLabelText("Tick").focus();
  await user.keyboard("n");
  expect(note).toHaveBeenCalledTimes(2);
});

test("an act that is not possible leaves its key alone", async () => {
  const note = vi.fn();
  const { user, redraw } = draw(<Keys acts={{ note, today: false }} />);
  await user.keyboard("tn");
  expect(note).toHaveBeenCalledTimes(1);
  redraw(<Keys acts={{ note: false }} />);
  await user.keyboard("n");
  expect(note).toHaveBeenCalledTimes(1);
});

test("the newest acts count, and none after the page has gone", async () => {
  const before = vi.fn();
  const after = vi.fn();
  const { user, redraw, unmount } = draw(<Keys acts={{ note: before }} />);
  redraw(<Keys acts={{ note: after }} />);
  await user.keyboard("n");
  expect([before.mock.calls.length, after.mock.calls.length]).toEqual([0, 1]);
  unmount();
  await user.keyboard("n");
  expect(after).toHaveBeenCalledTimes(1);
});
