/** Tabs above pages that belong together. */
import { useLocation } from "wouter";
import { NavLink } from "./nav-link";

export type Tab = [to: string, name: string];

export function Tabs({ label, tabs }: { label: string; tabs: Tab[] }) {
  const [where] = useLocation();
  return (
    <nav aria-label={label} className="mb-3 flex flex-wrap gap-x-4 gap-y-1">
      {tabs.map(([to, name]) => (
        <NavLink key={to} to={to} name={name} here={where.startsWith(to)} underlined />
      ))}
    </nav>
  );
}
