import { type ReactNode, useState } from "react";
import { type Asset, useAsset } from "../../api/assets";
import { type Need, useCoverage } from "../../api/coverage";
import { useAccessOf, useAssetFiles } from "../../api/following";
import { usePacketsOf } from "../../api/packets";
import { useHistory } from "../../api/records";
import { Facts } from "../../components/facts";
import { HistoryList } from "../../components/history-list";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Rows } from "../../components/rows";
import { Heading, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayDay } from "../../format/dates";
import { saySize } from "../../format/numbers";
import { Around } from "../packets/asset-context";
import { AccessWords } from "../packets/carried";
import { PacketRow } from "../packets/packet-row";
import { AssetActs } from "./asset-acts";
import { Cover, OverTime } from "./asset-cover";
import { AssetReach } from "./asset-reach";

export function AssetPage({ handle, roles }: { handle: string; roles: string[] }) {
  const asset = useAsset(handle);
  if (asset.error) return <ProblemPage title="Asset" problem={asset.error} />;
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_360px] gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1">
      {asset.data ? <Known asset={asset.data} roles={roles} /> : <Waiting label="Loading the asset" />}
    </main>
  );
}

function Known({ asset, roles }: { asset: Asset; roles: string[] }) {
  const packets = usePacketsOf(asset.id);
  const history = useHistory("assets", asset.id);
  const [need, setNeed] = useState<Need>("fault");
  const ruling = useCoverage(asset.id, "fault");
  const mayReach = roles.includes("keeper") || roles.includes("preparer");
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
        <Row gap={2} wrap align="center">
          <PageTitle className="mr-auto">{asset.name || asset.product_name}</PageTitle>
          {roles.includes("keeper") && <AssetActs asset={asset} listed={ruling.data?.entitlement ?? ""} />}
        </Row>
        <Soft>
          <Mono>{asset.serial}</Mono> · {asset.product_name} · {asset.site_name ?? "no site"}
        </Soft>
        <OverTime asset={asset} need={need} />
        <section className="mt-6">
          <Heading level={2}>Packets on it</Heading>
          <ProblemNote problem={packets.error} />
          {packets.data ? (
            <Rows label="Packets on it">
              {packets.data.map((packet) => (
                <PacketRow key={packet.number} packet={packet} />
              ))}
            </Rows>
          ) : (
            !packets.error && <Waiting label="Loading packets" lines={2} />
          )}
          {packets.data?.length === 0 && <Nothing>Nothing is open on it, and nothing ever was.</Nothing>}
        </section>
        <div className="mt-6 empty:hidden">
          <Around asset={asset.id} withTried />
        </div>
        {mayReach && <AssetReach asset={asset.id} keeper={roles.includes("keeper")} />}
        <VendorFiles asset={asset.id} />
        <VendorAccess asset={asset.id} />
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

/** What vendors sent for it: a patch, a label. */
function VendorFiles({ asset }: { asset: string }) {
  const files = useAssetFiles(asset);
  if (!files.data?.length) return null;
  return (
    <section className="mt-6">
      <Heading level={2}>Files of its vendor</Heading>
      <ul>
        {files.data.map((file) => (
          <li key={file.id} className="flex flex-wrap gap-x-3 py-1">
            <a className="link" href={`/api/v1/packets/${file.packet}/files/${file.id}`} download={file.name}>
              <Mono>{file.name}</Mono>
            </a>
            <Soft as="span">
              {saySize(file.size)}, {file.kind}, from {file.packet}, {sayDay(file.created_at)}
            </Soft>
            {file.warning && <span className="text-ochre">{file.warning}</span>}
          </li>
        ))}
      </ul>
    </section>
  );
}

/** Who of its vendor may come into it, and who could. */
function VendorAccess({ asset }: { asset: string }) {
  const access = useAccessOf(asset);
  if (!access.data?.length) return null;
  return (
    <section className="mt-6">
      <Heading level={2}>Access of its vendor</Heading>
      <ul>
        {access.data.map((one) => (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <AccessWords access={one} />
          </li>
        ))}
      </ul>
    </section>
  );
}
