/** The bar at the top: where one can go, finding, noting, and who is signed in. */
import { Link } from "wouter";
import { Key } from "../components/key";
import { NavLink } from "../components/nav-link";
import { Hidden } from "../components/text";
import { isIncoming } from "../pages/incoming-tabs";
import { isKnowHow } from "../pages/know-how/tabs";
import { PersonMenu } from "./person-menu";
import { PLACES } from "./places";

interface Props {
  where: string;
  person: string;
  roles: string[];
  /** Notices that were not read. */
  unread: number;
  onOpen: (what: "find" | "keys" | "note") => void;
}

const isHere = (where: string, to: string) => {
  if (to === "/imports") return isIncoming(where);
  if (to === "/articles") return isKnowHow(where);
  return to === "/" ? where === "/" : where.startsWith(to);
};

export function Header({ where, person, roles, unread, onOpen }: Props) {
  return (
    <header className="sticky top-0 z-10 flex h-12 shrink-0 items-center gap-5 border-b border-line bg-paper px-5 max-md:h-auto max-md:flex-wrap max-md:gap-x-3 max-md:gap-y-1 max-md:py-1.5 max-sm:px-3">
      <Link href="/" className="font-serif text-[17px] font-semibold whitespace-nowrap max-sm:hidden">
        Seal Packet
      </Link>
      <nav
        aria-label="Places"
        className="flex min-w-0 gap-4 overflow-x-auto py-1 max-md:order-last max-md:basis-full max-md:flex-wrap max-md:gap-x-3 max-md:gap-y-0"
      >
        {PLACES.filter(([, , role]) => !role || roles.includes(role)).map(([to, name]) => (
          <NavLink key={to} to={to} name={name} here={isHere(where, to)} />
        ))}
      </nav>
      <button
        type="button"
        aria-keyshortcuts="/"
        onClick={() => onOpen("find")}
        className="ml-auto flex w-60 min-w-28 items-center justify-between rounded-md border border-line bg-sheet px-2.5 py-1.5 text-soft hover:border-soft max-lg:w-auto max-lg:gap-2"
      >
        <span className="max-lg:sr-only">Find a serial, packet, site…</span>
        <span className="lg:hidden">Find</span>
        <Key>/</Key>
      </button>
      {roles.includes("preparer") && (
        <button
          type="button"
          aria-keyshortcuts="n"
          onClick={() => onOpen("note")}
          className="flex items-center gap-2 rounded-md border border-ink bg-ink px-3 py-1.5 font-semibold text-paper max-sm:px-2"
        >
          Note <Key>N</Key>
        </button>
      )}
      <Link
        href="/notices/list"
        aria-keyshortcuts="g"
        aria-current={where.startsWith("/notices") ? "page" : undefined}
        className="flex items-center gap-1.5 whitespace-nowrap text-soft hover:text-ink"
      >
        <span>Notices</span>
        <span>
          {unread > 0 && (
            <span className="inline-block min-w-5 rounded-full bg-wax px-1.5 text-center text-[12px] leading-5 font-semibold text-sheet">
              {unread > 99 ? "99+" : unread}
              <Hidden> not read</Hidden>
            </span>
          )}
        </span>
      </Link>
      <PersonMenu person={person} roles={roles} showKeys={() => onOpen("keys")} />
    </header>
  );
}
