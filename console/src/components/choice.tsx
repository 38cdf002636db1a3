/** One of several, as a radio button with its name and what is said of it. */
import type { ReactNode } from "react";

interface ChoiceProps {
  /** The name of the group. */
  name: string;
  label: string;
  isChosen: boolean;
  choose: () => void;
  children?: ReactNode;
}

export function Choice({ name, label, isChosen, choose, children }: ChoiceProps) {
  return (
    <label className="flex flex-wrap items-center gap-x-3 py-1">
      <input type="radio" name={name} className="accent-ink" checked={isChosen} onChange={choose} />
      <span className="min-w-0 grow break-all">{label}</span>
      {children}
    </label>
  );
}
