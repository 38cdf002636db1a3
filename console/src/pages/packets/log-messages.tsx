/** The messages of a log: new and more frequent ones first, then the most frequent and the rare. */
import { useState } from "react";
import type { MessageFound, Summary } from "../../api/summaries";
import { Badge } from "../../components/badge";
import { Sheet } from "../../components/sheet";
import { sayMoment } from "../../format/dates";

const SORTS = [
  ["new", "New in these hours"],
  ["more", "More frequent in these hours"],
  ["frequent", "Most frequent"],
  ["rare", "Rare"],
] as const;
const SHOWN = 8;

export function LogMessages({ summary }: { summary: Summary }) {
  return SORTS.map(([mark, title]) => {
    const rows = summary.messages.filter((one) => one.marks.includes(mark));
    return rows.length > 0 && <Messages key={mark} title={title} rows={rows} />;
  });
}

const LEVEL_TONES: Record<string, "wax" | "ochre" | "plain"> = { critical: "wax", error: "wax", warning: "ochre" };

function Messages({ title, rows }: { title: string; rows: MessageFound[] }) {
  const [all, setAll] = useState(false);
  return (
    <Sheet className="overflow-x-auto">
      <table className="w-full text-left">
        <caption className="px-4 pt-3 pb-1 text-left font-serif text-[16px]">
          {title} <span className="font-sans text-[13px] text-soft">{rows.length}</span>
        </caption>
        <thead className="sr-only">
          <tr>
            {["Times", "Level", "Message", "Over time", "First and last"].map((head) => (
              <th key={head} scope="col">
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {(all ? rows : rows.slice(0, SHOWN)).map((one) => (
            <tr key={one.text} className="border-t border-line align-top" title={one.example}>
              <td className="py-1.5 pr-2 pl-4 text-right tabular-nums">
                {one.count.toLocaleString("en-GB")}
                {one.factor && <span className="block text-[12px] text-wax">{one.factor}×</span>}
              </td>
              <td className="px-2 py-1.5">
                {one.level && <Badge tone={LEVEL_TONES[one.level] ?? "plain"}>{one.level}</Badge>}
              </td>
              <td className="w-full px-2 py-1.5 font-mono text-[12.5px] wrap-anywhere">{one.text}</td>
              <td className="px-2 py-1.5">
                <Trend counts={one.counts} />
              </td>
              <td className="py-1.5 pr-4 pl-2 text-right text-[12.5px] whitespace-nowrap text-soft tabular-nums">
                {sayMoment(one.first)}
                {one.last !== one.first && <span className="block">{sayMoment(one.last)}</span>}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
      {rows.length > SHOWN && (
        <button type="button" className="link px-4 py-2" onClick={() => setAll(!all)}>
          {all ? "Show fewer" : `Show all ${rows.length}`}
        </button>
      )}
    </Sheet>
  );
}

/** How often a message came over the log's time. */
function Trend({ counts }: { counts: number[] }) {
  const top = Math.max(1, ...counts);
  const wide = 90 / counts.length;
  return (
    <svg viewBox="0 0 90 20" className="h-5 w-[90px]" aria-hidden>
      <title>Over time</title>
      {counts.map((one, at) =>
        one ? (
          <rect
            // biome-ignore lint/suspicious/noArrayIndexKey: a bucket is its place
            key={at}
            x={at * wide}
            width={Math.max(1, wide)}
            y={20 - Math.max(2, (one / top) * 20)}
            height={Math.max(2, (one / top) * 20)}
            className="fill-slate/70"
          />
        ) : null,
      )}
    </svg>
  );
}
