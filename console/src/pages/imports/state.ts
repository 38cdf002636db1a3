/** Kinds and states of imports. */
import type { Import, RecordKind } from "../../api/imports";

export const KINDS: [RecordKind, string][] = [
  ["asset", "assets"],
  ["contract", "contracts"],
  ["entitlement", "entitlements"],
  ["product", "products"],
  ["site", "sites"],
  ["person", "people"],
  ["vendor", "vendors"],
  ["login", "logins"],
  ["limit", "limits"],
  ["level", "levels"],
  ["lot", "lots of units"],
  ["price", "prices"],
  ["licence", "licences"],
  ["release", "versions"],
];

export const plural = (kind: RecordKind) => KINDS.find(([name]) => name === kind)?.[1] ?? kind;

const TONES = { applied: "moss", ready: "ochre", failed: "wax" } as const;

export const stateTone = (state: Import["state"]) => TONES[state as keyof typeof TONES] ?? "plain";

/** A value of a row in words. */
export const said = (value: unknown) => {
  if (value === null || value === undefined || value === "") return "–";
  return Array.isArray(value) ? value.map(String).join(", ") || "–" : String(value);
};
