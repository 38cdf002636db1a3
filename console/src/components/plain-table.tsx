/** A table: a head for each column, and rows that the arrow keys move through. */
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

/** A table on a sheet of its own. */
export function PlainTable({ className, ...table }: Props) {
  return (
    <Sheet className={className}>
      <HeadedTable {...table} headClass="py-2" />
    </Sheet>
  );
}

/** A table within something else. */
export function HeadedTable({
  heads,
  right = [],
  className,
  headClass = "py-1",
  children,
}: Props & { headClass?: string }) {
  return (
    <div className="relative overflow-x-auto">
      <table className={join("w-full text-left", className)} onKeyDown={moveInRows}>
        <thead>
          <tr className="text-soft">
            {heads.map((head) => (
              <th
                key={head}
                scope="col"
                className={join("px-4 font-normal", headClass, right.includes(head) && "text-right")}
              >
                {head || <Hidden>Acts</Hidden>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>{children}</tbody>
      </table>
    </div>
  );
}
