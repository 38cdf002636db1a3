/** A table on a sheet: a head for each column, and rows that the arrow keys move through. */
import type { ReactNode } from "react";
import { moveInRows } from "../keyboard/rows";
import { join } from "./join";
import { Sheet } from "./sheet";
import { Hidden } from "./text";

interface Props {
  /** An empty one stands over the acts of each row. */
  heads: readonly string[];
  /** Those over columns of numbers. */
  right?: readonly string[];
  className?: string;
  children: ReactNode;
}

export function PlainTable({ heads, right = [], className, children }: Props) {
  return (
    <Sheet className={join("overflow-x-auto", className)}>
      <table className="w-full text-left" onKeyDown={moveInRows}>
        <thead>
          <tr className="text-soft">
            {heads.map((head) => (
              <th
                key={head}
                scope="col"
                className={join("px-4 py-2 font-normal", right.includes(head) && "text-right")}
              >
                {head || <Hidden>Acts</Hidden>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </Sheet>
  );
}
