// @vitest-environment happy-dom
import { screen, within } from "@testing-library/react";
import { expect, test } from "vitest";
import { KeyHelp } from "../src/keyboard/help";
import { headings, keyOf, SCOPES } from "../src/keyboard/registry";
import { draw } from "./drawing";

const scopes = Object.entries(SCOPES);
const isWithin = (inner: string, outer: string) => inner === outer || inner.startsWith(`${outer} `) || outer === "";
const together = scopes.flatMap(([name, one], place) =>
  scopes
    .slice(place + 1)
    .filter(([, other]) => isWithin(one.page, other.page) || isWithin(other.page, one.page))
    .map(([other, more]) => [name, other, one, more] as const),
);

test.each(together)("%s and %s share no key", (_name, _other, one, more) => {
  const keys = (group: typeof one) => Object.values(group.keys).map((binding) => binding.key);
  expect(keys(one).filter((key) => keys(more).includes(key))).toEqual([]);
});

test.each(scopes)("a key of %s does one thing", (_name, group) => {
  const keys = Object.values(group.keys).map((binding) => binding.key);
  expect(new Set(keys).size).toBe(keys.length);
});

test("the list under ? has every key that acts", () => {
  draw(<KeyHelp open onChange={() => {}} />);
  const list = screen.getByRole("dialog", { name: "Keys" });
  for (const [heading, keys] of headings()) {
    expect(within(list).getByRole("heading", { name: heading })).toBeTruthy();
    for (const { words } of keys) expect(within(list).getAllByText(words).length).toBeGreaterThan(0);
  }
  const listed = headings().flatMap(([, keys]) => keys.map((one) => one.words));
  for (const [, group] of scopes)
    for (const binding of Object.values(group.keys)) expect(listed).toContain(binding.words);
  expect(keyOf("packet", "tryNow")).toBe("y");
});
