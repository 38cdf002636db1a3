import { describe, expect, it } from "vitest";
import { between, momentAt, moved, placeOf } from "../src/pages/packets/brush";

describe("a window on a timeline", () => {
  it("goes from one place to another, whichever was first", () => {
    expect(between(0.8, 0.2)).toEqual({ from: 0.2, to: 0.8 });
    expect(between(-1, 3)).toEqual({ from: 0, to: 1 });
  });

  it("is moved by arrow keys, and stays within the log", () => {
    const window = { from: 0.25, to: 0.5 };
    expect(moved(window, "ArrowRight", false, false, 0.25)).toEqual({ from: 0.5, to: 0.75 });
    expect(moved({ from: 0.75, to: 1 }, "ArrowRight", false, false, 0.5)).toEqual({ from: 0.75, to: 1 });
    expect(moved(window, "ArrowLeft", false, false, 0.5)).toEqual({ from: 0, to: 0.25 });
    expect(moved(window, "a", false, false, 0.25)).toBeUndefined();
  });

  it("is made longer or shorter with Shift and Alt, but never empty", () => {
    const window = { from: 0.25, to: 0.5 };
    expect(moved(window, "ArrowRight", true, false, 0.25)).toEqual({ from: 0.25, to: 0.75 });
    expect(moved(window, "ArrowLeft", true, false, 0.25)).toEqual({ from: 0.25, to: 0.5 });
    expect(moved(window, "ArrowLeft", false, true, 0.25)).toEqual({ from: 0, to: 0.5 });
    expect(moved(window, "ArrowRight", false, true, 0.25)).toEqual({ from: 0.25, to: 0.5 });
  });

  it("knows moments by their places and places by their moments", () => {
    const [first, last] = ["2026-11-23T08:00:00Z", "2026-11-23T10:00:00Z"];
    expect(momentAt(first, last, 0.5)).toBe("2026-11-23T09:00:00.000Z");
    expect(placeOf(first, last, "2026-11-23T08:30:00Z")).toBe(0.25);
  });
});
