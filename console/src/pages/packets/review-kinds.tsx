/** The kinds of what was found. */

import type { Exhibit } from "../../api/exhibits";
import { join } from "../../components/join";
import { Hidden } from "../../components/text";

export function kindWords(exhibit: Exhibit) {
  const kinds = Object.keys(exhibit.counts).length;
  const all = Object.values(exhibit.counts).reduce((sum, number) => sum + Number(number), 0);
  return `${all.toLocaleString("en-GB")} masked in ${kinds} ${kinds === 1 ? "kind" : "kinds"}`;
}

interface KindsProps {
  exhibit: Exhibit;
  doubtful: number;
  kind: string;
  choose: (kind: string) => void;
}

/** Those that are not certain come first: a person had better look at them. */
export function Kinds({ exhibit, doubtful, kind, choose }: KindsProps) {
  const certain = Object.entries(exhibit.counts);
  const kinds = doubtful > 0 || kind === "doubtful" ? [["doubtful", doubtful] as const, ...certain] : certain;
  return (
    <fieldset className="flex flex-wrap gap-1 border-b border-line px-3 py-1.5">
      <Hidden as="legend">Findings of one kind</Hidden>
      {[["", 0] as const, ...kinds].map(([value, number]) => (
        <label
          key={value}
          className={join(
            "cursor-pointer rounded-full px-2 text-[12.5px] has-focus-visible:outline-2 has-focus-visible:outline-slate",
            kind === value ? "bg-ink text-paper" : "text-soft hover:text-ink",
          )}
        >
          <input type="radio" name="kind" className="sr-only" checked={kind === value} onChange={() => choose(value)} />
          {value || "all kinds"} {number ? Number(number).toLocaleString("en-GB") : ""}
        </label>
      ))}
    </fieldset>
  );
}
