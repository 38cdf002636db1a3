/** The lists of the page. */

import { Link } from "wouter";
import { useExpiring } from "../../api/agreed";
import { type Ahead, useAligned } from "../../api/ahead";
import { Badge } from "../../components/badge";
import { Mono } from "../../components/mono";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { count, sayMoney } from "../../format/numbers";
import { Part } from "./part";

const LINE = "grid items-baseline gap-x-3 border-b border-line py-1.5 max-sm:grid-cols-[1fr_auto]";

export function Parts({ ahead, vendor, days }: { ahead: Ahead; vendor: string; days: number }) {
  return (
    <>
      <Part title={`Ends within ${days} days`} number={ahead.ending.length} empty="Nothing ends in this time.">
        {ahead.ending.map((row) => (
          <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_110px_150px_100px]`}>
            <ContractLink row={row} />
            <span className="min-w-0 truncate">
              {row.vendor_name} <Soft as="span">{row.title}</Soft>
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
      <ExpiringPart vendor={vendor} days={days} />
      <Part title="Has lapsed" number={ahead.lapsed.length}>
        {ahead.lapsed.map((row) => (
          <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_auto]`}>
            <ContractLink row={row} />
            <span className="min-w-0 truncate">
              {row.vendor_name} <Soft as="span">{row.title}</Soft>
            </span>
            <span className="text-wax">{count(row.days, "day")} ago</span>
          </li>
        ))}
      </Part>
      <AssetParts ahead={ahead} />
      <Costs ahead={ahead} />
    </>
  );
}

/** Licences that end, and units that would lapse. */
function ExpiringPart({ vendor, days }: { vendor: string; days: number }) {
  const expiring = useExpiring(vendor, days);
  return (
    <Part title={`Licences and units, within ${days} days`} number={expiring.data?.length ?? 0}>
      {expiring.data?.map((row) => (
        <li key={`${row.what} ${row.name} ${row.about}`} className={`${LINE} grid-cols-[150px_1fr_110px_150px]`}>
          <Mono>{row.about}</Mono>
          <span className="min-w-0 truncate">
            {row.name} <Soft as="span">{row.what.replace("_", " ")}</Soft>
          </span>
          <span className="text-right">in {count(row.days, "day")}</span>
          <span className="text-right text-wax">{row.units > 0 && `${count(row.units, "unit")} would lapse`}</span>
        </li>
      ))}
    </Part>
  );
}

/** Assets without cover, with a gap ahead, or paid for twice or for nothing. */
function AssetParts({ ahead }: { ahead: Ahead }) {
  return (
    <>
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
    </>
  );
}

function Costs({ ahead }: { ahead: Ahead }) {
  return (
    <Part title="Cost of each asset" number={ahead.counts.costs}>
      {ahead.costs.map((row) => (
        <li key={row.contract_id} className={`${LINE} grid-cols-[92px_1fr_110px_130px]`}>
          <ContractLink row={row} />
          <span className="min-w-0 truncate">
            {row.vendor_name} <Soft as="span">{row.title}</Soft>
          </span>
          <span className="text-right text-soft">{row.assets ? count(row.assets, "thing") : "no thing"}</span>
          <span className="text-right tabular-nums">{sayMoney(row.each_minor, row.currency)}</span>
        </li>
      ))}
    </Part>
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
    {row.product} <Soft as="span">{row.site_name}</Soft>
  </span>
);

const More = ({ shown, all }: { shown: number; all: number }) =>
  all > shown ? <li className="py-1.5 text-soft">and {count(all - shown, "more", "more")}</li> : null;

export function OneEnd({ vendor }: { vendor: string }) {
  const aligned = useAligned(vendor);
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">One end for all</h2>
      {!vendor && <Soft>Choose a vendor to see the cost of aligning its contracts on one end date.</Soft>}
      {vendor && aligned.error && <Soft>{aligned.error.detail}</Soft>}
      {vendor && aligned.isPending && !aligned.error && <Waiting label="The cost is being worked out" lines={2} />}
      {aligned.data && vendor && (
        <>
          <p>All on {sayDay(aligned.data.on)}, pro rata by day:</p>
          <ul>
            {aligned.data.items.map((row) => (
              <li key={row.contract_id} className="flex justify-between gap-3 border-b border-line py-1">
                <span>
                  <Mono>{row.contract}</Mono> <Soft as="span">{count(row.days, "day")} more</Soft>
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
