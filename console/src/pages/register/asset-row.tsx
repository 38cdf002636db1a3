/** An asset in a list. */

import { Link } from "wouter";
import type { Asset } from "../../api/assets";
import { Mono } from "../../components/mono";

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
