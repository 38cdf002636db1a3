/** One of the choices that narrow a list; all, until somebody chooses. */
import type { ReactNode } from "react";

interface Props {
  name: string;
  value: string;
  onChange: (value: string) => void;
  children: ReactNode;
}

export function Filter({ name, value, onChange, children }: Props) {
  return (
    <select
      aria-label={name}
      className="field w-auto max-w-44"
      value={value}
      onChange={(event) => onChange(event.target.value)}
    >
      <option value="">{name}: all</option>
      {children}
    </select>
  );
}
