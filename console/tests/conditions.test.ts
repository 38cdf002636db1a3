import { describe, expect, test } from "vitest";
import cases from "../../tests/core/conditions.json";
import { asked, type Condition, holds, type Values } from "../src/sheets/conditions";

/** The service reads the same file: both have to agree. */
describe("conditions", () => {
  test.each(cases.map((one) => [JSON.stringify(one.condition), one] as const))("%s", (_, one) => {
    expect(holds(one.condition as boolean | Condition, one.values as Values, one.facts as Values)).toBe(one.holds);
  });
});

const question = (id: string, place: number, value: string | null, shown: boolean | Condition = true) => ({
  id,
  place,
  shown_when: shown,
  required_when: true as const,
  answer: { value, shown: false, required: false },
});

test("a question is hidden until the one before it is answered so", () => {
  const depends = { question: "first", one_of: ["yes"] } as Condition;
  const ask = (value: string) => asked([question("second", 2, null, depends), question("first", 1, value)], {});
  expect(ask("yes").shown.map((one) => one.id)).toEqual(["first", "second"]);
  expect(ask("no").hidden.map((one) => one.id)).toEqual(["second"]);
});

test("the answer of a hidden question counts for nothing", () => {
  const never = { fact: "packet.need", one_of: ["change"] } as Condition;
  const depends = { question: "second", answered: true } as Condition;
  const all = [question("second", 1, "typed before", never), question("third", 2, null, depends)];
  expect(asked(all, { "packet.need": "fault" }).shown).toEqual([]);
});
