/** Tabs above pages that belong together. */
import { Link, useLocation } from "wouter";
import { join } from "./join";

export type Tab = [to: string, name: string];

export function Tabs({ label, tabs }: { label: string; tabs: Tab[] }) {
  const [where] = useLocation();
  return (
    <nav aria-label={label} className="mb-3 flex flex-wrap gap-x-4 gap-y-1">
      {tabs.map(([to, name]) => {
        const here = where.startsWith(to);
        return (
          <Link
            key={to}
            href={to}
            aria-current={here ? "page" : undefined}
            className={join("hover:text-ink", here ? "text-ink underline underline-offset-4" : "text-soft")}
          >
            {name}
          </Link>
        );
      })}
    </nav>
  );
}
