/** The bar of actions for ticked rows. */
import type { ReactNode } from "react";
import { Key } from "./key";

interface ChosenProps {
  words: string;
  onEdit?: () => void;
  onClear: () => void;
  children?: ReactNode;
}

export function ChosenBar({ words, onEdit, onClear, children }: ChosenProps) {
  return (
    <div
      role="status"
      className="sticky bottom-3 mx-auto mt-3 flex w-fit items-center gap-4 rounded-md border border-ink bg-sheet px-4 py-2"
    >
      <span>{words}</span>
      {onEdit && (
        <button type="button" className="link" onClick={onEdit} aria-keyshortcuts="e">
          Change <Key>E</Key>
        </button>
      )}
      {children}
      <button type="button" className="text-soft hover:text-ink" onClick={onClear}>
        Let go
      </button>
    </div>
  );
}
