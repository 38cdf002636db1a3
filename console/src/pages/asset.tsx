import { type ReactNode, useState } from "react";
import type { Asset, Need } from "../api/data";
import { useAsset, useCoverage, usePacketsOf } from "../api/data";
import { useHistory, useTimeline } from "../api/register";
import { Facts, Mono, Nothing, ProblemNote, ProblemPage, Sheet, sayDay, Waiting } from "../parts/basics";
import { HistoryList } from "../parts/history";
import { NEEDS } from "../parts/needs";
import { PacketRow, Rows } from "../parts/rows";
import { Reasons, RouteBadge } from "../parts/ruling";
import { type Bar, DayLanes, type Lane, sayDays } from "../parts/timeline";
import { AssetActs } from "./asset-acts";

export function AssetPage({ handle, roles }: { handle: string; roles: string[] }) {
  const asset = useAsset(handle);
  if (asset.error) return <ProblemPage title="Asset" problem={asset.error} />;
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_360px] gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1">
      {asset.data ? <Known asset={asset.data} roles={roles} /> : <Waiting label="The asset is being read" />}
    </main>
  );
}

function Known({ asset, roles }: { asset: Asset; roles: string[] }) {
  const packets = usePacketsOf(asset.id);
  const history = useHistory("assets", asset.id);
  const [need, setNeed] = useState<Need>("fault");
  const ruling = useCoverage(asset.id, "fault");
  const facts: [string, ReactNode][] = [
    ["Serial", <Mono key="serial">{asset.serial}</Mono>],
    ["Model", `${asset.product_name} (${asset.product})`],
    ["Vendor", asset.vendor_name],
    ["Site", asset.site_name ?? "none"],
    ["State", (asset.status ?? "in_use").replace("_", " ")],
    ["Software", asset.software_version ? <Mono key="software">{asset.software_version}</Mono> : "not noted"],
    ["Host names", <MonoList key="hosts" items={asset.host_names ?? []} />],
    ["Addresses", <MonoList key="addresses" items={asset.addresses ?? []} />],
    ["Shipped", asset.shipped_on ? sayDay(asset.shipped_on) : "not noted"],
    ["Installed", asset.installed_on ? sayDay(asset.installed_on) : "not noted"],
    ["Notes", asset.notes || "none"],
  ];
  return (
    <>
      <div>
        <div className="flex flex-wrap items-center gap-2">
          <h1 className="mr-auto text-[24px] leading-8">{asset.name || asset.product_name}</h1>
          {roles.includes("keeper") && <AssetActs asset={asset} listed={ruling.data?.entitlement ?? ""} />}
        </div>
        <p className="text-soft">
          <Mono>{asset.serial}</Mono> · {asset.product_name} · {asset.site_name ?? "no site"}
        </p>
        <OverTime asset={asset} need={need} />
        <section className="mt-6">
          <h2 className="text-[18px] leading-6">Packets on it</h2>
          <ProblemNote problem={packets.error} />
          {packets.data ? (
            <Rows label="Packets on it">
              {packets.data.map((packet) => (
                <PacketRow key={packet.number} packet={packet} />
              ))}
            </Rows>
          ) : (
            !packets.error && <Waiting label="Packets are being read" lines={2} />
          )}
          {packets.data?.length === 0 && <Nothing>Nothing is open on it, and nothing ever was.</Nothing>}
        </section>
        <section className="mt-6">
          <h2 className="mb-2 text-[18px] leading-6">As kept</h2>
          <Facts facts={facts} />
        </section>
      </div>
      <aside className="flex flex-col gap-4">
        <Cover asset={asset} need={need} setNeed={setNeed} />
        <HistoryList history={history} />
      </aside>
    </>
  );
}

function MonoList({ items }: { items: string[] }) {
  if (items.length === 0) return "none";
  return items.map((item) => (
    <Mono key={item} className="block">
      {item}
    </Mono>
  ));
}

/** Two years back and two ahead, whole years. */
function years(): [string, string] {
  const year = new Date().getUTCFullYear();
  return [`${year - 2}-01-01`, `${year + 2}-12-31`];
}

function OverTime({ asset, need }: { asset: Asset; need: Need }) {
  const [since, until] = years();
  const timeline = useTimeline(asset.id, need, since, until);
  const spans: Bar[] = (timeline.data?.spans ?? []).map((span) => {
    const bare = span.route === "none" || span.route === "paid";
    const what = bare ? "Not covered" : [span.contract ?? span.route, span.level].filter(Boolean).join(", ");
    const also = span.also?.length ? `; also ${span.also.join(", ")}` : "";
    const words = `${what}: ${sayDays(span.starts_on, span.ends_on)}${also}`;
    return { from: span.starts_on, to: span.ends_on, tone: bare ? "gap" : "moss", words };
  });
  const byEntitlement = new Map<string, Lane>();
  for (const bar of timeline.data?.bars ?? []) {
    const key = `${bar.contract} ${bar.entitlement}`;
    const lane = byEntitlement.get(key) ?? { name: bar.contract, beside: bar.level, bars: [] };
    const words = `${bar.entitlement}, ${bar.level}: ${sayDays(bar.starts_on, bar.ends_on)}`;
    lane.bars.push({ from: bar.starts_on, to: bar.ends_on, tone: "ink", words });
    byEntitlement.set(key, lane);
  }
  return (
    <section className="mt-5">
      <h2 className="mb-2 text-[18px] leading-6">Cover over time</h2>
      <ProblemNote problem={timeline.error} />
      {timeline.isPending && !timeline.error && <Waiting label="Cover is being ruled on" lines={3} />}
      {timeline.data && (
        <DayLanes
          label={`Cover for a ${need}, day by day`}
          since={since}
          until={until}
          lanes={[{ name: "cover", beside: `for a ${need}`, bars: spans }, ...byEntitlement.values()]}
        />
      )}
    </section>
  );
}

function Cover({ asset, need, setNeed }: { asset: Asset; need: Need; setNeed: (need: Need) => void }) {
  const ruling = useCoverage(asset.id, need);
  return (
    <Sheet className="p-4">
      <div className="mb-2 flex items-center justify-between gap-3">
        <h2 className="text-[16px]">Cover today</h2>
        {ruling.data && <RouteBadge ruling={ruling.data} />}
      </div>
      <label className="mb-3 flex items-center gap-2">
        <span className="text-soft">for a</span>
        <select className="field w-auto" value={need} onChange={(event) => setNeed(event.target.value as Need)}>
          {NEEDS.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      </label>
      <ProblemNote problem={ruling.error} />
      {ruling.data ? <Reasons ruling={ruling.data} /> : !ruling.error && <Waiting label="Cover is being ruled on" />}
    </Sheet>
  );
}
