import { type MouseEvent, useState } from "react";
import { useFloor } from "../../api/decisions";
import type { Exhibit } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import { type Looking, useReview } from "../../api/reviews";
import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Waiting } from "../../components/waiting";
import { useKeys } from "../../keyboard/keys";
import { type About, Deciding } from "./deciding";
import { Steps } from "./looking";
import { Kinds, kindWords } from "./review-kinds";
import { Lines } from "./review-lines";
import { ByValue } from "./values";

const LINES = 15;

/** Where one is in an exhibit; kept while it is redacted again. */
export interface Place extends Looking {
  view: "lines" | "values";
  /** Of a picture or PDF, from 1, and how much larger than its pane it is shown. */
  page: number;
  zoom: number;
}

export const FIRST: Place = { at: 0, kind: "", placeholder: "", line: 0, view: "lines", page: 1, zoom: 1 };

export interface LookProps {
  packet: Packet;
  exhibit: Exhibit;
  place: Place;
  setPlace: (place: Place) => void;
  mayDecide: boolean;
}

export function Review({ packet, exhibit, place, setPlace, mayDecide }: LookProps) {
  const { at, kind } = place;
  const hasLines = exhibit.shows === "lines";
  const view = hasLines ? place.view : "values";
  const [about, setAbout] = useState<About>();
  const [selected, setSelected] = useState("");
  const review = useReview(packet.number, exhibit.name, place, LINES, hasLines);
  const found = review.data;
  const focus = found?.focus;
  const last = Math.max((found?.findings ?? 1) - 1, 0);
  const move = (step: number) => setPlace({ ...place, line: 0, at: Math.min(Math.max(at + step, 0), last) });
  const all = found?.all_lines ?? 1;
  const top = place.line || (found?.lines[0]?.number ?? 1);
  const goTo = (line: number) => setPlace({ ...place, line: Math.min(Math.max(line, 1), all) });
  const wheel = (steps: number) => {
    const to = Math.min(Math.max(top + steps, 1), Math.max(all - LINES + 1, 1));
    if (to !== top) goTo(to);
    return to !== top;
  };
  const floor = useFloor(mayDecide);
  const letGo = () =>
    focus && !floor.includes(focus.kind) && setAbout({ action: "keep", kind: focus.kind, value: focus.value });
  const mask = () => selected && setAbout({ action: "mask", kind: "custom", value: selected });
  const other = view === "lines" ? "values" : "lines";
  useKeys({
    j: () => move(1),
    k: () => move(-1),
    v: () => setPlace({ ...place, view: other }),
    u: () => mayDecide && view === "lines" && letGo(),
    m: () => mayDecide && view === "lines" && mask(),
    PageDown: () => view === "lines" && goTo(top + LINES - 1),
    PageUp: () => view === "lines" && goTo(top - LINES + 1),
  });

  return (
    <Sheet>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-2">
        <Mono>{exhibit.name}</Mono>
        <span className="text-soft">{kindWords(exhibit)}</span>
        <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
          {hasLines && (
            <Button className="px-1.5 py-0" onClick={() => setPlace({ ...place, view: other })}>
              <Key>V</Key> by {other === "values" ? "value" : "line"}
            </Button>
          )}
          {view === "lines" && (
            <>
              {found && found.findings > 0
                ? `finding ${at + 1} of ${found.findings.toLocaleString("en-GB")}`
                : "nothing masked"}
              <Steps what="Finding" first={at === 0} last={at >= last} step={move} />
            </>
          )}
        </span>
      </div>
      <Kinds
        exhibit={exhibit}
        doubtful={found?.doubtful ?? 0}
        kind={kind}
        choose={(value) => setPlace({ ...place, kind: value, placeholder: "", at: 0, line: 0 })}
      />
      {view === "values" ? (
        <ByValue
          packet={packet}
          exhibit={exhibit}
          kind={kind}
          mayDecide={mayDecide}
          floor={floor}
          show={hasLines ? (placeholder, of) => setPlace({ ...FIRST, kind: of, placeholder }) : undefined}
          decide={setAbout}
        />
      ) : (
        <>
          <div className="flex min-h-9 flex-wrap items-center gap-x-3 border-b border-line px-3.5 py-1">
            {focus && (
              <>
                <span className="text-soft">{focus.kind}</span>
                <Mono className="max-w-96 truncate">{focus.value.split("\n")[0]}</Mono>
                {!focus.sure && <span className="text-ochre">not certain</span>}
                {place.placeholder && (
                  <button
                    type="button"
                    className="link"
                    onClick={() => setPlace({ ...place, placeholder: "", kind: "", at: 0, line: 0 })}
                  >
                    All findings again
                  </button>
                )}
                {mayDecide && (
                  <span className="ml-auto flex gap-2">
                    <Button className="px-1.5 py-0" disabled={!selected} onMouseDown={keepSelection} onClick={mask}>
                      <Key>M</Key> Mask what is selected
                    </Button>
                    <Button className="px-1.5 py-0" disabled={floor.includes(focus.kind)} onClick={letGo}>
                      <Key>U</Key> {floor.includes(focus.kind) ? "Never goes out" : "Let it go out"}
                    </Button>
                  </span>
                )}
              </>
            )}
          </div>
          <ProblemNote problem={review.error} />
          {found ? (
            <>
              {all > LINES && <Whereabouts top={top} all={all} goTo={goTo} />}
              <Lines
                lines={found.lines}
                focus={found.line}
                vendor={packet.vendor ?? "the vendor"}
                onSelect={setSelected}
                onWheel={wheel}
              />
            </>
          ) : (
            <div className="px-3.5">{!review.error && <Waiting label="The exhibit is being read" lines={LINES} />}</div>
          )}
        </>
      )}
      {about && <Deciding packet={packet} about={about} onClose={() => setAbout(undefined)} />}
    </Sheet>
  );
}

/** Where in the file one is: a file of any length is one slider. */
function Whereabouts({ top, all, goTo }: { top: number; all: number; goTo: (line: number) => void }) {
  return (
    <label className="flex items-center gap-3 border-b border-line px-3.5 py-1 text-soft tabular-nums">
      <span className="whitespace-nowrap">
        line {top.toLocaleString("en-GB")} of {all.toLocaleString("en-GB")}
      </span>
      <input
        type="range"
        className="grow accent-ink"
        aria-label="Place in the file"
        aria-valuetext={`line ${top} of ${all}`}
        min={1}
        max={Math.max(all - LINES + 1, 1)}
        value={top}
        onChange={(event) => goTo(Number(event.target.value))}
      />
    </label>
  );
}

/** A press on a button would take the selection away before it is asked for. */
const keepSelection = (event: MouseEvent) => event.preventDefault();
