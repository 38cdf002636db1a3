/** Identifiers, in a font of fixed width. */
import type { ReactNode } from "react";
import { join } from "./join";

export function Mono({ children, className }: { children: ReactNode; className?: string }) {
  return <span className={join("font-mono text-[12.5px]", className)}>{children}</span>;
}
