/** Choosing differences and deciding them, by keyboard too. */
import { useState } from "react";
import { type Sort, type Statement, useDifferences, useStatementAct } from "../../api/statements";
import { toggled } from "../../components/table";
import { useKeys } from "../../keyboard/keys";

export type Deciding = ReturnType<typeof useDeciding>;

export function useDeciding(statement: Statement) {
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
  useKeys("statement", {
    choose: () => {
      const number = Number((document.activeElement as HTMLElement | null)?.dataset.number);
      if (open.some((row) => row.number === number)) toggle(number);
    },
    ours: some && (() => decide("ours")),
    theirs: some && (() => decide("theirs")),
    ask: some && ask,
    release: chosen.size > 0 && done,
  });
  return {
    ...{ differences, act, rows, open, chosen, setChosen, toggle, numbers, some },
    ...{ sort, setSort, undecided, setUndecided, why, setWhy, decide, ask },
  };
}
