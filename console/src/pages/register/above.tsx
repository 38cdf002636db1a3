/** What stands above the lists of some kinds of record: a plan of capacity, the balance of units, versions behind. */

import { Link } from "wouter";
import { useAssetsBehind, useUnitBalance } from "../../api/agreed";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { count } from "../../format/numbers";
import { CapacityPlan } from "./capacity-plan";
import { UnreadHours } from "./unread-hours";

interface Props {
  plural: string;
  vendor: string;
  roles: string[];
}

export function Above({ plural, vendor, roles }: Props) {
  if (plural === "entitlements") return <UnreadHours mayEdit={roles.includes("keeper")} />;
  if (plural === "limits") return <CapacityPlan vendor={vendor} mayAsk={roles.includes("preparer")} />;
  if (plural === "lots") return <Balance vendor={vendor} />;
  if (plural === "releases") return <Behind vendor={vendor} />;
  return null;
}

function Balance({ vendor }: { vendor: string }) {
  const balance = useUnitBalance(vendor);
  if (!balance.data?.lots.length) return null;
  const { left, held, used_in_a_year: used, will_lapse: lapse } = balance.data;
  return (
    <p className="mb-3">
      <b>{count(left, "unit")}</b> left, {held} held by packets. <Soft as="span">{used} used in a year</Soft>
      {lapse > 0 && <span className="text-wax">; {lapse} will lapse unused at that pace</span>}
    </p>
  );
}

const SHOWN = 100;

function Behind({ vendor }: { vendor: string }) {
  const behind = useAssetsBehind(vendor);
  if (!behind.data?.length) return null;
  return (
    <details className="mb-3 rounded-md border border-line px-3 py-2">
      <summary className="cursor-pointer">
        {count(behind.data.length, "asset does", "assets do")} not run the current version
      </summary>
      <ul className="mt-2">
        {behind.data.slice(0, SHOWN).map((one) => (
          <li key={one.asset_id} className="grid grid-cols-[170px_1fr_200px_1fr] items-baseline gap-x-3 py-1">
            <Link className="link" href={`/assets/${one.asset_id}`}>
              <Mono>{one.asset}</Mono>
            </Link>
            <span className="min-w-0 truncate">
              {one.name} <Soft as="span">{one.product}</Soft>
            </span>
            <span>
              <Mono>{one.runs || "unknown"}</Mono> <span aria-hidden>→</span> <Mono>{one.current}</Mono>
              {one.status === "withdrawn" && <span className="text-wax"> withdrawn</span>}
            </span>
            <span className="min-w-0 truncate">
              {one.mends.length > 0 && (
                <>
                  <Soft as="span">mends</Soft> <Mono>{one.mends.join(", ")}</Mono>
                </>
              )}
            </span>
          </li>
        ))}
      </ul>
      {behind.data.length > SHOWN && <Soft>and {behind.data.length - SHOWN} more</Soft>}
    </details>
  );
}
