/** A page of the know-how: its tabs, its title, one act, and its rows. */

import type { ReactNode } from "react";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Waiting } from "../../components/waiting";
import { useKeys } from "../../keyboard/keys";
import { KnowHowTabs } from "./tabs";

interface Props {
  title: string;
  about: string;
  nothing: string;
  roles: string[];
  read: { isPending: boolean; error: unknown; data?: readonly unknown[] };
  /** What the button says; not there for those who may not. */
  add?: string;
  onAdd: () => void;
  /** What opens over the page. */
  dialogs: ReactNode;
  children: ReactNode;
}

export function Shelf({ title, about, nothing, roles, read, add, onAdd, dialogs, children }: Props) {
  useKeys("shelf", { add: add !== undefined && onAdd });
  return (
    <main className="mx-auto w-full max-w-4xl p-6 max-md:px-4">
      <KnowHowTabs keeper={roles.includes("keeper")} />
      <div className="mb-1 flex items-baseline gap-4">
        <PageTitle className="mr-auto">{title}</PageTitle>
        {add && (
          <Button letter="+" onClick={onAdd}>
            {add}
          </Button>
        )}
      </div>
      <p className="mb-3 text-soft">{about}</p>
      <ProblemNote problem={read.error} />
      {read.isPending && <Waiting label={`Loading ${title.toLowerCase()}`} />}
      {read.data?.length === 0 && <Nothing>{nothing}</Nothing>}
      {read.data && read.data.length > 0 && <ul className="rounded-sheet border border-line bg-sheet">{children}</ul>}
      {dialogs}
    </main>
  );
}

/** Forgetting the one that is read or changed; whoever uses it gives the space around it. */
export function Forget({ problem, onForget }: { problem: unknown; onForget: () => void }) {
  return (
    <Row gap={3} align="center">
      <Button onClick={onForget}>Forget it</Button>
      <ProblemNote problem={problem} />
    </Row>
  );
}

interface LineProps {
  title: string;
  mono: string;
  beside?: ReactNode;
  onOpen?: () => void;
  children?: ReactNode;
}

/** One of its rows: what it is called opens it. */
export function Line({ title, mono, beside, onOpen, children }: LineProps) {
  return (
    <li className="border-b border-line px-4 py-2 last:border-0">
      <Row gap={3} lines align="baseline">
        {onOpen ? (
          <button type="button" data-row className="link text-left" onClick={onOpen}>
            {title}
          </button>
        ) : (
          <span>{title}</span>
        )}
        <span className="font-mono text-[12.5px] text-soft">{mono}</span>
        <span className="ml-auto text-soft">{beside}</span>
      </Row>
      {children && <div className="text-[12.5px] text-soft">{children}</div>}
    </li>
  );
}
