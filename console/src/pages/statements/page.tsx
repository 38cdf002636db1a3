/** One statement: every difference, ours beside theirs, decided by keyboard. */

import { type Statement, useStatement } from "../../api/statements";
import { Button } from "../../components/button";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { count } from "../../format/numbers";
import { moveInRows } from "../../keyboard/rows";
import { IncomingTabs } from "../incoming-tabs";
import { DecideBar } from "./decide-bar";
import { Row } from "./difference";
import { SortFilter } from "./sort-filter";
import { useDeciding } from "./use-deciding";

export function StatementPage({ ident }: { ident: string }) {
  const statement = useStatement(ident);
  if (statement.error) return <ProblemPage title="Vendor statement" problem={statement.error} />;
  return (
    <PageMain width="wide">
      {statement.data && statement.data.state !== "reading" ? (
        <Known statement={statement.data} />
      ) : (
        <Waiting label="The statement is being compared" lines={8} />
      )}
    </PageMain>
  );
}

function Known({ statement }: { statement: Statement }) {
  const deciding = useDeciding(statement);
  const { differences, rows, open, chosen, toggle } = deciding;
  const { counts } = statement;
  return (
    <>
      <IncomingTabs />
      <PageTitle>{statement.vendor_name}</PageTitle>
      <Soft>
        Its statement as of {sayDay(statement.as_of)} ({statement.name}): {count(counts.agreeing, "line")} agree,{" "}
        {statement.undecided
          ? `${count(statement.undecided, "difference")} to decide`
          : rows.length
            ? "every difference is decided"
            : "nothing differs"}
        .
      </Soft>
      {statement.status_text && (
        <p className="mt-3 rounded-md border-l-3 border-ochre bg-ochre-wash px-3 py-2">{statement.status_text}</p>
      )}
      <SortFilter counts={counts} deciding={deciding} />
      <ProblemNote problem={differences.error} />
      {differences.isPending && !differences.error && <Waiting label="Loading differences" lines={6} />}
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
        <Nothing>
          {deciding.sort || deciding.undecided ? "None of these." : "Your register and the statement say the same."}
        </Nothing>
      )}
      {differences.hasNextPage && (
        <Button className="mt-3" onClick={() => differences.fetchNextPage()}>
          Show more
        </Button>
      )}
      {open.length > 0 && <DecideBar deciding={deciding} />}
    </>
  );
}
