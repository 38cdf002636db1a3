/** A key of the keyboard, as it is shown beside what it does. */
import type { ReactNode } from "react";

export function Key({ children }: { children: ReactNode }) {
  return (
    <kbd aria-hidden className="rounded-sm border border-current/30 px-1 font-mono text-[11px] leading-4 opacity-80">
      {children}
    </kbd>
  );
}
