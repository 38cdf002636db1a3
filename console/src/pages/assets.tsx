import { useDeferredValue, useState } from "react";
import { useAssets } from "../api/data";
import { count, Nothing, TroubleNote, Waiting } from "../parts/basics";
import { AssetRow, Rows } from "../parts/rows";

export function AssetsPage() {
  const [query, setQuery] = useState("");
  const assets = useAssets(useDeferredValue(query));
  return (
    <main className="mx-auto w-full max-w-[1100px] px-6 py-7">
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-[24px] leading-8">Assets</h1>
        <p className="text-soft">{assets.data && count(assets.data.length, "asset")}</p>
      </div>
      <input
        className="field my-4 max-w-96"
        aria-label="Serial, model, host name, site or words"
        placeholder="Serial, model, host name, site, words"
        value={query}
        onChange={(event) => setQuery(event.target.value)}
      />
      <TroubleNote trouble={assets.error} />
      {assets.isPending && !assets.error && <Waiting label="Assets are being read" lines={8} />}
      {assets.data && (
        <Rows label="Assets">
          {assets.data.map((asset) => (
            <AssetRow key={asset.id} asset={asset} />
          ))}
        </Rows>
      )}
      {assets.data?.length === 0 && <Nothing>Nothing is like this, not even mistyped.</Nothing>}
    </main>
  );
}
