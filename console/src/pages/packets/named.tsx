/** What a note may be about, by its own words; F2 takes the first. */
import type { Schemas } from "../../api/client";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";

interface Props {
  found: Schemas["NamedAsset"][];
  onTake: (asset: Schemas["AssetBrief"]) => void;
}

export function Named({ found, onTake }: Props) {
  if (found.length === 0) return null;
  return (
    <section aria-label="It may be about">
      <h3 className="text-soft">It may be about</h3>
      <ul>
        {found.map(({ asset, because }, place) => (
          <li key={asset.id}>
            <button
              type="button"
              onClick={() => onTake(asset)}
              className="flex w-full items-baseline gap-3 rounded px-2 py-1 text-left hover:bg-paper"
            >
              <Mono className="w-36 shrink-0">{asset.serial}</Mono>
              <span className="min-w-0 truncate">
                {asset.name || asset.product}, {asset.site ?? "no site"}
              </span>
              <span className="ml-auto min-w-0 truncate text-soft" title={because.join(", ")}>
                {because.join(", ")}
              </span>
              {place === 0 && <Key>F2</Key>}
            </button>
          </li>
        ))}
      </ul>
    </section>
  );
}
