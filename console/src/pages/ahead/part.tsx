/** One part of the page, with its number of entries. */

import type { ReactNode } from "react";
import { Nothing } from "../../components/nothing";
import { Heading } from "../../components/text";

export function Part({
  title,
  number,
  empty,
  children,
}: {
  title: string;
  number: number;
  empty?: string;
  children: ReactNode;
}) {
  if (number === 0 && !empty) return null;
  return (
    <section className="mt-5">
      <Heading level={2}>
        {title} <span className="font-sans text-[14px] font-normal text-soft">{number > 0 && number}</span>
      </Heading>
      {number === 0 ? <Nothing>{empty}</Nothing> : <ul>{children}</ul>}
    </section>
  );
}
