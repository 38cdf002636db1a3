/** Looking ahead: what ends, what is not covered, what is paid for twice or for nothing. */
import { type ReactNode, useState } from "react";
import { Link } from "wouter";
import type { Schemas } from "../api/client";
import {
  type Ahead,
  useAhead,
  useAligned,
  useDigest,
  useDigestChange,
  useNewCalendar,
  useVendors,
} from "../api/register";
import { Badge, Button, count, Mono, Nothing, ProblemNote, Sheet, sayDay, sayMoney, Waiting } from "../parts/basics";

const DAYS = [30, 60, 90, 365];

export function AheadPage() {
  const [vendor, setVendor] = useState("");
  const [days, setDays] = useState(90);
  const ahead = useAhead(vendor, days);
  const vendors = useVendors();
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_320px] content-start gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1 max-sm:px-3">
      <div className="min-w-0">
        <h1 className="text-[24px] leading-8">Looking ahead</h1>
        <p className="text-soft">{ahead.data ? <Said ahead={ahead.data} days={days} /> : "Working it out…"}</p>
        <div className="my-3 flex flex-wrap gap-2.5">
          <select
            aria-label="Vendor"
            className="field w-auto"
            value={vendor}
            onChange={(event) => setVendor(event.target.value)}
          >
            <option value="">Vendor: all</option>
            {vendors.data?.map((one) => (
              <option key={one.key} value={one.key}>
                {one.name}
              </option>
            ))}
          </select>
          <select
            aria-label="Ends within"
            className="field w-auto"
            value={days}
            onChange={(event) => setDays(Number(event.target.value))}
          >
            {DAYS.map((one) => (
              <option key={one} value={one}>
                ends within {one} days
              </option>
            ))}
          </select>
        </div>
        <ProblemNote problem={ahead.error} />
        {ahead.isPending && !ahead.error && <Waiting label="The time ahead is being worked out" lines={10} />}
        {ahead.data && !ahead.data.fresh && (
          <p role="status" className="text-ochre">
            The register has changed since; this is being worked out anew.
          </p>
        )}
        {ahead.data && <Parts ahead={ahead.data} days={days} />}
      </div>
      <aside className="flex flex-col gap-4">
        <OneEnd vendor={vendor} />
        <Told />
      </aside>
    </main>
  );
}

function Said({ ahead, days }: { ahead: Ahead; days: number }) {
  const { counts, ending } = ahead;
  return (
    <>
      {count(ending.length, "contract ends", "contracts end")} within {days} days
      {`, ${count(counts.uncovered, "thing is", "things are")} not covered`}
      {counts.twice > 0 && `, ${count(counts.twice, "is", "are")} paid for twice`}.
    </>
  );
}

function Part({
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
      <h2 className="text-[18px] leading-6">
        {title} <span className="font-sans text-[14px] font-normal text-soft">{number > 0 && number}</span>
      </h2>
      {number === 0 ? <Nothing>{empty}</Nothing> : <ul>{children}</ul>}
    </section>
  );
}

const LINE = "grid items-baseline gap-x-3 border-b border-line py-1.5 max-sm:grid-cols-[1fr_auto]";

