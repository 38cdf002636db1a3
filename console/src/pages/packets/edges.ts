/** The edges of a box, moved and sized by keys and pointer. */
import type { NewBox, WaitingBox } from "../../api/exhibit-pages";

export type Edges = Pick<NewBox, "left" | "top" | "right" | "bottom">;

export const SMALLEST = 0.004;

const STEP = 0.005;

const ARROWS: Record<string, [number, number]> = {
  ArrowLeft: [-STEP, 0],
  ArrowRight: [STEP, 0],
  ArrowUp: [0, -STEP],
  ArrowDown: [0, STEP],
};

export function shifted(box: WaitingBox, key: string): WaitingBox | null {
  const [x, y] = ARROWS[key] ?? [0, 0];
  if (!x && !y) return null;
  const dx = Math.min(Math.max(x, -box.left), 1 - box.right);
  const dy = Math.min(Math.max(y, -box.top), 1 - box.bottom);
  return { ...box, left: box.left + dx, right: box.right + dx, top: box.top + dy, bottom: box.bottom + dy };
}

export function sized(box: WaitingBox, key: string): WaitingBox | null {
  const [x, y] = ARROWS[key] ?? [0, 0];
  if (!x && !y) return null;
  return {
    ...box,
    right: inside(Math.max(box.right + x, box.left + SMALLEST)),
    bottom: inside(Math.max(box.bottom + y, box.top + SMALLEST)),
  };
}

export const inside = (part: number) => Math.min(Math.max(part, 0), 1);

export const between = ([x, y]: [number, number], [to, down]: [number, number]): Edges => ({
  left: Math.min(x, to),
  right: Math.max(x, to),
  top: Math.min(y, down),
  bottom: Math.max(y, down),
});

export const place = ({ left, top, right, bottom }: Edges) => ({
  left: `${left * 100}%`,
  top: `${top * 100}%`,
  width: `${(right - left) * 100}%`,
  height: `${(bottom - top) * 100}%`,
});
