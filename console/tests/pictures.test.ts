import { expect, test } from "vitest";
import { named } from "../src/frame/pictures";

test("a picture without a name of its own is called by its moment", () => {
  const one = named(new File(["x"], "image.png", { type: "image/png" }), 0);
  expect(one.name).toMatch(/^screen-\d{8}-\d{6}\.png$/);
  expect(one.type).toBe("image/png");
});

test("several at once have numbers, and a photo its usual ending", () => {
  const names = [0, 1, 2].map((place) => named(new File(["x"], "image.jpeg", { type: "image/jpeg" }), place).name);
  expect(names[0]).toMatch(/\.jpg$/);
  expect(names[1]).toMatch(/-2\.jpg$/);
  expect(new Set(names).size).toBe(3);
});

test("a file that has a name keeps it", () => {
  expect(named(new File(["x"], "lendd.log"), 0).name).toBe("lendd.log");
});
