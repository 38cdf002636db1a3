/** A page on which boxes are drawn, moved and sized. */

import { type KeyboardEvent, type PointerEvent, type RefObject, useRef, useState } from "react";
import type { Covered, DrawnBox, Side, WaitingBox } from "../../api/exhibit-pages";
import { join } from "../../components/join";
import { between, type Edges, inside, place, SMALLEST, shifted, sized } from "./edges";

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
  const { ground, dragged, begin, drag, end, leave } = useDrawing(marks.mayDraw, marks.onDraw);
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
        onPointerDown={begin}
        onPointerMove={drag}
        onPointerUp={end}
        onPointerCancel={leave}
      >
        <img
          src={address}
          alt={side === "original" ? "The original page" : "The outgoing page"}
          draggable={false}
          className="absolute inset-0 size-full"
        />
        {marks.covered.map((one) => (
          <CoveredMark
            key={`${one.left} ${one.top} ${one.right} ${one.bottom}`}
            one={one}
            side={side}
            chosen={one === marks.chosen}
            onChoose={marks.onChoose}
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

/** A box that is drawn with mouse or pen. */
function useDrawing(mayDraw: boolean, onDraw: Props["onDraw"]) {
  const ground = useRef<HTMLDivElement>(null);
  const [from, setFrom] = useState<[number, number]>();
  const [dragged, setDragged] = useState<Edges>();
  const at = (event: PointerEvent): [number, number] => {
    const box = ground.current?.getBoundingClientRect();
    if (!box) return [0, 0];
    return [inside((event.clientX - box.left) / box.width), inside((event.clientY - box.top) / box.height)];
  };
  const leave = () => {
    setFrom(undefined);
    setDragged(undefined);
  };
  const begin = (event: PointerEvent<HTMLDivElement>) => {
    // A finger scrolls; who has neither mouse nor pen puts a box in the middle and moves it.
    if (
      !mayDraw ||
      event.pointerType === "touch" ||
      event.button !== 0 ||
      (event.target as HTMLElement).closest("button")
    )
      return;
    event.currentTarget.setPointerCapture(event.pointerId);
    setFrom(at(event));
  };
  const end = () => {
    if (dragged && dragged.right - dragged.left > SMALLEST && dragged.bottom - dragged.top > SMALLEST) {
      onDraw(dragged);
    }
    leave();
  };
  const drag = (event: PointerEvent) => from && setDragged(between(from, at(event)));
  return { ground, dragged, begin, drag, end, leave };
}

interface CoveredProps {
  one: Covered;
  side: Side;
  chosen: boolean;
  onChoose: Props["onChoose"];
}

function CoveredMark({ one, side, chosen, onChoose }: CoveredProps) {
  return (
    <button
      type="button"
      tabIndex={-1}
      aria-label={`${one.kind} ${one.value}`}
      data-chosen={chosen || undefined}
      onClick={() => onChoose(one)}
      className={join(
        "absolute cursor-pointer rounded-[1px]",
        side === "original" ? "bg-[#8f5d0a]/20" : "",
        chosen ? "outline-2 outline-offset-2 outline-slate" : side === "original" && "outline-1 outline-[#8f5d0a]/60",
      )}
      style={place(one)}
    />
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
