/** The heading of a page, which is the title of the window as well. */
import { type ReactNode, useEffect, useRef } from "react";
import { join } from "./join";

const PRODUCT = "Seal Packet";
let isFirst = true;

interface Props {
  children: ReactNode;
  className?: string;
  /** The title of the window, where it is not the text of the heading. */
  title?: string;
}

/** Whoever has come by a link begins here: screen readers say the heading, and Tab goes on from it. */
function begin(heading: HTMLElement) {
  const focused = document.activeElement;
  const isLost = !focused || focused === document.body || focused.closest("header") !== null;
  if (isLost && !isFirst) heading.focus({ preventScroll: true });
  isFirst = false;
}

export function PageTitle({ children, className, title }: Props) {
  const heading = useRef<HTMLHeadingElement>(null);
  useEffect(() => {
    const words = title ?? heading.current?.textContent;
    document.title = words ? `${words} · ${PRODUCT}` : PRODUCT;
  });
  useEffect(() => {
    if (heading.current) begin(heading.current);
  }, []);
  return (
    <h1 ref={heading} tabIndex={-1} className={join("text-[24px] leading-8 outline-none", className)}>
      {children}
    </h1>
  );
}
