import { expect, test } from "vitest";
import { between, shifted, sized } from "../src/pages/packets/edges";
import { parse } from "../src/pages/packets/inputs/rows";

test("rows of an answer are lines with bars, filled to all columns", () => {
  expect(parse("north-1 | cores | 160\n\nnorth-2 | cores", 3)).toEqual([
    ["north-1", "cores", "160"],
    ["north-2", "cores", ""],
  ]);
  expect(parse("", 2)).toEqual([["", ""]]);
});

const box = { id: 1, page: 1, left: 0.4, top: 0.4, right: 0.6, bottom: 0.5 };
const again = (times: number, act: (now: typeof box) => typeof box | null) => {
  let now = box;
  for (let time = 0; time < times; time++) now = act(now) ?? now;
  return now;
};

test("a box drawn upwards has its edges the right way round", () => {
  expect(between([0.6, 0.5], [0.4, 0.4])).toEqual({ left: 0.4, top: 0.4, right: 0.6, bottom: 0.5 });
});

test("a box that is moved keeps its size and stays on the page", () => {
  const far = again(200, (now) => shifted(now, "ArrowRight"));
  expect(far.right).toBeLessThanOrEqual(1);
  expect(far.right - far.left).toBeCloseTo(0.2);
  expect(shifted(box, "Enter")).toBeNull();
});

test("a box that is sized never vanishes", () => {
  const small = again(200, (now) => sized(sized(now, "ArrowLeft") ?? now, "ArrowUp"));
  expect(small.right).toBeGreaterThan(small.left);
  expect(small.bottom).toBeGreaterThan(small.top);
});
