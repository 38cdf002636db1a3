/** A log's lines over time by level, with its gaps and restarts; the hours that matter are chosen on it. */
import { type KeyboardEvent, type PointerEvent, useRef, useState } from "react";
import type { Summary } from "../../api/summaries";
import { sayMoment } from "../../format/dates";
import { between, momentAt, moved, placeOf, type Window } from "./brush";

const WIDTH = 720;
const HEIGHT = 96;
const STEP = 1 / 60;
const FILLS: Record<string, string> = {
  critical: "fill-wax",
  error: "fill-wax",
  warning: "fill-ochre",
  info: "fill-slate/55",
  debug: "fill-soft/35",
  "": "fill-soft/50",
};
const ORDER = ["critical", "error", "warning", "info", "", "debug"];

interface Props {
  summary: Summary;
  began: string | null;
  chosen: Window | undefined;
  choose: (window: Window | undefined) => void;
}

export function LogTimeline({ summary, began, chosen, choose }: Props) {
  const [drawing, setDrawing] = useState<{ begun: number; now: number }>();
  const box = useRef<HTMLDivElement>(null);
  const shown = drawing ? between(drawing.begun, drawing.now) : chosen;
  const place = (event: PointerEvent) => {
    const edges = box.current?.getBoundingClientRect();
    return edges ? (event.clientX - edges.left) / edges.width : 0;
  };
  const onKey = (event: KeyboardEvent) => {
    if (event.key === "Escape") {
      event.stopPropagation();
      choose(undefined);
      return;
    }
    const next = moved(chosen ?? { from: 0.45, to: 0.55 }, event.key, event.shiftKey, event.altKey, STEP);
    if (!next) return;
    event.preventDefault();
    choose(next);
  };
  const said = shown
    ? `${sayMoment(momentAt(summary.first, summary.last, shown.from))} to ${sayMoment(momentAt(summary.first, summary.last, shown.to))}`
    : "no hours chosen";
  return (
    <figure className="px-4 pt-1 pb-2">
      <div
        ref={box}
        role="slider"
        tabIndex={0}
        aria-label="Hours of the log: arrow keys move them, with Shift their end, with Alt their start"
        aria-valuenow={Math.round((shown?.from ?? 0) * 100)}
        aria-valuetext={said}
        className="relative h-24 cursor-crosshair touch-none select-none"
        onKeyDown={onKey}
        onPointerDown={(event) => {
          event.currentTarget.setPointerCapture(event.pointerId);
          setDrawing({ begun: place(event), now: place(event) });
        }}
        onPointerMove={(event) => drawing && setDrawing({ ...drawing, now: place(event) })}
        onPointerUp={(event) => {
          if (!drawing) return;
          const window = between(drawing.begun, place(event));
          setDrawing(undefined);
          choose(window.to - window.from < 0.004 ? undefined : window);
        }}
      >
        <Bars summary={summary} />
        {shown && (
          <span
            aria-hidden
            className="pointer-events-none absolute inset-y-0 border-x border-ink bg-ink/10"
            style={{ left: `${shown.from * 100}%`, width: `${(shown.to - shown.from) * 100}%` }}
          />
        )}
        {began && <Began place={placeOf(summary.first, summary.last, began)} />}
      </div>
      <Hours summary={summary} />
    </figure>
  );
}

/** When it began, as a line of wax. */
function Began({ place }: { place: number }) {
  if (place < 0 || place > 1) return null;
  return (
    <span
      className="pointer-events-none absolute -top-1 bottom-0 border-l-2 border-wax"
      style={{ left: `${place * 100}%` }}
    >
      <span className="absolute -top-0.5 left-1 text-[12px] leading-4 whitespace-nowrap text-wax">it began</span>
    </span>
  );
}

function Bars({ summary }: { summary: Summary }) {
  const levels = ORDER.flatMap((level) => summary.levels.filter((one) => one.level === level));
  const buckets = levels[0]?.counts.length ?? 0;
  const sums = Array.from({ length: buckets }, (_, at) => levels.reduce((sum, one) => sum + (one.counts[at] ?? 0), 0));
  const top = Math.max(1, ...sums);
  const wide = WIDTH / Math.max(1, buckets);
  // Rare levels would not be seen at their true height: whatever is there has a pixel.
  const high = (count: number) => (count ? Math.max(1.5, (count / top) * (HEIGHT - 14)) : 0);
  return (
    <svg
      viewBox={`0 0 ${WIDTH} ${HEIGHT}`}
      preserveAspectRatio="none"
      className="absolute inset-0 size-full"
      role="img"
      aria-label="Lines over time by level"
    >
      {summary.gaps.map((gap) => {
        const from = placeOf(summary.first, summary.last, gap.start) * WIDTH;
        const to = placeOf(summary.first, summary.last, gap.end) * WIDTH;
        return (
          <rect
            key={gap.line}
            x={from}
            width={Math.max(1, to - from)}
            y={0}
            height={HEIGHT}
            className="fill-wax-wash"
          />
        );
      })}
      {sums.map((_, at) => {
        let bottom = HEIGHT;
        return levels.map((one) => {
          const height = high(one.counts[at] ?? 0);
          bottom -= height;
          return height ? (
            <rect
              // biome-ignore lint/suspicious/noArrayIndexKey: a bucket is its place
              key={`${one.level}${at}`}
              x={at * wide}
              width={wide}
              y={bottom}
              height={height}
              className={FILLS[one.level]}
            />
          ) : null;
        });
      })}
      {summary.restarts.map((one) => (
        <path
          key={one.at}
          d={`M ${placeOf(summary.first, summary.last, one.at) * WIDTH} 0 l 4 8 l -8 0 z`}
          className="fill-ink"
        >
          <title>{`${sayMoment(one.at)}: ${one.text}`}</title>
        </path>
      ))}
    </svg>
  );
}

function Hours({ summary }: { summary: Summary }) {
  const places = [0, 0.25, 0.5, 0.75, 1];
  return (
    <figcaption aria-hidden className="flex justify-between pt-1 text-[12px] text-soft tabular-nums">
      {places.map((one) => (
        <span key={one}>{sayMoment(momentAt(summary.first, summary.last, one))}</span>
      ))}
    </figcaption>
  );
}
