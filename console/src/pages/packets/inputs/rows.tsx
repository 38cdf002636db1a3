/** A small table as an answer. */

import { useEffect, useRef, useState } from "react";
import { TextButton } from "../../../components/button";
import { join } from "../../../components/join";
import type { InputProps } from "./props";

/** A small table; kept as lines with bars between, as it is typed elsewhere. */
export function Rows({ question, disabled, save }: Omit<InputProps, "packet">) {
  const value = question.answer.value ?? "";
  const [rows, setRows] = useState(() => parse(value, question.columns.length));
  const table = useRef<HTMLTableElement>(null);
  useEffect(() => {
    // What comes back while someone is still typing in the table is older than what stands there.
    if (!table.current?.contains(document.activeElement)) setRows(parse(value, question.columns.length));
  }, [value, question.columns.length]);
  const keep = (changed: string[][]) => {
    const full = changed.filter((row) => row.some((cell) => cell.trim()));
    save(full.map((row) => row.map((cell) => cell.trim()).join(" | ")).join("\n"));
  };
  const set = (at: number, column: number, cell: string) =>
    rows.map((row, n) => (n === at ? row.map((old, m) => (m === column ? cell : old)) : row));
  return (
    <table
      ref={table}
      aria-labelledby={`l-${question.id}`}
      className="w-full border-collapse max-md:block max-md:overflow-x-auto"
    >
      <thead>
        <tr>
          {question.columns.map((column) => (
            <th key={column.id} scope="col" className="pr-2 pb-1 text-left font-normal text-soft">
              {column.ask}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is what stands in its place
          <tr key={at}>
            {question.columns.map((column, m) => (
              <Cell
                key={column.id}
                column={column}
                id={at === 0 && m === 0 ? `q-${question.id}` : undefined}
                label={`${column.ask}, row ${at + 1}`}
                disabled={disabled}
                value={row[m] ?? ""}
                onType={(cell) => setRows(set(at, m, cell))}
                onChoose={(cell) => {
                  setRows(set(at, m, cell));
                  keep(set(at, m, cell));
                }}
                onLeave={() => keep(rows)}
              />
            ))}
          </tr>
        ))}
      </tbody>
      {!disabled && rows.length < question.max_items && (
        <tfoot>
          <tr>
            <td colSpan={question.columns.length}>
              <TextButton onClick={() => setRows([...rows, question.columns.map(() => "")])}>Another row</TextButton>
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

interface CellProps {
  column: InputProps["question"]["columns"][number];
  id: string | undefined;
  label: string;
  disabled: boolean;
  value: string;
  onType: (cell: string) => void;
  onChoose: (cell: string) => void;
  onLeave: () => void;
}

function Cell({ column, id, label, disabled, value, onType, onChoose, onLeave }: CellProps) {
  const choices = column.one_of ?? [];
  const longest = Math.max(0, ...choices.map((one) => one.length));
  const shared = {
    id,
    "aria-label": label,
    className: join("field", column.number ? "w-full min-w-14 font-mono text-right" : !longest && "min-w-28"),
    disabled,
    style: longest ? { minWidth: `${longest + 7}ch` } : undefined,
    value,
  };
  return (
    <td className={join("pr-2 pb-1.5", column.number && "w-24")}>
      {choices.length > 0 ? (
        <select {...shared} onChange={(event) => onChoose(event.target.value)}>
          <option value="">–</option>
          {choices.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      ) : (
        <input
          {...shared}
          onChange={(event) => onType(event.target.value)}
          onBlur={onLeave}
          onKeyDown={(event) => event.key === "Enter" && onLeave()}
        />
      )}
    </td>
  );
}

export function parse(value: string, columns: number): string[][] {
  const lines = value.split("\n").filter((line) => line.trim());
  const rows = lines.map((line) => {
    const cells = line.split("|").map((cell) => cell.trim());
    return Array.from({ length: columns }, (_, place) => cells[place] ?? "");
  });
  return rows.length ? rows : [Array.from({ length: columns }, () => "")];
}
