/** Choosing what a packet is about. */

import { type ReactNode, useDeferredValue, useState } from "react";
import { type Asset, useAssets, useReadAsset } from "../../api/assets";
import { useOftenUsed } from "../../api/often-used";
import { Button } from "../../components/button";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";

interface Props {
  asset: Asset | null;
  onPick: (asset: Asset | null) => void;
  /** What stands there until something is typed. */
  suggested?: ReactNode;
}

/** Find an asset by serial, model, host name, site or words. */
export function AssetPicker({ asset, onPick, suggested }: Props) {
  const [query, setQuery] = useState("");
  const deferred = useDeferredValue(query.trim());
  const found = useAssets(deferred || " ");
  const asked = query.trim().length > 1;
  const rows = asked ? (found.data ?? []).slice(0, 6) : [];
  return (
    <fieldset className="flex min-w-0 flex-col gap-1">
      <legend className="font-semibold">The asset, if you know it</legend>
      {asset ? (
        <p className="flex items-center justify-between rounded-md border border-line px-3 py-1.5">
          <span>
            <Mono>{asset.serial}</Mono> {asset.name || asset.product_name}, {asset.site_name}
          </span>
          <Button look="bare" onClick={() => onPick(null)}>
            Another
          </Button>
        </p>
      ) : (
        <>
          <input
            className="field"
            aria-label="Serial, model, host name, site or words"
            placeholder="Serial, model, host name, site, words"
            value={query}
            onChange={(event) => setQuery(event.target.value)}
          />
          <ul aria-label="Assets like this">
            {rows.map((row) => (
              <li key={row.id}>
                <button
                  type="button"
                  onClick={() => onPick(row)}
                  className="flex w-full gap-3 rounded px-2 py-1 text-left hover:bg-paper"
                >
                  <Mono className="w-36 shrink-0">{row.serial}</Mono>
                  <span className="min-w-0 truncate">
                    {row.name || row.product_name}, {row.site_name}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {!asked && suggested}
          {!asked && <OftenUsed onPick={onPick} />}
          {asked && found.data?.length === 0 && <Soft>Nothing matches.</Soft>}
        </>
      )}
    </fieldset>
  );
}

/** Assets that were pinned or used last. */
function OftenUsed({ onPick }: Pick<Props, "onPick">) {
  const used = useOftenUsed();
  const read = useReadAsset();
  const assets = used.data?.filter((one) => one.kind === "asset").slice(0, 4) ?? [];
  if (assets.length === 0) return null;
  return (
    <ul aria-label="Assets you use often">
      <li className="px-2 pt-1 text-[12px] text-soft">Used often</li>
      {assets.map((one) => (
        <li key={one.handle}>
          <button
            type="button"
            onClick={() => read.mutate(one.handle, { onSuccess: onPick })}
            className="flex w-full gap-3 rounded px-2 py-1 text-left hover:bg-paper"
          >
            <Mono className="w-36 shrink-0">{one.name}</Mono>
            <span className="min-w-0 truncate text-soft">{one.beside}</span>
          </button>
        </li>
      ))}
    </ul>
  );
}
