/** What a person does with the pages of an exhibit: going through findings, zooming, drawing boxes. */
import { useState } from "react";
import { useFloor } from "../../api/decisions";
import { type NewBox, useBoxes, usePages, type WaitingBox } from "../../api/exhibit-pages";
import { useKeys } from "../../keyboard/keys";
import type { About } from "./deciding";
import type { LookProps } from "./look";

/** Where a box comes to lie that was not drawn by hand. */
export const MIDDLE = { left: 0.4, top: 0.46, right: 0.6, bottom: 0.54 };

export const ZOOMS = [1, 1.5, 2, 3, 4];

export type PagesReviewState = ReturnType<typeof usePagesReview>;

export function usePagesReview({ packet, exhibit, place, setPlace, mayDecide }: LookProps) {
  const pages = usePages(packet.number, exhibit);
  const act = useBoxes(packet.number, exhibit.name);
  const floor = useFloor(mayDecide);
  const [about, setAbout] = useState<About>();
  const [waiting, setWaiting] = useState<WaitingBox[]>([]);
  const [picked, setPicked] = useState<number>();
  const [asks, setAsks] = useState(false);
  const found = pages.data;
  const last = found?.pages.length ?? 1;
  const page = Math.min(Math.max(place.page, 1), last);
  const all = found?.pages.flatMap((one, at) => one.covered.map((covered) => ({ covered, page: at + 1 }))) ?? [];
  const chosen = all[place.at]?.page === page ? all[place.at]?.covered : undefined;

  const goTo = (to: number) => setPlace({ ...place, page: Math.min(Math.max(to, 1), last) });
  const choose = (at: number) => {
    const one = all[at];
    if (one) setPlace({ ...place, at, page: one.page });
  };
  const step = (by: number) => choose(chosen ? place.at + by : all.findIndex((one) => one.page >= page));
  const zoom = (by: number) => {
    const to = ZOOMS[ZOOMS.indexOf(place.zoom) + by];
    if (to) setPlace({ ...place, zoom: to });
  };
  const add = (edges: Omit<NewBox, "page">) => {
    const id = 1 + Math.max(0, ...waiting.map((box) => box.id));
    setWaiting([...waiting, { id, page, ...edges }]);
    setPicked(id);
  };
  const move = (box: WaitingBox | null) => {
    setWaiting(waiting.flatMap((one) => (one.id !== picked ? [one] : box ? [box] : [])));
    if (!box) setPicked(undefined);
  };
  const letGo = () =>
    chosen?.value &&
    !floor.includes(chosen.kind) &&
    setAbout({ action: "keep", kind: chosen.kind, value: chosen.value });
  const byValue = place.view === "values";
  useKeys("pages", {
    next: () => step(1),
    previous: () => step(-1),
    view: () => setPlace({ ...place, view: byValue ? "lines" : "values" }),
    letGo: () => mayDecide && letGo(),
    box: () => mayDecide && !byValue && add(MIDDLE),
    cover: () => waiting.length > 0 && setAsks(true),
    larger: () => zoom(1),
    smaller: () => zoom(-1),
    down: () => goTo(page + 1),
    up: () => goTo(page - 1),
  });

  const show = (placeholder: string) => {
    const at = all.findIndex((one) => one.covered.placeholder === placeholder);
    setPlace({ ...place, view: "lines", at: Math.max(at, 0), page: all[at]?.page ?? page });
  };
  const cover = (reason: string) =>
    act.mutate(
      { draw: waiting, reason },
      {
        onSuccess: () => {
          setWaiting([]);
          setAsks(false);
        },
      },
    );
  return {
    ...{ pages, act, floor, found, all, last, page, zoom, goTo, choose, step, letGo, show, byValue, chosen },
    ...{ about, setAbout, waiting, setWaiting, picked, setPicked, asks, setAsks, add, move, cover },
  };
}