function Parts({ ahead, days }: { ahead: Ahead; days: number }) {
  return (
    <>
      <Part title={`Ends within ${days} days`} number={ahead.ending.length} empty="Nothing ends in this time.">
        {ahead.ending.map((row) => (
          <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_110px_150px_100px]`}>
            <ContractLink row={row} />
            <span className="min-w-0 truncate">
              {row.vendor_name} <span className="text-soft">{row.title}</span>
            </span>
            <span className="text-right">in {count(row.days, "day")}</span>
            <span>
              {row.notice_on ? (
                <Badge tone="ochre">notice by {sayDay(row.notice_on)}</Badge>
              ) : (
                row.notice_missed && <Badge tone="wax">notice day is over</Badge>
              )}
            </span>
            <span className="text-right text-soft tabular-nums">{sayMoney(row.cost_minor, row.currency)}</span>
          </li>
        ))}
      </Part>
      <Part title="Has lapsed" number={ahead.lapsed.length}>
        {ahead.lapsed.map((row) => (
          <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_auto]`}>
            <ContractLink row={row} />
            <span className="min-w-0 truncate">
              {row.vendor_name} <span className="text-soft">{row.title}</span>
            </span>
            <span className="text-wax">{count(row.days, "day")} ago</span>
          </li>
        ))}
      </Part>
      <Part title="Not covered" number={ahead.counts.uncovered} empty="Everything in use is covered.">
        {ahead.uncovered.slice(0, 30).map((row) => (
          <li key={row.asset_id} className={`${LINE} grid-cols-[150px_1.2fr_2fr]`}>
            <AssetLink row={row} />
            <What row={row} />
            <span className="min-w-0 truncate text-soft max-sm:col-span-2" title={row.reason}>
              {row.reason}
            </span>
          </li>
        ))}
        <More shown={Math.min(30, ahead.uncovered.length)} all={ahead.counts.uncovered} />
      </Part>
      <Part title="Will have a gap" number={ahead.counts.gaps}>
        {ahead.gaps.slice(0, 30).map((row) => (
          <li key={row.asset_id + row.starts_on} className={`${LINE} grid-cols-[150px_1.2fr_2fr]`}>
            <AssetLink row={row} />
            <What row={row} />
            <span>
              {sayDay(row.starts_on)} to {sayDay(row.ends_on)}, {count(row.days, "day")}
            </span>
          </li>
        ))}
      </Part>
      <Part title="Paid for twice" number={ahead.counts.twice}>
        {ahead.twice.slice(0, 30).map((row) => (
          <li key={row.asset_id} className={`${LINE} grid-cols-[150px_1.2fr_2fr]`}>
            <AssetLink row={row} />
            <What row={row} />
            <Mono>{row.contracts.join(", ")}</Mono>
          </li>
        ))}
        <More shown={Math.min(30, ahead.twice.length)} all={ahead.counts.twice} />
      </Part>
      <Part title="Paid for, though retired" number={ahead.counts.retired}>
        {ahead.retired.slice(0, 30).map((row) => (
          <li key={row.asset_id + row.entitlement} className={`${LINE} grid-cols-[150px_1.2fr_2fr]`}>
            <AssetLink row={row} />
            <What row={row} />
            <Mono>
              {row.contracts.join(", ")} {row.entitlement}
            </Mono>
          </li>
        ))}
      </Part>
      <Part title="What each thing costs" number={ahead.counts.costs}>
        {ahead.costs.map((row) => (
          <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_110px_130px]`}>
            <ContractLink row={row} />
            <span className="min-w-0 truncate">
              {row.vendor_name} <span className="text-soft">{row.title}</span>
            </span>
            <span className="text-right text-soft">{row.assets ? count(row.assets, "thing") : "no thing"}</span>
            <span className="text-right tabular-nums">{sayMoney(row.each_minor, row.currency)}</span>
          </li>
        ))}
      </Part>
    </>
  );
}

const ContractLink = ({ row }: { row: { contract: string; contract_id: string } }) => (
  <Link className="link" href={`/contracts/${row.contract_id}`}>
    <Mono>{row.contract}</Mono>
  </Link>
);

const AssetLink = ({ row }: { row: { serial: string; asset_id: string } }) => (
  <Link className="link" href={`/assets/${row.asset_id}`}>
    <Mono>{row.serial}</Mono>
  </Link>
);

const What = ({ row }: { row: { product: string; site_name: string | null } }) => (
  <span className="min-w-0 truncate">
    {row.product} <span className="text-soft">{row.site_name}</span>
  </span>
);

const More = ({ shown, all }: { shown: number; all: number }) =>
  all > shown ? <li className="py-1.5 text-soft">and {count(all - shown, "more", "more")}</li> : null;

function OneEnd({ vendor }: { vendor: string }) {
  const aligned = useAligned(vendor);
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">One end for all</h2>
      {!vendor && (
        <p className="text-soft">Choose a vendor to see what it would cost to let its contracts end on one day.</p>
      )}
      {vendor && aligned.error && <p className="text-soft">{aligned.error.detail}</p>}
      {vendor && aligned.isPending && !aligned.error && <Waiting label="The cost is being worked out" lines={2} />}
      {aligned.data && vendor && (
        <>
          <p>All on {sayDay(aligned.data.on)}, pro rata by day:</p>
          <ul>
            {aligned.data.items.map((row) => (
              <li key={row.contract_id} className="flex justify-between gap-3 border-b border-line py-1">
                <span>
                  <Mono>{row.contract}</Mono> <span className="text-soft">{count(row.days, "day")} more</span>
                </span>
                <span className="tabular-nums">{sayMoney(row.extension_minor, row.currency) || "cost not known"}</span>
              </li>
            ))}
          </ul>
          {aligned.data.totals.map((total) => (
            <p key={total.currency} className="mt-1 text-right font-semibold tabular-nums">
              {sayMoney(total.minor, total.currency)}
            </p>
          ))}
        </>
      )}
    </Sheet>
  );
}

const OFTEN: [Schemas["DigestForm"]["every"], string][] = [
  ["never", "never"],
  ["daily", "every day"],
  ["weekly", "every Monday"],
  ["monthly", "on the first of the month"],
];

function Told() {
  const digest = useDigest();
  const change = useDigestChange();
  const calendar = useNewCalendar();
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">How you are told</h2>
      <ProblemNote problem={digest.error ?? change.error ?? calendar.error} />
      {digest.data && (
        <>
          <label className="flex items-center gap-2">
            <span className="text-soft">By mail</span>
            <select
              className="field w-auto"
              value={digest.data.every}
              onChange={(event) =>
                change.mutate({
                  every: event.target.value as Schemas["DigestForm"]["every"],
                  sites: digest.data.sites ?? [],
                  vendors: digest.data.vendors ?? [],
                })
              }
            >
              {OFTEN.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          {!digest.data.mail_configured && <p className="mt-1 text-ochre">No mail server is configured yet.</p>}
          <p className="mt-3 text-soft">
            {digest.data.calendar
              ? "Your calendar has a private address. A new one ends it."
              : "A private address shows ends and notice days in your calendar."}
          </p>
          <Button className="mt-2" disabled={calendar.isPending} onClick={() => calendar.mutate()}>
            {digest.data.calendar ? "New address" : "Make an address"}
          </Button>
          {calendar.data && (
            <p className="mt-2">
              <Mono className="break-all select-all">{calendar.data.address}</Mono>
              <span className="block text-soft">Shown this once. Whoever has it can read it.</span>
            </p>
          )}
        </>
      )}
    </Sheet>
  );
}
