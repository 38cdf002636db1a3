/** Contracts and entitlements as bars of days. */

import type { Schemas } from "../../api/client";
import { type Bar, type Lane, sayDays } from "../../components/day-lanes";

export const iso = (day: Date) => day.toISOString().slice(0, 10);

/** From the first term's start to the end, with some room after it. */
export type Whole = Schemas["WholeContract"];

export function range(whole: Whole): [string, string] {
  const starts = [whole.contract.starts_on, ...whole.contract.former_terms.map((term) => term.starts_on)].sort();
  const last = new Date(whole.contract.ends_on);
  last.setUTCDate(last.getUTCDate() + 120);
  return [starts[0] ?? whole.contract.starts_on, iso(last)];
}

export function lanes(whole: Whole): Lane[] {
  const terms: Bar[] = [...whole.contract.former_terms, whole.contract].map((term) => ({
    from: term.starts_on,
    to: term.ends_on,
    tone: "ink",
    words: `Term: ${sayDays(term.starts_on, term.ends_on)}`,
  }));
  const gaps: Bar[] = whole.gaps.map((gap) => ({
    from: iso(new Date(Date.parse(gap.after) + 86_400_000)),
    to: iso(new Date(Date.parse(gap.before) - 86_400_000)),
    tone: "gap",
    words: "It did not run",
  }));
  const byReference = new Map<string, Lane>();
  for (const item of whole.entitlements) {
    const lane = byReference.get(item.reference) ?? { name: item.reference, beside: item.level, bars: [] };
    const to = item.replaced_on ? iso(new Date(Date.parse(item.replaced_on) - 86_400_000)) : item.ends_on;
    lane.bars.push({ from: item.starts_on, to, tone: "moss", words: `${item.level}: ${sayDays(item.starts_on, to)}` });
    byReference.set(item.reference, lane);
  }
  return [{ name: whole.contract.number, beside: "its terms", bars: [...terms, ...gaps] }, ...byReference.values()];
}
