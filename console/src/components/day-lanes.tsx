/** Days drawn as bars: one lane for each thing, the same scale for all, today as a line of ink. */

import { sayDay } from "../format/dates";
import { count } from "../format/numbers";
import { join } from "./join";
import { Mono } from "./mono";

export interface Bar {
  from: string;
  to: string;
  tone: "ink" | "moss" | "gap" | "soft";
  words: string;
}

export interface Lane {
  name: string;
  beside?: string;
  bars: Bar[];
}

const DAY = 86_400_000;

const TONES = {
  ink: "bg-slate/75",
  moss: "bg-moss/75",
  soft: "bg-soft/45",
  gap: "bg-wax-wash border border-dashed border-wax",
};

const at = (iso: string) => Date.parse(iso);

/** First days of years, or of quarters where there are few years. */
function ticks(since: string, until: string) {
  const step = at(until) - at(since) > 5 * 365 * DAY ? 12 : 3;
  const first = new Date(since);
  const found: [string, string][] = [];
  for (let month = 0; ; month += step) {
    const day = new Date(Date.UTC(first.getUTCFullYear(), month, 1));
    if (day.getTime() > at(until)) return found;
    if (day.getTime() >= at(since)) {
      const isYear = day.getUTCMonth() === 0;
      const name = isYear ? String(day.getUTCFullYear()) : day.toLocaleDateString("en-GB", { month: "short" });
      found.push([day.toISOString().slice(0, 10), name]);
    }
  }
}

export function DayLanes({
  since,
  until,
  lanes,
  label,
}: {
  since: string;
  until: string;
  lanes: Lane[];
  label: string;
}) {
  const length = at(until) - at(since) + DAY;
  const place = (iso: string) => `${(Math.max(0, Math.min(1, (at(iso) - at(since)) / length)) * 100).toFixed(3)}%`;
  const width = (bar: Bar) => {
    const from = Math.max(at(bar.from), at(since));
    const to = Math.min(at(bar.to), at(until)) + DAY;
    return `${(Math.max(0, (to - from) / length) * 100).toFixed(3)}%`;
  };
  const today = new Date().toISOString().slice(0, 10);
  return (
    <figure aria-label={label}>
      <div aria-hidden className="grid grid-cols-[minmax(96px,150px)_1fr] gap-x-3">
        <span />
        <div className="relative h-5 text-[12px] text-soft">
          {ticks(since, until).map(([day, name]) => (
            <span key={day} className="absolute whitespace-nowrap" style={{ left: place(day) }}>
              {name}
            </span>
          ))}
        </div>
      </div>
      <ul>
        {lanes.map((lane) => (
          <li
            key={lane.name + (lane.bars[0]?.from ?? "")}
            className="grid grid-cols-[minmax(96px,150px)_1fr] items-center gap-x-3 border-t border-line py-1"
          >
            <span className="min-w-0">
              <Mono className="block truncate">{lane.name}</Mono>
              {lane.beside && <span className="block truncate text-[12px] leading-4 text-soft">{lane.beside}</span>}
            </span>
            <span className="relative block h-5">
              {ticks(since, until).map(([day]) => (
                <span
                  key={day}
                  aria-hidden
                  className="absolute inset-y-0 border-l border-line"
                  style={{ left: place(day) }}
                />
              ))}
              {lane.bars.map((bar) => (
                <span
                  key={bar.from}
                  title={bar.words}
                  className={join("absolute inset-y-0.5 min-w-1 rounded-sm", TONES[bar.tone])}
                  style={{ left: place(bar.from), width: width(bar) }}
                >
                  <span className="sr-only">{bar.words}.</span>
                </span>
              ))}
              {today >= since && today <= until && (
                <span
                  aria-hidden
                  className="absolute -inset-y-1 border-l-2 border-ink"
                  style={{ left: place(today) }}
                />
              )}
            </span>
          </li>
        ))}
      </ul>
    </figure>
  );
}

export const sayDays = (from: string, to: string) => {
  const days = Math.round((at(to) - at(from)) / DAY) + 1;
  return `${sayDay(from)} to ${sayDay(to)}, ${count(days, "day")}`;
};
