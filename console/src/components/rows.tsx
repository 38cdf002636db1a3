/** A list whose rows the arrow keys move through. */
import type { ReactNode } from "react";
import { moveInRows } from "../keyboard/rows";

export function Rows({ label, children }: { label: string; children: ReactNode }) {
  return (
    <ul aria-label={label} onKeyDown={moveInRows}>
      {children}
    </ul>
  );
}
