/** Pictures and PDFs: each page as it came beside the page as it goes, and boxes drawn over what nobody found. */
import { useRef, useState } from "react";
import type { Exhibit, Packet } from "../../api/data";
import { useFloor } from "../../api/data";
import {
  type Covered,
  type DrawnBox,
  type NewBox,
  pageAddress,
  useBoxes,
  usePages,
  type WaitingBox,
} from "../../api/pages";
import { Button, count, join, Key, Mono, ProblemNote, Sheet, sayMoment, Waiting } from "../../parts/basics";
import { Dialog } from "../../parts/dialog";
import { useKeys } from "../../parts/keys";
import { type About, Deciding } from "./deciding";
import { Steps, Why } from "./looking";
import { PagePane } from "./paper";
import { kindWords, type LookProps } from "./review";
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

interface FindingProps {
  chosen: Covered | undefined;
  total: number;
  at: number;
  step: (by: number) => void;
  mayDecide: boolean;
  floor: string[];
  letGo: () => void;
}

/** What lies beneath the box that is looked at. */
function Finding({ chosen, total, at, step, mayDecide, floor, letGo }: FindingProps) {
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-x-3 border-b border-line px-3.5 py-1" aria-live="polite">
      {chosen ? (
        <>
          <span className="text-soft">{chosen.kind}</span>
          <Mono className="max-w-72 truncate">{chosen.value || "a code that says nothing"}</Mono>
          {!chosen.sure && <span className="text-ochre">not certain</span>}
          <Mono className="text-soft">{chosen.placeholder}</Mono>
        </>
      ) : (
        <span className="text-soft">{total ? "No box is chosen" : "Nothing was found"}</span>
      )}
      <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
        {mayDecide && chosen?.value && (
          <Button className="px-1.5 py-0" disabled={floor.includes(chosen.kind)} onClick={letGo}>
            <Key>U</Key> {floor.includes(chosen.kind) ? "Never goes out" : "Let it go out"}
          </Button>
        )}
        {total > 0 && (
          <>
            {chosen ? `box ${at + 1} of ${total}` : count(total, "box", "boxes")}
            <Steps
              what="Box"
              first={chosen !== undefined && at === 0}
              last={chosen !== undefined && at >= total - 1}
              step={step}
            />
          </>
        )}
      </span>
    </div>
  );
}

interface BothProps {
  packet: Packet;
  exhibit: Exhibit;
  page: number;
  size: { width: number; height: number; covered: Covered[] } | undefined;
  zoom: number;
  chosen: Covered | undefined;
  drawn: DrawnBox[];
  waiting: WaitingBox[];
  picked: WaitingBox | undefined;
  mayDraw: boolean;
  onChoose: (one: Covered) => void;
  onDraw: (box: Omit<NewBox, "page">) => void;
  onPick: (box: WaitingBox) => void;
  onMove: (box: WaitingBox | null) => void;
}

/** Both copies of a page, one beside or above the other; what one shows, the other does. */
function BothPages({ packet, exhibit, page, size, ...rest }: BothProps) {
  const original = useRef<HTMLDivElement>(null);
  const outgoing = useRef<HTMLDivElement>(null);
  if (!size) return null;
  const wide = size.width > size.height;
  const follow = (from: HTMLDivElement | null, to: HTMLDivElement | null) => {
    if (!from || !to) return;
    to.scrollTop = from.scrollTop;
    to.scrollLeft = from.scrollLeft;
  };
  const pane = {
    ...rest,
    covered: size.covered,
    ratio: size.width / size.height,
    high: wide ? "max-h-[31vh]" : "max-h-[62vh]",
  };
  return (
    <div className={join("grid gap-3 px-3.5 py-2.5", wide ? "grid-cols-1" : "grid-cols-2 max-md:grid-cols-1")}>
      <figure>
        <figcaption className="pb-1">
          <b className="font-semibold">Original</b> <span className="ml-3 text-soft">stays here</span>
        </figcaption>
        <PagePane
          {...pane}
          side="original"
          address={pageAddress(packet.number, exhibit, page, "original")}
          scroll={original}
          onScroll={() => follow(original.current, outgoing.current)}
        />
      </figure>
      <figure>
        <figcaption className="pb-1">
          <b className="font-semibold">Outgoing copy</b>{" "}
          <span className="ml-3 text-soft">goes to {packet.vendor ?? "the vendor"}</span>
        </figcaption>
        <PagePane
          {...pane}
          side="outgoing"
          address={pageAddress(packet.number, exhibit, page, "outgoing")}
          scroll={outgoing}
          onScroll={() => follow(outgoing.current, original.current)}
        />
      </figure>
    </div>
  );
}

interface DrawnProps {
  drawn: DrawnBox[];
  mayDecide: boolean;
  busy: boolean;
  rubOut: (ident: string) => void;
}

function Drawn({ drawn, mayDecide, busy, rubOut }: DrawnProps) {
  if (drawn.length === 0) return null;
  return (
    <ul className="border-t border-line px-3.5 py-1" aria-label="Boxes that were drawn">
      {drawn.map((box) => (
        <li key={box.id} className="flex items-baseline gap-3 py-0.5">
          <span className="whitespace-nowrap">box on page {box.page}</span>
          <span className="text-soft">
            {box.reason} ({box.by}, {sayMoment(box.at)})
          </span>
          {mayDecide && (
            <button
              type="button"
              className="link ml-auto whitespace-nowrap"
              disabled={busy}
              onClick={() => rubOut(box.id)}
            >
              Take back
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

interface WhyProps {
  boxes: number;
  busy: boolean;
  problem: unknown;
  onClose: () => void;
  onCover: (reason: string) => void;
}

function WhyCover({ boxes, busy, problem, onClose, onCover }: WhyProps) {
  const [reason, setReason] = useState("");
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title="Cover what is drawn"
      className="w-[min(96vw,480px)] p-5"
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onCover(reason);
        }}
      >
        <p className="text-soft">
          {boxes === 1 ? "The box is" : `The ${boxes} boxes are`} burnt into the outgoing copy; it is made and checked
          for leaks again.
        </p>
        <Why reason={reason} setReason={setReason} />
        <ProblemNote problem={problem} />
        <div className="mt-1 flex gap-3">
          <Button look="ink" type="submit" disabled={busy}>
            Cover {boxes === 1 ? "it" : "them"}
          </Button>
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}
