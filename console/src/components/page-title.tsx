/** The heading of a page, which is the title of the window as well. */
import { type ReactNode, useEffect, useRef, useSyncExternalStore } from "react";
import { join } from "./join";

const PRODUCT = "Seal Packet";
let current = "";
const listeners = new Set<() => void>();

function keep(title: string) {
  if (title === current) return;
  current = title;
  document.title = title === PRODUCT ? PRODUCT : `${title} · ${PRODUCT}`;
  for (const one of listeners) one();
}

interface Props {
  children: ReactNode;
  className?: string;
  /** The title of the window, where it is not the text of the heading. */
  title?: string;
}

export function PageTitle({ children, className, title }: Props) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => keep(title ?? heading.current?.textContent ?? ""));
  return (
    <h1 ref={heading} className={join("text-[24px] leading-8", className)}>
      {children}
    </h1>
  );
}

/** Says the title of each page that is gone to, for those who do not see it. */
export function TitleSaid() {
  const title = useSyncExternalStore(
    (changed) => {
      listeners.add(changed);
      return () => listeners.delete(changed);
    },
    () => current,
  );
  return (
    <p className="sr-only" aria-live="polite">
      {title}
    </p>
  );
}
