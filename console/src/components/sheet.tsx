/** A part of a page on a sheet of paper. */
import type { ReactNode } from "react";
import { join } from "./join";

export function Sheet({ title, children, className }: { title?: string; children: ReactNode; className?: string }) {
  return (
    <section className={join("rounded-sheet border border-line bg-sheet", className)}>
      {title && <h2 className="px-4 pt-3.5 text-[16px]">{title}</h2>}
      {children}
    </section>
  );
}
