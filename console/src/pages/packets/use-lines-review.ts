/** Going through the lines of an exhibit: by finding, by line, and deciding about what is found. */
import { useState } from "react";
import { useFloor } from "../../api/decisions";
import { useReview } from "../../api/reviews";
import { useKeys } from "../../keyboard/keys";
import type { About } from "./deciding";
import type { LookProps } from "./look";

export const LINES = 15;

export type LinesReview = ReturnType<typeof useLinesReview>;

export function useLinesReview({ packet, exhibit, place, setPlace, mayDecide }: LookProps) {
  const { at } = place;
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
  const other: LookProps["place"]["view"] = view === "lines" ? "values" : "lines";
  useKeys("lines", {
    next: () => move(1),
    previous: () => move(-1),
    view: () => setPlace({ ...place, view: other }),
    letGo: () => mayDecide && view === "lines" && letGo(),
    mask: () => mayDecide && view === "lines" && mask(),
    down: () => view === "lines" && goTo(top + LINES - 1),
    up: () => view === "lines" && goTo(top - LINES + 1),
  });
  return {
    ...{ review, found, focus, hasLines, view, other, at, last, move, all, top, goTo, wheel },
    ...{ floor, about, setAbout, selected, setSelected, letGo, mask },
  };
}
