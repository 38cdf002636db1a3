/** Completion and explanation in the editor of sheets: names, values, facts, questions, and whole parts. */

import {
  type Completion,
  type CompletionContext,
  type CompletionResult,
  snippetCompletion,
} from "@codemirror/autocomplete";
import { hoverTooltip } from "@codemirror/view";
import { FACTS, namesAt, pathsOf, questionsOf, valuesAt } from "../../sheets/language";
import { placeOf } from "../../sheets/place";

const TAKES = new Set(["take", "fact", "prefill"]);
const ASKS = new Set(["question", "rows", "impact", "urgency"]);

const named = (words: Record<string, string>, type: string, after = ""): Completion[] =>
  Object.entries(words).map(([label, info]) => ({ label, type, info: info || undefined, apply: label + after }));

/** Whole parts of a sheet, for each channel; offered where a new part begins. `#{…}` are filled in one by one. */
const PARTS: Completion[] = [
  ["send by mail", "send: {channel: mail}\n"],
  [
    "send over HTTP",
    "send:\n  channel: http\n  lodge: /#{cases}\n  follow: /#{cases}/{reference}\n" +
      "  answer: /#{cases}/{reference}/messages\n  answer_body: {text: {take: message.text}}\n",
  ],
  ["send by SFTP", "send: {channel: sftp, drop: #{in}, pick_up: #{out}}\n"],
  ["write JSON", 'write:\n  format: json\n  body: {#{number}: "{packet.number}"}\n'],
  ["write a form", 'write:\n  format: form\n  body: {#{reference}: "{packet.number}"}\n'],
  [
    "write a mail",
    'write:\n  format: mail\n  subject: "#{words} {asset.serial}"\n  body: {#{Our number}: "{packet.number}"}\n',
  ],
  [
    "write a PDF form",
    'write:\n  format: pdf\n  name: "{packet.number}.pdf"\n  body: {#{Field}: "{asset.serial}"}\n  blank: #{base64}\n',
  ],
  [
    "write XML",
    'write:\n  format: xml\n  root: #{case}\n  body: {#{number}: "{packet.number}"}\n  xsd: |\n    #{schema}\n',
  ],
  ["a question", "  - id: #{id}\n    ask: #{What happens?}\n    form: #{text}\n    to: #{field}\n    required: true\n"],
  [
    "replies with status words",
    "replies:\n  reference: $.#{id}\n  status: $.#{state}\n" +
      "  statuses: {#{open}: lodged, #{asks}: asked, #{solved}: answered, #{closed}: settled}\n" +
      "  messages: {list: $.#{messages}[*], text: $.#{text}}\n",
  ],
].map(([label, template]) => snippetCompletion(template as string, { label: label as string, type: "part" }));

/** What can stand where the cursor is. */
export function complete(context: CompletionContext): CompletionResult | null {
  const text = context.state.doc.toString();
  const braces = context.matchBefore(/\{[a-z][a-z0-9_.]*/);
  const { path, name, from } = placeOf(text, context.pos);
  const typed = text.slice(from, context.pos);
  if (braces && /["']/.test(typed)) {
    return { from: braces.from + 1, options: named(pathsOf(text), "fact"), validFor: /^[a-z0-9_.]*$/ };
  }
  if (name === null) {
    if (!context.explicit && !typed) return null;
    const options = named(namesAt(path, text), "name", ": ");
    return { from, options: path.length ? options : [...options, ...PARTS], validFor: /^[\w ]*$/ };
  }
  const values = TAKES.has(name)
    ? named(pathsOf(text), "fact")
    : ASKS.has(name)
      ? asked(text)
      : listed(path, name, text);
  return values.length ? { from, options: values, validFor: /^[\w.]*$/ } : null;
}

const asked = (text: string) => named(questionsOf(text), "question");

const listed = (path: string[], name: string, text: string): Completion[] =>
  valuesAt([...path, name], text).map((label) => ({ label, type: "value" }));

/** What a word means, beside the pointer. */
export const explain = hoverTooltip((view, position) => {
  const word = view.state.wordAt(position);
  if (!word) return null;
  const text = view.state.doc.toString();
  const line = view.state.doc.lineAt(position);
  const around = line.text.slice(0, word.from - line.from).match(/[a-z0-9_.]*$/)?.[0] ?? "";
  const rest = line.text.slice(word.to - line.from).match(/^[a-z0-9_.]*/)?.[0] ?? "";
  const whole = around + view.state.sliceDoc(word.from, word.to) + rest;
  const { path, name } = placeOf(text, word.from);
  const said = FACTS[whole] ?? pathsOf(text)[whole] ?? (name === null ? namesAt(path, text)[whole] : undefined);
  if (!said) return null;
  return {
    pos: word.from,
    end: word.to,
    create: () => {
      const dom = document.createElement("div");
      dom.className = "max-w-80 px-2.5 py-1.5 text-[12.5px]";
      dom.textContent = said;
      return { dom };
    },
  };
});
