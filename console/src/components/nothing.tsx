/** A list without entries. */
import type { ReactNode } from "react";

export function Nothing({ children }: { children: ReactNode }) {
  return <p className="py-3 text-soft">{children}</p>;
}
