import { useState } from "react";
import { useFloor } from "../../api/decisions";
import { type NewBox, useBoxes, usePages, type WaitingBox } from "../../api/exhibit-pages";
import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { type About, Deciding } from "./deciding";
import { Drawn, WhyCover } from "./drawn-boxes";
import { Finding } from "./page-findings";
import { BothPages } from "./page-pair";
import type { LookProps } from "./review";
import { kindWords } from "./review-kinds";
import { ByValue } from "./values";

/** Where a box comes to lie that was not drawn by hand. */
const MIDDLE = { left: 0.4, top: 0.46, right: 0.6, bottom: 0.54 };

const ZOOMS = [1, 1.5, 2, 3, 4];

export function PagesReview({ packet, exhibit, place, setPlace, mayDecide }: LookProps) {
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
  const here = waiting.filter((box) => box.page === page);
  const drawn = found?.drawn ?? [];

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
  useKeys({
    j: () => step(1),
    k: () => step(-1),
    v: () => setPlace({ ...place, view: byValue ? "lines" : "values" }),
    u: () => mayDecide && letGo(),
    b: () => mayDecide && !byValue && add(MIDDLE),
    m: () => waiting.length > 0 && setAsks(true),
    "+": () => zoom(1),
    "-": () => zoom(-1),
    PageDown: () => goTo(page + 1),
    PageUp: () => goTo(page - 1),
  });

  return (
    <Sheet>
      <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-2">
        <Mono>{exhibit.name}</Mono>
        <span className="text-soft">{kindWords(exhibit)}</span>
        <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
          <Button className="px-1.5 py-0" onClick={() => setPlace({ ...place, view: byValue ? "lines" : "values" })}>
            <Key>V</Key> by {byValue ? "page" : "value"}
          </Button>
          {last > 1 && !byValue && (
            <>
              page {page} of {last}
              <Button className="px-1.5 py-0" disabled={page === 1} onClick={() => goTo(page - 1)}>
                <span aria-hidden>←</span>
                <span className="sr-only">Page before</span>
              </Button>
              <Button className="px-1.5 py-0" disabled={page === last} onClick={() => goTo(page + 1)}>
                <span aria-hidden>→</span>
                <span className="sr-only">Next page</span>
              </Button>
            </>
          )}
        </span>
      </div>
      <ProblemNote problem={pages.error ?? act.error} />
      {byValue ? (
        <ByValue
          packet={packet}
          exhibit={exhibit}
          kind=""
          mayDecide={mayDecide}
          floor={floor}
          show={(placeholder) => {
            const at = all.findIndex((one) => one.covered.placeholder === placeholder);
            setPlace({ ...place, view: "lines", at: Math.max(at, 0), page: all[at]?.page ?? page });
          }}
          decide={setAbout}
        />
      ) : (
        <>
          <Finding
            chosen={chosen}
            total={all.length}
            at={place.at}
            step={step}
            mayDecide={mayDecide}
            floor={floor}
            letGo={letGo}
          />
          {found ? (
            <BothPages
              packet={packet}
              exhibit={exhibit}
              page={page}
              size={found.pages[page - 1]}
              zoom={place.zoom}
              chosen={chosen}
              drawn={drawn.filter((box) => box.page === page)}
              waiting={here}
              picked={waiting.find((box) => box.id === picked)}
              mayDraw={mayDecide}
              onChoose={(one) => choose(all.findIndex((other) => other.covered === one))}
              onDraw={add}
              onPick={(box) => setPicked(box.id)}
              onMove={move}
            />
          ) : (
            <div className="px-3.5">{!pages.error && <Waiting label="The pages are being read" lines={8} />}</div>
          )}
          <div className="flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-t border-line px-3.5 py-1.5 text-soft">
            {mayDecide &&
              (waiting.length === 0 ? (
                <span>Drag over a page to draw a box, or</span>
              ) : (
                <span>
                  {count(waiting.length, "box", "boxes")} drawn, not covered yet
                  {waiting.length > here.length && `, ${waiting.length - here.length} on other pages`}
                </span>
              ))}
            {mayDecide && (
              <Button className="px-1.5 py-0" onClick={() => add(MIDDLE)}>
                <Key>B</Key> {waiting.length ? "Another" : "put one in the middle"}
              </Button>
            )}
            {waiting.length > 0 && (
              <>
                <Button className="px-1.5 py-0" look="ink" onClick={() => setAsks(true)}>
                  <Key>M</Key> Cover them
                </Button>
                <Button className="px-1.5 py-0" onClick={() => setWaiting([])}>
                  Rub out
                </Button>
              </>
            )}
            <span className="ml-auto flex items-center gap-2">
              <Button className="px-1.5 py-0" disabled={place.zoom === 1} onClick={() => zoom(-1)}>
                <Key>-</Key>
                <span className="sr-only">Smaller</span>
              </Button>
              <span className="w-10 text-center tabular-nums">{place.zoom * 100} %</span>
              <Button className="px-1.5 py-0" disabled={place.zoom === ZOOMS.at(-1)} onClick={() => zoom(1)}>
                <Key>+</Key>
                <span className="sr-only">Larger</span>
              </Button>
            </span>
          </div>
        </>
      )}
      <Drawn
        drawn={drawn}
        mayDecide={mayDecide}
        busy={act.isPending}
        rubOut={(ident) => act.mutate({ rubOut: ident })}
      />
      {about && <Deciding packet={packet} about={about} onClose={() => setAbout(undefined)} />}
      {asks && (
        <WhyCover
          boxes={waiting.length}
          busy={act.isPending}
          problem={act.error}
          onClose={() => setAsks(false)}
          onCover={(reason) =>
            act.mutate(
              { draw: waiting, reason },
              {
                onSuccess: () => {
                  setWaiting([]);
                  setAsks(false);
                },
              },
            )
          }
        />
      )}
    </Sheet>
  );
}
