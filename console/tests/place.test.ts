import { describe, expect, test } from "vitest";
import { namesAt, pathsOf, questionsOf, valuesAt } from "../src/sheets/language";
import { placeOf } from "../src/sheets/place";

const SHEET = `sheet: 2
name: A desk
questions:
  - id: kind
    ask: What kind?
    form: choice
    shown: {question: kind, one_of: [a]}
    choices:
      - {value: a, label: A}
      - value: b
        label: B
  - {id: who, ask: Who?, form: person, to: {name: caller}}
write:
  format: mail
  body:
    Number: {take: packet.number}
replies:
  messages: {list: $, text: $.text}
`;

/** The place behind the first occurrence of some words. */
const at = (words: string, text = SHEET) => {
  const { path, name } = placeOf(text, text.indexOf(words) + words.length);
  return [path.join("."), name];
};

describe("where the cursor stands", () => {
  test.each([
    ["na", ["", null]],
    ["name: A", ["", "name"]],
    ["  - i", ["questions.0", null]],
    ["    for", ["questions.0", null]],
    ["form: ch", ["questions.0", "form"]],
    ["shown: {quest", ["questions.0.shown", null]],
    ["shown: {question: ki", ["questions.0.shown", "question"]],
    ["one_of: [a", ["questions.0.shown.one_of.0", null]],
    ["- {val", ["questions.0.choices.0", null]],
    ["      - val", ["questions.0.choices.0", null]],
    ["        lab", ["questions.0.choices.0", null]],
    ["to: {na", ["questions.0.to", null]],
    ["  form", ["questions.0", null]],
    ["    Num", ["write.body", null]],
    ["Number: {take: pack", ["write.body.Number", "take"]],
    ["messages: {li", ["replies.messages", null]],
  ] as [string, [string, string | null]][])("%s", (words, wanted) => {
    expect(at(words)).toEqual(wanted);
  });
});

describe("what can stand there", () => {
  test("names with their descriptions", () => {
    expect(namesAt(["questions", "0"], SHEET).form).toBe("The form of its answer.");
    expect(namesAt(["write"], SHEET)).toHaveProperty("subject");
    expect(namesAt(["write"], SHEET)).not.toHaveProperty("xsd");
    expect(namesAt(["questions", "0", "shown"], SHEET)).toHaveProperty("one_of");
    expect(namesAt(["write", "body", "Number"], SHEET)).toHaveProperty("otherwise");
  });
  test("values that are listed", () => {
    expect(valuesAt(["questions", "0", "form"], SHEET)).toContain("person");
    expect(valuesAt(["replies", "arrive"], SHEET)).toEqual(["polling", "webhook", "mail", "folder", "hand"]);
    expect(valuesAt(["questions", "0", "required"], SHEET)).toContain("true");
  });
  test("questions, and what can be taken of them", () => {
    expect(questionsOf(SHEET)).toEqual({ kind: "choice", who: "person" });
    expect(pathsOf(SHEET)["answers.who.phone"]).toBe("the phone of who");
    expect(pathsOf(SHEET)["answers.kind"]).toBeDefined();
    expect(pathsOf(SHEET)["asset.serial"]).toBe("the serial number of the thing");
  });
});
