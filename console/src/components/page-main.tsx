/** The main part of a page, in one of the widths that pages have. */
import type { ReactNode } from "react";
import { join } from "./join";

const WIDTHS = { text: "max-w-[1000px]", wide: "max-w-[1180px]", table: "max-w-[1280px]" };

interface Props {
  width: keyof typeof WIDTHS;
  /** With a column of facts on the right. */
  aside?: boolean;
  children: ReactNode;
}

export function PageMain({ width, aside, children }: Props) {
  const columns = "grid grid-cols-[minmax(0,1fr)_320px] content-start gap-x-9 gap-y-6 max-lg:grid-cols-1";
  return (
    <main className={join("mx-auto w-full px-6 py-7 max-sm:px-3", WIDTHS[width], aside && columns)}>{children}</main>
  );
}
