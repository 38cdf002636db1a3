/** The heading of a page. */
import type { ReactNode } from "react";
import { join } from "./join";

export function PageTitle({ children, className }: { children: ReactNode; className?: string }) {
  return <h1 className={join("text-[24px] leading-8", className)}>{children}</h1>;
}
