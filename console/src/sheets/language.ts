/** The words of the sheet language: what can stand where, with its description. */

import language from "./language.json";

interface Schema {
  $ref?: string;
  anyOf?: Schema[];
  oneOf?: Schema[];
  properties?: Record<string, Schema>;
  additionalProperties?: Schema | boolean;
  items?: Schema;
  enum?: string[];
  const?: string | number;
  type?: string;
  description?: string;
  discriminator?: { mapping: Record<string, string>; propertyName: string };
}

const ROOT = language.schema as unknown as Schema & { $defs: Record<string, Schema> };
export const FACTS = language.facts as Record<string, string>;
const PARTS = language.parts as Record<string, string[]>;

/** A schema without references and choices; of a choice by a name only the branch that the text has chosen. */
function branches(schema: Schema | undefined, text: string): Schema[] {
  if (!schema) return [];
  if (schema.$ref) return branches(ROOT.$defs[schema.$ref.split("/").at(-1) ?? ""], text);
  const inner = schema.anyOf ?? schema.oneOf;
  if (!inner) return [schema];
  const by = schema.discriminator;
  const chosen = by && new RegExp(`\\b${by.propertyName}:\\s*"?([a-z]+)`).exec(text)?.[1];
  const branch = chosen ? by?.mapping[chosen] : undefined;
  return (branch ? [{ $ref: branch }] : inner).flatMap((one) => branches(one, text));
}

function at(path: string[], text: string): Schema[] {
  let found = branches(ROOT, text);
  for (const part of path) {
    found = found.flatMap((schema) => {
      if (part === "0" && schema.items) return branches(schema.items, text);
      if (schema.properties?.[part]) return branches(schema.properties[part], text);
      return typeof schema.additionalProperties === "object" ? branches(schema.additionalProperties, text) : [];
    });
  }
  return found;
}

/** By name, what can stand in the group at a path, with its description. */
export function namesAt(path: string[], text: string): Record<string, string> {
  const found: Record<string, string> = {};
  for (const schema of at(path, text)) {
    for (const [name, one] of Object.entries(schema.properties ?? {})) found[name] ??= one.description ?? "";
  }
  return found;
}

/** The values that a property may have, if they are listed. */
export function valuesAt(path: string[], text: string): string[] {
  const found = at(path, text).flatMap((schema) => [
    ...(schema.enum ?? []),
    ...(schema.const === undefined ? [] : [String(schema.const)]),
    ...(schema.type === "boolean" ? ["true", "false"] : []),
  ]);
  return [...new Set(found)];
}

/** The questions of a sheet by their ids, each with its form, whatever state the text is in. */
export function questionsOf(text: string): Record<string, string> {
  const found: Record<string, string> = {};
  const asked = /\bid:\s*([a-z][a-z0-9_]*)/g;
  for (let one = asked.exec(text); one; one = asked.exec(text)) {
    const rest = text.slice(one.index, one.index + 600);
    const next = rest.slice(3).search(/\bid:\s/);
    const form = /\bform:\s*([a-z]+)/.exec(next > 0 ? rest.slice(0, next + 3) : rest);
    if (form) found[one[1] as string] = form[1] as string;
  }
  return found;
}

/** Everything that can be taken: facts, answers and their parts. */
export function pathsOf(text: string): Record<string, string> {
  const found: Record<string, string> = { ...FACTS };
  for (const [id, form] of Object.entries(questionsOf(text))) {
    if (form !== "person") found[`answers.${id}`] = `the answer to ${id}`;
    for (const part of PARTS[form] ?? []) found[`answers.${id}.${part}`] = `the ${part.replaceAll("_", " ")} of ${id}`;
  }
  return found;
}
