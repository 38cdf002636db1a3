/** One statement: every difference, ours beside theirs, decided by keyboard. */

import { useState } from "react";
import { type Sort, type Statement, useDifferences, useStatement, useStatementAct } from "../../api/statements";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { toggled } from "../../components/table";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { count } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { moveInRows } from "../../keyboard/rows";
import { IncomingTabs } from "../incoming-tabs";
import { Row } from "./difference";

export const SORTS: [sort: Sort, words: string][] = [
  ["mistyped", "Likely mistyped"],
  ["differs", "Different"],
  ["only_ours", "Only ours"],
  ["only_theirs", "Only theirs"],
];

export function StatementPage({ ident }: { ident: string }) {
  const statement = useStatement(ident);
  if (statement.error) return <ProblemPage title="Vendor statement" problem={statement.error} />;
  return (
    <main className="mx-auto w-full max-w-[1180px] px-6 py-7 max-sm:px-3">
      {statement.data && statement.data.state !== "reading" ? (
        <Known statement={statement.data} />
      ) : (
        <Waiting label="The statement is being compared" lines={8} />
      )}
    </main>
  );
}

function Known({ statement }: { statement: Statement }) {
  const [sort, setSort] = useState<Sort | "">("");
  const [undecided, setUndecided] = useState(false);
  const [chosen, setChosen] = useState<Set<number>>(new Set());
  const [why, setWhy] = useState("");
  const differences = useDifferences(statement.id, sort, undecided);
  const act = useStatementAct(statement.id);
  const rows = differences.data?.pages.flatMap((page) => page.items) ?? [];
  const open = rows.filter((row) => !row.decision);
  const toggle = (number: number) => setChosen((now) => toggled(now, number));
  const numbers = [...chosen];
  const done = () => {
    setChosen((now) => new Set([...now].filter((number) => !numbers.includes(number))));
    setWhy("");
  };
  const some = numbers.length > 0 && !act.isPending;
  const decide = (verdict: "ours" | "theirs") =>
    act.mutate({ verb: "decide", numbers, verdict, reason: why }, { onSuccess: done });
  const ask = () => act.mutate({ verb: "ask", numbers }, { onSuccess: done });
  useKeys({
    x: () => {
      const number = Number((document.activeElement as HTMLElement | null)?.dataset.number);
      if (open.some((row) => row.number === number)) toggle(number);
    },
    o: some && (() => decide("ours")),
    v: some && (() => decide("theirs")),
    m: some && ask,
    Escape: chosen.size > 0 && done,
  });
  const { counts } = statement;
  return (
    <>
      <IncomingTabs />
      <h1 className="text-[24px] leading-8">{statement.vendor_name}</h1>
      <p className="text-soft">
        Its statement as of {sayDay(statement.as_of)} ({statement.name}): {count(counts.agreeing, "line")} agree,{" "}
        {statement.undecided
          ? `${count(statement.undecided, "difference")} to decide`
          : rows.length
            ? "every difference is decided"
            : "nothing differs"}
        .
      </p>
      {statement.status_text && (
        <p className="mt-3 rounded-md border-l-3 border-ochre bg-ochre-wash px-3 py-2">{statement.status_text}</p>
      )}
      <div className="my-4 flex flex-wrap items-center gap-2">
        {SORTS.map(([name, words]) => (
          <button
            key={name}
            type="button"
            aria-pressed={sort === name}
            onClick={() => setSort(sort === name ? "" : name)}
            className={join(
              "rounded-full border px-2.5",
              sort === name ? "border-ink bg-sheet" : "border-line text-soft hover:border-soft",
            )}
          >
            {words} {counts[name]}
          </button>
        ))}
        <label className="ml-3 flex items-center gap-2">
          <input type="checkbox" checked={undecided} onChange={(event) => setUndecided(event.target.checked)} />
          only open ones
        </label>
      </div>
      <ProblemNote problem={differences.error} />
      {differences.isPending && !differences.error && <Waiting label="Differences are being read" lines={6} />}
      {rows.length > 0 && (
        <div
          aria-hidden
          className="-mx-2 grid grid-cols-[24px_120px_1fr_1fr_170px] gap-x-4 border-b border-line px-2 pb-1 text-soft max-md:hidden"
        >
          <span className="col-start-3">In your register</span>
          <span>On the vendor's statement</span>
          <span className="text-right">Decided</span>
        </div>
      )}
      <ul aria-label="Differences" onKeyDown={moveInRows}>
        {rows.map((row) => (
          <Row key={row.number} row={row} chosen={chosen.has(row.number)} onToggle={() => toggle(row.number)} />
        ))}
      </ul>
      {differences.data && rows.length === 0 && (
        <Nothing>{sort || undecided ? "None of these." : "Your register and the statement say the same."}</Nothing>
      )}
      {differences.hasNextPage && (
        <Button className="mt-3" onClick={() => differences.fetchNextPage()}>
          Show more
        </Button>
      )}
      {open.length > 0 && (
        <div className="sticky bottom-0 mt-4 flex flex-wrap items-center gap-3 border-t border-line bg-paper py-3">
          <span className="w-28 text-soft">{numbers.length ? `${numbers.length} chosen` : "choose with X"}</span>
          <Button disabled={!some} letter="o" onClick={() => decide("ours")}>
            Ours is right
          </Button>
          <Button disabled={!some} letter="v" onClick={() => decide("theirs")}>
            The vendor is right
          </Button>
          <Button disabled={!some} letter="m" onClick={ask}>
            Make a packet
          </Button>
          <input
            className="field max-w-72 grow"
            aria-label="Why"
            placeholder="why, if it will come up again"
            value={why}
            onChange={(event) => setWhy(event.target.value)}
          />
          <Button
            look="bare"
            onClick={() => setChosen(chosen.size === open.length ? new Set() : new Set(open.map((row) => row.number)))}
          >
            {chosen.size === open.length ? "Choose none" : `Choose all ${open.length}`}
          </Button>
          <div className="basis-full empty:hidden">
            <ProblemNote problem={act.error} />
          </div>
        </div>
      )}
    </>
  );
}
