/** One of several filters, on or off. */
import type { ReactNode } from "react";
import { join } from "./join";

export function Chip({ chosen, onClick, children }: { chosen: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <button
      type="button"
      aria-pressed={chosen}
      onClick={onClick}
      className={join(
        "rounded-full border px-2.5",
        chosen ? "border-ink bg-sheet" : "border-line text-soft hover:border-soft",
      )}
    >
      {children}
    </button>
  );
}
