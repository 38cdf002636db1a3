/** Arrow keys in lists. */
import type { KeyboardEvent } from "react";

/** Arrow keys move between the rows of a list; Enter opens, as it does on any link. */
export function moveInRows(event: KeyboardEvent<HTMLElement>) {
  if (event.key !== "ArrowDown" && event.key !== "ArrowUp") return;
  const rows = [...event.currentTarget.querySelectorAll<HTMLElement>("[data-row]")];
  const here = rows.findIndex((row) => row.contains(document.activeElement));
  const next = event.key === "ArrowDown" ? (rows[here + 1] ?? rows[here]) : (rows[here - 1] ?? rows[0]);
  if (next) {
    event.preventDefault();
    next.focus();
  }
}
