/** Noting a packet: what happened, in plain words, and the thing if it is known. */
import { type FormEvent, useDeferredValue, useState } from "react";
import { useLocation } from "wouter";
import type { Asset, Need } from "../api/data";
import { useAssets, useNote } from "../api/data";
import { Button, Mono, ProblemNote } from "../parts/basics";
import { Dialog } from "../parts/dialog";
import { NEED_WORDS, NEEDS } from "../parts/needs";

export function NoteDialog({ onClose }: { onClose: () => void }) {
  const [key] = useState(() => crypto.randomUUID());
  const [title, setTitle] = useState("");
  const [text, setText] = useState("");
  const [need, setNeed] = useState<Need>("fault");
  const [asset, setAsset] = useState<Asset | null>(null);
  const [, go] = useLocation();
  const note = useNote();

  function submit(event: FormEvent) {
    event.preventDefault();
    note.mutate(
      { title, note: text, need, asset: asset?.id ?? null, key },
      {
        onSuccess: (packet) => {
          onClose();
          go(`/packets/${packet.number}`);
        },
      },
    );
  }

  return (
    <Dialog open onChange={(open) => !open && onClose()} title="What happened?" className="p-5">
      <form onSubmit={submit} className="flex flex-col gap-4">
        <label className="flex flex-col gap-1">
          <span className="font-semibold">In one line</span>
          <input
            className="field"
            required
            minLength={3}
            maxLength={200}
            value={title}
            onChange={(event) => setTitle(event.target.value)}
          />
        </label>
        <label className="flex flex-col gap-1">
          <span className="font-semibold">In plain words</span>
          <span className="text-soft">What is seen, since when, what changed, what was tried.</span>
          <textarea className="field min-h-24" value={text} onChange={(event) => setText(event.target.value)} />
        </label>
        <label className="flex flex-col gap-1">
          <span className="font-semibold">It is</span>
          <select className="field" value={need} onChange={(event) => setNeed(event.target.value as Need)}>
            {NEEDS.map((value) => (
              <option key={value} value={value}>
                {NEED_WORDS[value]}
              </option>
            ))}
          </select>
        </label>
        <AssetPicker asset={asset} onPick={setAsset} />
        <ProblemNote problem={note.error} />
        <div className="flex justify-end gap-3">
          <Button onClick={onClose}>Leave it</Button>
          <Button look="ink" type="submit" disabled={note.isPending}>
            Note it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}

/** Find an asset by serial, model, host name, site or words. */
export function AssetPicker({ asset, onPick }: { asset: Asset | null; onPick: (asset: Asset | null) => void }) {
  const [query, setQuery] = useState("");
  const deferred = useDeferredValue(query.trim());
  const found = useAssets(deferred || " ");
  const rows = query.trim().length > 1 ? (found.data ?? []).slice(0, 6) : [];
  return (
    <fieldset className="flex flex-col gap-1">
      <legend className="font-semibold">The thing, if you know it</legend>
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
                  <span className="truncate">
                    {row.name || row.product_name}, {row.site_name}
                  </span>
                </button>
              </li>
            ))}
          </ul>
          {query.trim().length > 1 && found.data?.length === 0 && <p className="text-soft">Nothing matches.</p>}
        </>
      )}
    </fieldset>
  );
}
