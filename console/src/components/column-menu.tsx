/** The menu of a table's columns. */

import { DropdownMenu } from "radix-ui";
import { MenuSheet } from "./menu";
import type { Column } from "./table";

/** Which columns are shown. */
export function ColumnMenu<T>({
  columns,
  shown,
  onChange,
}: {
  columns: Column<T>[];
  shown: string[];
  onChange: (shown: string[]) => void;
}) {
  return (
    <DropdownMenu.Root>
      <DropdownMenu.Trigger className="rounded-md border border-line bg-sheet px-3 py-1.5 hover:border-soft">
        Columns
      </DropdownMenu.Trigger>
      <MenuSheet className="min-w-44">
        {columns.map((column, place) => (
          <DropdownMenu.CheckboxItem
            key={column.key}
            disabled={place === 0}
            checked={shown.includes(column.key)}
            onCheckedChange={(on) => {
              const keys = columns.map((one) => one.key);
              onChange(keys.filter((key) => (key === column.key ? on : shown.includes(key))));
            }}
            onSelect={(event) => event.preventDefault()}
            className="flex cursor-pointer justify-between gap-6 rounded px-3 py-1 outline-none data-disabled:text-soft data-highlighted:bg-paper"
          >
            {column.title}
            <DropdownMenu.ItemIndicator>✓</DropdownMenu.ItemIndicator>
          </DropdownMenu.CheckboxItem>
        ))}
      </MenuSheet>
    </DropdownMenu.Root>
  );
}
