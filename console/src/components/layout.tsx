/** How parts stand beside or below each other. */
import type { HTMLAttributes } from "react";
import { join } from "./join";

type Gap = 1 | 1.5 | 2 | 3 | 4;
interface LayoutProps extends Omit<HTMLAttributes<HTMLElement>, "className"> {
  as?: "div" | "span" | "p" | "ul" | "ol" | "li" | "nav";
  /** Distance of the parts, in steps of 4 pixels. */
  gap?: Gap;
  align?: "start" | "center" | "baseline";
  place?: "apart" | "end";
}

const gaps: Record<Gap, string> = { 1: "gap-1", 1.5: "gap-1.5", 2: "gap-2", 3: "gap-3", 4: "gap-4" };
const columns: Record<Gap, string> = { 1: "gap-x-1", 1.5: "gap-x-1.5", 2: "gap-x-2", 3: "gap-x-3", 4: "gap-x-4" };
const aligned = { start: "items-start", center: "items-center", baseline: "items-baseline" };
const placed = { apart: "justify-between", end: "justify-end" };

/** Parts side by side. With `wrap` they go on in the next line, at the same distance; with `lines`, close below. `push`
moves the row to the end of the one that it is in. */
export function Row({
  as: Element = "div",
  gap,
  align,
  place,
  wrap = false,
  lines = false,
  push = false,
  ...rest
}: LayoutProps & { wrap?: boolean; lines?: boolean; push?: boolean }) {
  return (
    <Element
      className={join(
        "flex",
        (wrap || lines) && "flex-wrap",
        gap && (lines ? columns : gaps)[gap],
        align && aligned[align],
        place && placed[place],
        push && "ml-auto",
      )}
      {...rest}
    />
  );
}

/** Parts below each other. */
export function Column({ as: Element = "div", gap, align, place, ...rest }: LayoutProps) {
  return (
    <Element
      className={join("flex flex-col", gap && gaps[gap], align && aligned[align], place && placed[place])}
      {...rest}
    />
  );
}
