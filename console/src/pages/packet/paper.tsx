/** One page of an exhibit, to look at and to draw boxes on: its picture, with what lies on it. */
import { type KeyboardEvent, type PointerEvent, type RefObject, useRef, useState } from "react";
import type { Covered, DrawnBox, NewBox, Side, WaitingBox } from "../../api/pages";
import { join } from "../../parts/basics";

type Edges = Pick<NewBox, "left" | "top" | "right" | "bottom">;

const SMALLEST = 0.004;
const STEP = 0.005;

interface Props {
  address: string;
  side: Side;
  ratio: number;
  zoom: number;
  covered: Covered[];
  chosen: Covered | undefined;
  drawn: DrawnBox[];
  waiting: WaitingBox[];
  picked: WaitingBox | undefined;
  mayDraw: boolean;
  scroll: RefObject<HTMLDivElement | null>;
  onScroll: () => void;
  onChoose: (one: Covered) => void;
  onDraw: (box: Edges) => void;
  onPick: (box: WaitingBox) => void;
  /** The picked box is here now; without one it is rubbed out. */
  onMove: (box: WaitingBox | null) => void;
  /** How high the pane may get. */
  high: string;
}

export function PagePane({ address, side, ratio, zoom, scroll, onScroll, high, ...marks }: Props) {
  const ground = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<[number, number]>();
  const [dragged, setDragged] = useState<Edges>();
  const at = (event: PointerEvent): [number, number] => {
    const box = ground.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [inside((event.clientX - box.left) / box.width), inside((event.clientY - box.top) / box.height)];
  };
  const end = () => {
    if (dragged && dragged.right - dragged.left > SMALLEST && dragged.bottom - dragged.top > SMALLEST) {
      marks.onDraw(dragged);
    }
    setFrom(undefined);
    setDragged(undefined);
  };
  return (
    <div
      ref={scroll}
      onScroll={onScroll}
      className={join("min-h-40 overflow-auto rounded-sm border border-line bg-paper", high)}
    >
      <div
        ref={ground}
        className={join("relative select-none", marks.mayDraw && "cursor-crosshair")}
        style={{ width: `${zoom * 100}%`, aspectRatio: ratio }}
        onPointerDown={(event) => {
          // A finger scrolls; who has neither mouse nor pen puts a box in the middle and moves it.
          if (
            !marks.mayDraw ||
            event.pointerType === "touch" ||
            event.button !== 0 ||
            (event.target as HTMLElement).closest("button")
          )
            return;
          event.currentTarget.setPointerCapture(event.pointerId);
          setFrom(at(event));
        }}
        onPointerMove={(event) => from && setDragged(between(from, at(event)))}
        onPointerUp={end}
        onPointerCancel={() => {
          setFrom(undefined);
          setDragged(undefined);
        }}
      >
        <img
          src={address}
          alt={side === "original" ? "The page as it came" : "The page as it goes out"}
          draggable={false}
          className="absolute inset-0 size-full"
        />
        {marks.covered.map((one) => (
          <button
            key={`${one.left} ${one.top} ${one.right} ${one.bottom}`}
            type="button"
            tabIndex={-1}
            aria-label={`${one.kind} ${one.value}`}
            data-chosen={one === marks.chosen || undefined}
            onClick={() => marks.onChoose(one)}
            className={join(
              "absolute cursor-pointer rounded-[1px]",
              side === "original" ? "bg-[#8f5d0a]/20" : "",
              one === marks.chosen
                ? "outline-2 outline-offset-2 outline-slate"
                : side === "original" && "outline-1 outline-[#8f5d0a]/60",
            )}
            style={place(one)}
          />
        ))}
        {side === "original" &&
          marks.drawn.map((box) => (
            <span
              key={box.id}
              title={`${box.reason} (${box.by})`}
              className="absolute border border-[#211f1b] bg-[#211f1b]/35"
              style={place(box)}
            />
          ))}
        {marks.waiting.map((box) => (
          <Waiting
            key={box.id}
            box={box}
            held={side === "original" && box === marks.picked}
            onPick={marks.onPick}
            onMove={marks.onMove}
          />
        ))}
        {dragged && (
          <span className="absolute border border-dashed border-[#211f1b] bg-[#211f1b]/25" style={place(dragged)} />
        )}
      </div>
    </div>
  );
}

interface WaitingProps {
  box: WaitingBox;
  held: boolean;
  onPick: Props["onPick"];
  onMove: Props["onMove"];
}

/** A box that is drawn but not burnt in yet: arrows move it, with Shift they size it. */
function Waiting({ box, held, onPick, onMove }: WaitingProps) {
  const press = (event: KeyboardEvent) => {
    const moved = event.shiftKey ? sized(box, event.key) : shifted(box, event.key);
    const gone = event.key === "Delete" || event.key === "Backspace";
    if (!moved && !gone) return;
    event.preventDefault();
    onMove(gone ? null : moved);
  };
  return (
    <button
      type="button"
      ref={(element) => {
        if (held && element && document.activeElement !== element) element.focus({ preventScroll: true });
      }}
      aria-label={`Box ${box.id}: arrows move it, with Shift they size it, Delete rubs it out`}
      className="absolute cursor-pointer border-2 border-dashed border-[#211f1b] bg-[#211f1b]/25"
      style={place(box)}
      onFocus={() => onPick(box)}
      onKeyDown={press}
    />
  );
}

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

function shifted(box: WaitingBox, key: string): WaitingBox | null {
  const [x, y] = ARROWS[key] ?? [0, 0];
  if (!x && !y) return null;
  const dx = Math.min(Math.max(x, -box.left), 1 - box.right);
  const dy = Math.min(Math.max(y, -box.top), 1 - box.bottom);
  return { ...box, left: box.left + dx, right: box.right + dx, top: box.top + dy, bottom: box.bottom + dy };
}

function sized(box: WaitingBox, key: string): WaitingBox | null {
  const [x, y] = ARROWS[key] ?? [0, 0];
  if (!x && !y) return null;
  return {
    ...box,
    right: inside(Math.max(box.right + x, box.left + SMALLEST)),
    bottom: inside(Math.max(box.bottom + y, box.top + SMALLEST)),
  };
}

const inside = (part: number) => Math.min(Math.max(part, 0), 1);

const between = ([x, y]: [number, number], [to, down]: [number, number]): Edges => ({
  left: Math.min(x, to),
  right: Math.max(x, to),
  top: Math.min(y, down),
  bottom: Math.max(y, down),
});

const place = ({ left, top, right, bottom }: Edges) => ({
  left: `${left * 100}%`,
  top: `${top * 100}%`,
  width: `${(right - left) * 100}%`,
  height: `${(bottom - top) * 100}%`,
});
