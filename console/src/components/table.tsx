/** A dense table: sorted by its headings, rows ticked with X, opened with Enter, moved through with the arrow keys. */
import type { ReactNode } from "react";
import { Link } from "wouter";
import { useKeys } from "../keyboard/keys";
import { moveInRows } from "../keyboard/rows";
import { join } from "./join";

/** What is chosen, with this one or, if it was, without. */
export function toggled<One>(chosen: ReadonlySet<One>, one: One): Set<One> {
  const next = new Set(chosen);
  if (!next.delete(one)) next.add(one);
  return next;
}

export interface Column<T> {
  key: string;
  title: string;
  /** By what the service sorts this column, if it can. */
  sort?: string;
  right?: boolean;
  show: (row: T) => ReactNode;
}

interface Props<T> {
  label: string;
  columns: Column<T>[];
  rows: T[];
  sort: string;
  onSort: (sort: string) => void;
  href?: (row: T) => string;
  /** Given only to those who may act on what they choose. */
  chosen?: Set<string>;
  onChoose?: (chosen: Set<string>) => void;
}

export function Table<T extends { id: string }>({
  label,
  columns,
  rows,
  sort,
  onSort,
  href,
  chosen,
  onChoose,
}: Props<T>) {
  const toggle = (id: string) => {
    if (!chosen || !onChoose) return;
    onChoose(toggled(chosen, id));
  };
  useKeys("table", {
    choose:
      Boolean(onChoose) &&
      (() => {
        const row = document.activeElement?.closest<HTMLElement>("[data-id]");
        if (row?.dataset.id) toggle(row.dataset.id);
      }),
  });
  const all = rows.length > 0 && rows.every((row) => chosen?.has(row.id));
  return (
    <div className="overflow-x-auto">
      <table aria-label={label} className="w-full border-collapse text-left">
        <thead>
          <tr className="border-b border-ink/40">
            {chosen && (
              <th className="w-7 py-1.5">
                <input
                  type="checkbox"
                  aria-label="Choose all that are shown"
                  checked={all}
                  onChange={() => onChoose?.(all ? new Set() : new Set(rows.map((row) => row.id)))}
                />
              </th>
            )}
            {columns.map((column) => (
              <Head key={column.key} column={column} sort={sort} onSort={onSort} />
            ))}
          </tr>
        </thead>
        <tbody onKeyDown={moveInRows}>
          {rows.map((row) => (
            <TableRow
              key={row.id}
              row={row}
              number={rows.indexOf(row) + 1}
              columns={columns}
              href={href}
              chosen={chosen?.has(row.id)}
              onToggle={toggle}
            />
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface RowProps<T> {
  row: T;
  number: number;
  columns: Column<T>[];
  href: ((row: T) => string) | undefined;
  /** Not given where nothing can be chosen. */
  chosen: boolean | undefined;
  onToggle: (id: string) => void;
}

function TableRow<T extends { id: string }>({ row, number, columns, href, chosen, onToggle }: RowProps<T>) {
  return (
    <tr data-id={row.id} className={join("border-b border-line hover:bg-sheet", chosen && "bg-ochre-wash/50")}>
      {chosen !== undefined && (
        <td className="py-1.5">
          <input
            type="checkbox"
            data-row={!href || undefined}
            tabIndex={href ? -1 : 0}
            aria-label={`Choose row ${number}`}
            checked={chosen}
            onChange={() => onToggle(row.id)}
          />
        </td>
      )}
      {columns.map((column, place) => (
        <td
          key={column.key}
          className={join("max-w-80 truncate py-1.5 pr-4 last:pr-0", column.right && "text-right tabular-nums")}
        >
          {place === 0 && href ? (
            <Link data-row href={href(row)} className="hover:underline">
              {column.show(row)}
            </Link>
          ) : (
            column.show(row)
          )}
        </td>
      ))}
    </tr>
  );
}

function Head<T>({ column, sort, onSort }: { column: Column<T>; sort: string; onSort: (sort: string) => void }) {
  const place = join("py-1.5 pr-4 font-semibold whitespace-nowrap last:pr-0", column.right && "text-right");
  if (!column.sort) {
    return (
      <th scope="col" className={join(place, "text-soft")}>
        {column.title}
      </th>
    );
  }
  const up = sort === column.sort;
  const down = sort === `-${column.sort}`;
  return (
    <th scope="col" aria-sort={up ? "ascending" : down ? "descending" : "none"} className={place}>
      <button
        type="button"
        className="font-semibold text-soft hover:text-ink"
        onClick={() => onSort(up ? `-${column.sort}` : (column.sort ?? ""))}
      >
        {column.title}
        <span aria-hidden className={join("inline-block w-3 text-center", !up && !down && "invisible")}>
          {down ? "↓" : "↑"}
        </span>
      </button>
    </th>
  );
}
