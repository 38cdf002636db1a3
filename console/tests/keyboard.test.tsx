// @vitest-environment happy-dom
import { act } from "react";
import { createRoot } from "react-dom/client";
import { beforeEach, expect, test, vi } from "vitest";
import { useKeys } from "../src/keyboard/keys";
import { moveInRows } from "../src/keyboard/rows";

Object.assign(globalThis, { IS_REACT_ACT_ENVIRONMENT: true });

function draw(element: React.ReactNode) {
  document.body.innerHTML = "<div id='root'></div>";
  const root = createRoot(document.getElementById("root") as HTMLElement);
  act(() => root.render(element));
  return root;
}

const press = (key: string, on: EventTarget = document.body, more: KeyboardEventInit = {}) =>
  act(() => {
    on.dispatchEvent(new KeyboardEvent("keydown", { key, bubbles: true, cancelable: true, ...more }));
  });

const focused = () => document.activeElement?.textContent;

beforeEach(() => {
  document.body.innerHTML = "";
});

test("arrows move through rows and stop at both ends", () => {
  draw(
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
  const list = document.querySelector("ul") as HTMLElement;
  (list.querySelector("a") as HTMLElement).focus();
  press("ArrowDown", list);
  expect(focused()).toBe("second");
  press("ArrowDown", list);
  press("ArrowDown", list);
  expect(focused()).toBe("third");
  press("ArrowUp", list);
  press("ArrowUp", list);
  press("ArrowUp", list);
  expect(focused()).toBe("first");
});

function Keys({ acts }: { acts: Parameters<typeof useKeys>[0] }) {
  useKeys(acts);
  return (
    <>
      <input aria-label="Words" />
      <input type="checkbox" aria-label="Tick" />
    </>
  );
}

test("a key acts, but not while somebody types or holds Ctrl", () => {
  const note = vi.fn();
  draw(<Keys acts={{ n: note }} />);
  press("n");
  expect(note).toHaveBeenCalledTimes(1);
  press("n", document.querySelector("input:not([type])") as HTMLElement);
  press("n", document.body, { ctrlKey: true });
  press("m");
  expect(note).toHaveBeenCalledTimes(1);
  press("n", document.querySelector("[type=checkbox]") as HTMLElement);
  expect(note).toHaveBeenCalledTimes(2);
});

test("the newest acts count, and none after the page has gone", () => {
  const before = vi.fn();
  const after = vi.fn();
  const root = draw(<Keys acts={{ n: before }} />);
  act(() => root.render(<Keys acts={{ n: after }} />));
  press("n");
  expect([before.mock.calls.length, after.mock.calls.length]).toEqual([0, 1]);
  act(() => root.unmount());
  press("n");
  expect(after).toHaveBeenCalledTimes(1);
});
