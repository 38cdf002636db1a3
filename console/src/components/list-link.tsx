/** A row of a list that opens a page. */
import type { ReactNode } from "react";
import { Link } from "wouter";
import { join } from "./join";

export function ListLink({ href, columns, children }: { href: string; columns: string; children: ReactNode }) {
  return (
    <li className="border-b border-line">
      <Link
        data-row
        href={href}
        className={join("-mx-2 grid items-baseline gap-x-4 px-2 py-2 hover:bg-sheet", columns)}
      >
        {children}
      </Link>
    </li>
  );
}
