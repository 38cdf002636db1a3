import { type FormEvent, useDeferredValue, useState } from "react";
import { useLocation } from "wouter";
import type { Asset } from "../../api/assets";
import type { Need } from "../../api/coverage";
import { useNote } from "../../api/packets";
import { useSimilar } from "../../api/similar";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { ProblemNote } from "../../components/problem-note";
import { NEED_WORDS, NEEDS } from "../../format/needs";
import { AssetPicker } from "./asset-picker";
import { SeenBefore } from "./seen-before";

export function NoteDialog({ onClose }: { onClose: () => void }) {
  const [key] = useState(() => crypto.randomUUID());
  const [title, setTitle] = useState("");
  const [text, setText] = useState("");
  const [need, setNeed] = useState<Need>("fault");
  const [asset, setAsset] = useState<Asset | null>(null);
  const [, go] = useLocation();
  const note = useNote();
  const known = useSimilar(useDeferredValue(title), useDeferredValue(text), asset?.id);

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
        {known.data && <SeenBefore found={known.data} />}
        <ProblemNote problem={note.error} />
        <div className="flex justify-end gap-3">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="ink" type="submit" disabled={note.isPending}>
            Note it
          </Button>
        </div>
      </form>
    </Dialog>
  );
}
