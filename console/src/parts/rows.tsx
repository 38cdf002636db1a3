/** Lists of packets and assets: rows that arrows move through. */
import type { ReactNode } from "react";
import { Link } from "wouter";
import type { Asset, PacketBrief } from "../api/data";
import { Badge, lifeTone, Mono } from "./basics";
import { moveInRows } from "./keys";

export function Rows({ label, children }: { label: string; children: ReactNode }) {
  return (
    <ul aria-label={label} onKeyDown={moveInRows}>
      {children}
    </ul>
  );
}

export function PacketRow({ packet, beside }: { packet: PacketBrief; beside?: ReactNode }) {
  return (
    <li className="border-b border-line">
      <Link
        data-row
        href={`/packets/${packet.number}`}
        className="-mx-2 grid grid-cols-[72px_1fr_auto] items-start gap-x-2.5 px-2 py-2.5 hover:bg-sheet max-sm:grid-cols-[1fr_auto]"
      >
        <Mono className="pt-px max-sm:col-span-2">{packet.number}</Mono>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{packet.title}</span>
          <span className="block truncate text-soft">{packet.status_text}</span>
        </span>
        {beside ?? <Badge tone={lifeTone(packet.life)}>{packet.life}</Badge>}
      </Link>
    </li>
  );
}

export function AssetRow({ asset }: { asset: Asset }) {
  return (
    <li className="border-b border-line">
      <Link
        data-row
        href={`/assets/${asset.id}`}
        className="-mx-2 grid grid-cols-[150px_1.2fr_1.3fr_1fr_auto] items-baseline gap-x-4 px-2 py-2 hover:bg-sheet max-md:grid-cols-[1fr_auto]"
      >
        <Mono>{asset.serial}</Mono>
        <span className="truncate font-semibold">{asset.name || asset.product_name}</span>
        <span className="truncate text-soft max-md:hidden">{asset.product_name}</span>
        <span className="truncate max-md:hidden">{asset.site_name ?? "no site"}</span>
        <span className="w-16 text-right text-soft">{(asset.status ?? "in_use").replace("_", " ")}</span>
      </Link>
    </li>
  );
}
