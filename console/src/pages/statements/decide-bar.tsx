/** What is done with the chosen differences. */
import { Button } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import type { Deciding } from "./use-deciding";

export function DecideBar({ deciding }: { deciding: Deciding }) {
  const { act, open, chosen, setChosen, numbers, some, why, setWhy, decide, ask } = deciding;
  return (
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
        placeholder="reason (optional)"
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
  );
}
