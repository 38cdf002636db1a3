/** One statement: every difference, ours beside theirs, decided by keyboard. */
import { type ReactNode, useState } from "react";
import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import {
  type Difference,
  type Sort,
  type Statement,
  useDifferences,
  useStatement,
  useStatementAct,
} from "../../api/statements";
import {
  Badge,
  Button,
  count,
  join,
  Mono,
  Nothing,
  ProblemNote,
  ProblemPage,
  sayDay,
  Waiting,
} from "../../parts/basics";
import { moveInRows, useKeys } from "../../parts/keys";
import { toggled } from "../../parts/table";
import { IncomingTabs } from "../../parts/tabs";

const SORTS: [sort: Sort, words: string][] = [
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

function Row({ row, chosen, onToggle }: { row: Difference; chosen: boolean; onToggle: () => void }) {
  const words = SORTS.find(([name]) => name === row.sort)?.[1];
  return (
    <li
      data-row
      data-number={row.number}
      tabIndex={0}
      aria-label={row.sentence}
      className={join(
        "-mx-2 grid grid-cols-[24px_120px_1fr_1fr_170px] gap-x-4 border-b border-line px-2 py-2 max-md:grid-cols-[24px_1fr]",
        chosen && "bg-sheet",
      )}
    >
      <input
        type="checkbox"
        tabIndex={-1}
        aria-label={`Choose ${row.serial}`}
        disabled={row.decision !== null}
        checked={chosen}
        onChange={onToggle}
        className="mt-1 self-start"
      />
      <span className={row.sort === "mistyped" ? "text-ochre" : "text-soft"}>{words}</span>
      <Side line={row.ours} row={row} side="ours" />
      <Side line={row.theirs} row={row} side="theirs" />
      <span className="text-right max-md:col-start-2 max-md:text-left">
        <Decided row={row} />
      </span>
      {row.slips.length > 0 && (
        <p className="col-start-3 -col-end-1 text-ochre max-md:col-start-2">
          {row.slips.map((slip) => slip.words).join("; ")}
        </p>
      )}
    </li>
  );
}

function Decided({ row }: { row: Difference }) {
  if (row.packet) {
    return (
      <Link className="link" href={`/packets/${row.packet}`}>
        asked by <Mono>{row.packet}</Mono>
      </Link>
    );
  }
  if (row.decision) {
    return (
      <>
        <Badge tone="moss">{row.decision === "ours" ? "ours is right" : "the vendor is right"}</Badge>
        <span className="block text-soft">
          {row.decided_by}
          {row.reason && `: ${row.reason}`}
        </span>
      </>
    );
  }
  if (!row.before) return null;
  return (
    <span className="text-soft">
      before: {row.before.decision === "theirs" ? "theirs" : row.before.packet || "ours"}
      {row.before.reason && `, ${row.before.reason}`}
    </span>
  );
}

const NAMES = { contract: "contract", level: "level", starts_on: "from", ends_on: "until", site: "at" } as const;

function Side({ line, row, side }: { line: Schemas["CoverLine"] | null; row: Difference; side: "ours" | "theirs" }) {
  const heading = side === "ours" ? "ours" : "theirs";
  if (!line) {
    return (
      <span className="text-soft italic max-md:col-start-2">{side === "ours" ? "not with us" : "not with them"}</span>
    );
  }
  const differs = (name: string) => row.fields.includes(name);
  const strong = (name: string, value: ReactNode) =>
    differs(name) ? <strong className="rounded-sm bg-ochre-wash px-0.5 font-semibold">{value}</strong> : value;
  const shown = (Object.keys(NAMES) as (keyof typeof NAMES)[]).filter(
    (name) => line[name] && (differs(name) || !["starts_on", "site"].includes(name)),
  );
  return (
    <span className="min-w-0 max-md:col-start-2">
      <span className="sr-only">{heading}: </span>
      <Mono className="font-semibold">
        <Marked serial={line.serial} slips={row.slips} side={side} />
      </Mono>
      <span className="block text-soft">
        {shown.map((name, place) => (
          <span key={name}>
            {place > 0 && " · "}
            {name === "starts_on" || name === "ends_on"
              ? strong(name, `${NAMES[name]} ${sayDay(line[name] as string)}`)
              : strong(name, name === "contract" ? <Mono>{line[name]}</Mono> : `${line[name]}`)}
          </span>
        ))}
      </span>
    </span>
  );
}

/** A serial with the characters marked in which the two sides differ. */
function Marked({ serial, slips, side }: { serial: string; slips: Difference["slips"]; side: "ours" | "theirs" }) {
  const marked = new Set<number>();
  let shift = 0;
  for (const slip of slips) {
    const at = slip.at - 1 + (side === "theirs" ? shift : 0);
    const length = slip[side].length;
    for (let place = 0; place < length; place++) marked.add(at + place);
    shift += slip.theirs.length - slip.ours.length;
  }
  return [...serial].map((letter, place) => (
    <span
      // biome-ignore lint/suspicious/noArrayIndexKey: letters have no other name than their place
      key={place}
      className={marked.has(place) ? "bg-ochre-wash text-ochre underline" : undefined}
    >
      {letter}
    </span>
  ));
}
