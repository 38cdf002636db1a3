import { type ReactNode, useState } from "react";
import type { Asset, Need } from "../api/data";
import { useAsset, useCoverage, usePacketsOf } from "../api/data";
import { Mono, Nothing, Sheet, sayDay, TroubleNote, Waiting } from "../parts/basics";
import { PacketRow, Rows } from "../parts/rows";
import { Reasons, RouteBadge } from "../parts/ruling";

const NEEDS: Need[] = ["fault", "question", "change", "capacity", "return", "help"];

export function AssetPage({ handle }: { handle: string }) {
  const asset = useAsset(handle);
  if (asset.error) {
    return (
      <main className="mx-auto w-full max-w-3xl p-6">
        <h1 className="mb-3 text-[24px] leading-8">Asset</h1>
        <TroubleNote trouble={asset.error} />
      </main>
    );
  }
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_360px] gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1">
      {asset.data ? <Known asset={asset.data} /> : <Waiting label="The asset is being read" />}
    </main>
  );
}

function Known({ asset }: { asset: Asset }) {
  const packets = usePacketsOf(asset.id);
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
        <h1 className="text-[24px] leading-8">{asset.name || asset.product_name}</h1>
        <p className="text-soft">
          <Mono>{asset.serial}</Mono> · {asset.product_name} · {asset.site_name ?? "no site"}
        </p>
        <section className="mt-6">
          <h2 className="text-[18px] leading-6">Packets on it</h2>
          <TroubleNote trouble={packets.error} />
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
          <dl className="grid grid-cols-[120px_1fr] gap-y-1.5">
            {facts.map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name}</dt>
                <dd className="min-w-0 break-words">{value}</dd>
              </div>
            ))}
          </dl>
        </section>
      </div>
      <Cover asset={asset} />
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

function Cover({ asset }: { asset: Asset }) {
  const [need, setNeed] = useState<Need>("fault");
  const ruling = useCoverage(asset.id, need);
  return (
    <aside>
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
        <TroubleNote trouble={ruling.error} />
        {ruling.data ? <Reasons ruling={ruling.data} /> : !ruling.error && <Waiting label="Cover is being ruled on" />}
      </Sheet>
    </aside>
  );
}
