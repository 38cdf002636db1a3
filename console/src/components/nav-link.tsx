/** A link to a page or a group of pages; the one where a person is stands out. */
import { Link } from "wouter";
import { join } from "./join";

interface Props {
  to: string;
  name: string;
  here: boolean;
  underlined?: boolean;
}

export function NavLink({ to, name, here, underlined }: Props) {
  return (
    <Link
      href={to}
      aria-current={here ? "page" : undefined}
      className={join(
        "whitespace-nowrap hover:text-ink",
        here ? "text-ink" : "text-soft",
        here && underlined && "underline underline-offset-4",
      )}
    >
      {name}
    </Link>
  );
}
