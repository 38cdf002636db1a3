/** How packets went, in charts and the same numbers as tables. */
import { useState } from "react";
import { Link, useSearchParams } from "wouter";
import { type OverviewTable, type OverviewWithin, useOverview } from "../../api/overview";
import { useSites, useVendors } from "../../api/records";
import { Filter } from "../../components/filter";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { PartChart } from "./chart";
import { type Drawn, PARTS } from "./parts";

const DAY = 86_400_000;
const PERIODS = [
  ["30", "the last 30 days"],
  ["90", "the last 90 days"],
  ["365", "the last year"],
  ["1095", "the last three years"],
] as const;
const before = (days: number) => new Date(Date.now() - days * DAY).toISOString().slice(0, 10);

export function OverviewPage() {
  const [search, setSearch] = useSearchParams();
  const [days, setDays] = useState("365");
  const vendors = useVendors();
  const sites = useSites();
  const within: OverviewWithin = {
    since: before(Number(days)),
    ...(search.get("vendor") && { vendor: search.get("vendor") ?? "" }),
    ...(search.get("site") && { site: search.get("site") ?? "" }),
  };
  const overview = useOverview(within);
  const put = (name: string, value: string) =>
    setSearch(
      (was) => {
        const after = new URLSearchParams(was);
        if (value) after.set(name, value);
        else after.delete(name);
        return after;
      },
      { replace: true },
    );
  const query = new URLSearchParams(Object.entries(within).filter(([, value]) => value) as [string, string][]);
  return (
    <PageMain width="table">
      <PageTitle>Overview</PageTitle>
      {overview.data && (
        <Soft>
          {sayDay(overview.data.since)} to {sayDay(overview.data.until)}. Every number leads to its packets.
        </Soft>
      )}
      <div className="my-3 flex flex-wrap items-center gap-2.5">
        <select
          aria-label="Period"
          className="field w-auto"
          value={days}
          onChange={(event) => setDays(event.target.value)}
        >
          {PERIODS.map(([value, words]) => (
            <option key={value} value={value}>
              {words}
            </option>
          ))}
        </select>
        <Filter name="Vendor" value={search.get("vendor") ?? ""} onChange={(value) => put("vendor", value)}>
          {vendors.data?.map((one) => (
            <option key={one.key} value={one.key}>
              {one.name}
            </option>
          ))}
        </Filter>
        <Filter name="Site" value={search.get("site") ?? ""} onChange={(value) => put("site", value)}>
          {sites.data?.map((one) => (
            <option key={one.key} value={one.key}>
              {one.name}
            </option>
          ))}
        </Filter>
        <span className="ml-auto flex gap-3">
          {["xlsx", "csv"].map((form) => (
            <a key={form} className="link" href={`/api/v1/overview/export?form=${form}&${query}`} download>
              {form.toUpperCase()}
            </a>
          ))}
        </span>
      </div>
      <ProblemNote problem={overview.error} />
      {overview.isPending && !overview.error && <Waiting label="Counting packets" lines={10} />}
      {overview.data?.parts.map((table) => (
        <Part key={table.part} table={table} drawn={PARTS[table.part]} />
      ))}
    </PageMain>
  );
}

function Part({ table, drawn }: { table: OverviewTable; drawn: Drawn }) {
  const [first] = table.rows;
  const names = first?.numbers.map((one) => one.name) ?? [];
  const remarks = table.rows.some((row) => row.remark);
  return (
    <section aria-labelledby={`part-${table.part}`} className="mb-8">
      <h2 id={`part-${table.part}`} className="text-[17px]">
        {drawn.title}
      </h2>
      <Soft>{drawn.says}</Soft>
      {!first && <Nothing>Nothing in this period.</Nothing>}
      {first && (
        <div className="mt-2 grid grid-cols-[minmax(0,520px)_minmax(0,1fr)] items-start gap-6 max-lg:grid-cols-1">
          <PartChart table={table} drawn={drawn} />
          <div className="max-h-105 overflow-auto">
            <PlainTable heads={["Of", ...names, ...(remarks ? ["More"] : [])]} right={names}>
              {table.rows.map((row) => (
                <tr key={row.name} className="border-t border-line align-baseline">
                  <th scope="row" className="px-4 py-1 font-normal">
                    {row.name}
                  </th>
                  {row.numbers.map((one) => (
                    <td key={one.name} className="px-4 text-right tabular-nums">
                      <Counted packets={one.packets}>{say(one.value, one.unit)}</Counted>
                    </td>
                  ))}
                  {remarks && <td className="px-4 text-soft">{row.remark}</td>}
                </tr>
              ))}
            </PlainTable>
          </div>
        </div>
      )}
    </section>
  );
}

function Counted({ packets, children }: { packets: string; children: string }) {
  if (!packets) return <span className="text-soft">{children}</span>;
  return (
    <Link data-row className="link" href={`/packets?${packets}`}>
      {children}
    </Link>
  );
}

function say(value: number | null, unit: string): string {
  if (value === null) return "–";
  return { "%": `${value} %`, hours: `${value} h` }[unit] ?? String(value);
}
