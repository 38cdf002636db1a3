/** The values of a form's fields: as they are typed, and as the service takes them. */
import { orText, toMajor, toMinor } from "../format/numbers";

export type FieldKind =
  | "text"
  | "mono"
  | "long"
  | "day"
  | "whole"
  | "money"
  | "yes"
  | "secret"
  | "list"
  | "vendor"
  | "site"
  | "person"
  | readonly string[];

export interface FieldSpec {
  name: string;
  title: string;
  kind: FieldKind;
  /** It must be given, and tells the record apart where it can no longer be changed. */
  needed?: boolean;
  /** Several of the choices. */
  many?: boolean;
  /** What it is until someone says otherwise. */
  first?: unknown;
  hint?: string;
  /** Lines of a long text. */
  rows?: number;
}

export type Values = Record<string, unknown>;

/** A value as one types it. */
export function shown(field: FieldSpec, values: Values): unknown {
  const value = values[field.name] ?? field.first;
  if (field.kind === "money") {
    const currency = String(values.currency ?? "");
    return typeof value === "number" ? toMajor(value, currency) : "";
  }
  if (field.kind === "list") return Array.isArray(value) ? value.join(", ") : "";
  if (field.kind === "yes") return value === true;
  if (field.many) return Array.isArray(value) ? value : [];
  return value === null || value === undefined ? "" : String(value);
}

/** What was typed, as the service takes it; nothing typed is none. */
export function taken(field: FieldSpec, typed: unknown, all: Values): unknown {
  if (field.kind === "yes" || field.many) return typed;
  const text = String(typed ?? "").trim();
  if (field.kind === "list") {
    return text
      .split(/[,;\n]/)
      .map((one) => one.trim())
      .filter(Boolean);
  }
  if (field.kind === "whole") return text === "" ? (field.first ?? null) : orText(Number(text), text);
  if (field.kind === "money") return text === "" ? null : orText(toMinor(text, String(all.currency ?? "")), text);
  if (text === "" && !field.needed && ["text", "long"].includes(String(field.kind))) return field.first ?? "";
  if (text === "" && field.name === "software_version") return "";
  return text === "" ? null : text;
}
