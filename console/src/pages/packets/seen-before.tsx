/** What is known already: open packets on the same thing, what solved others, and what we have written down. */

import { lazy, type ReactNode, Suspense, useState } from "react";
import { Link } from "wouter";
import type { Similar } from "../../api/similar";
import { Button, TextButton } from "../../components/button";
import { Column } from "../../components/layout";
import { Soft } from "../../components/text";
import { sayDay } from "../../format/dates";

const ArticleDialog = lazy(() => import("../know-how/article"));

interface Props {
  found: Similar;
  /** Ends the draft; not there while it is still being noted. */
  solve?: (by: { packet?: string; article?: string }) => void;
}

export function SeenBefore({ found, solve }: Props) {
  const [reading, setReading] = useState("");
  if (found.open.length + found.solved.length + found.articles.length === 0) return null;
  return (
    <Column gap={2}>
      <Part title="Open on the same thing" rows={found.open.length}>
        {found.open.map((one) => (
          <li key={one.number} className="py-1">
            <Link href={`/packets/${one.number}`} className="link">
              {one.number}
            </Link>{" "}
            {one.title} <Soft as="span">by {one.noted_by}</Soft>
          </li>
        ))}
      </Part>
      <Part title="Seen before" rows={found.solved.length}>
        {found.solved.map((one) => (
          <li key={one.number} className="flex items-start justify-between gap-3 py-1">
            <span>
              <Link href={`/packets/${one.number}`} className="link">
                {one.number}
              </Link>{" "}
              {one.title} <Soft as="span">same {one.same.join(", ")}</Soft>
              {one.cure && <span className="block text-[12.5px]">{one.cure}</span>}
            </span>
            {solve && <SolvedIt onClick={() => solve({ packet: one.number })} />}
          </li>
        ))}
      </Part>
      <Part title="Written down" rows={found.articles.length}>
        {found.articles.map((one) => (
          <li key={one.key} className="flex items-start justify-between gap-3 py-1">
            <span>
              <TextButton onClick={() => setReading(one.key)}>{one.title}</TextButton>{" "}
              <Soft as="span">{sayDay(one.written_on)}</Soft>
              <span className="block text-[12.5px] text-soft">{one.excerpt}</span>
            </span>
            {solve && <SolvedIt onClick={() => solve({ article: one.key })} />}
          </li>
        ))}
      </Part>
      {reading && (
        <Suspense>
          <ArticleDialog name={reading} onClose={() => setReading("")} />
        </Suspense>
      )}
    </Column>
  );
}

function SolvedIt({ onClick }: { onClick: () => void }) {
  return (
    <Button className="px-2 py-0.5" onClick={onClick}>
      This solved it
    </Button>
  );
}

function Part({ title, rows, children }: { title: string; rows: number; children: ReactNode }) {
  if (rows === 0) return null;
  return (
    <section aria-label={title}>
      <h3 className="text-soft">{title}</h3>
      <ul>{children}</ul>
    </section>
  );
}
