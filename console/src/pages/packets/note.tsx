/** Noting what happened: what it is about is suggested while it is typed, and what is known already is shown. */

import { useQueryClient } from "@tanstack/react-query";
import { type FormEvent, useDeferredValue, useState } from "react";
import { useLocation } from "wouter";
import type { Asset } from "../../api/assets";
import type { Need } from "../../api/coverage";
import { useNote } from "../../api/packets";
import { useSimilar } from "../../api/similar";
import { sendIn } from "../../api/upload";
import { useVendorHealth } from "../../api/vendor-health";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Row } from "../../components/layout";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { NEED_WORDS, NEEDS } from "../../format/needs";
import { saySize } from "../../format/numbers";
import { Reports } from "../notices/report";
import { AssetPicker } from "./asset-picker";
import { Named } from "./named";
import { SeenBefore } from "./seen-before";

export function NoteDialog({ files, onClose }: { files: File[]; onClose: () => void }) {
  const [key] = useState(() => crypto.randomUUID());
  const [title, setTitle] = useState("");
  const [text, setText] = useState("");
  const [need, setNeed] = useState<Need>("fault");
  const [ticket, setTicket] = useState("");
  const [asset, setAsset] = useState<Asset | null>(null);
  const [sent] = useState(() => new Set<File>());
  const [failed, setFailed] = useState<unknown>(null);
  const [, go] = useLocation();
  const note = useNote();
  const cache = useQueryClient();
  const known = useSimilar(useDeferredValue(title), useDeferredValue(text), asset?.id);
  const health = useVendorHealth({ asset: asset?.id ?? "" }, asset !== null);
  const named = asset ? [] : (known.data?.named ?? []);

  async function send(number: string) {
    try {
      for (const file of files.filter((one) => !sent.has(one))) {
        await sendIn(number, file, file.name, () => undefined);
        sent.add(file);
      }
      if (files.length > 0) await cache.invalidateQueries({ queryKey: ["packet", number] });
      onClose();
      go(`/packets/${number}`);
    } catch (error) {
      setFailed(error);
    }
  }

  function submit(event: FormEvent) {
    event.preventDefault();
    note.mutate(
      { title, note: text, need, asset: asset?.id ?? null, ticket, key },
      { onSuccess: (packet) => send(packet.number) },
    );
  }

  return (
    <Dialog open onChange={(open) => !open && onClose()} title="What happened?" className="p-5">
      <form
        onSubmit={submit}
        className="flex flex-col gap-4"
        onKeyDown={(event) => {
          const first = named[0];
          if (event.key !== "F2" || !first) return;
          event.preventDefault();
          setAsset(asAsset(first.asset));
        }}
      >
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
          <Soft as="span">What is seen, since when, what changed, what was tried.</Soft>
          <textarea className="field min-h-24" value={text} onChange={(event) => setText(event.target.value)} />
        </label>
        <Row gap={4}>
          <label className="flex grow flex-col gap-1">
            <span className="font-semibold">It is</span>
            <select className="field" value={need} onChange={(event) => setNeed(event.target.value as Need)}>
              {NEEDS.map((value) => (
                <option key={value} value={value}>
                  {NEED_WORDS[value]}
                </option>
              ))}
            </select>
          </label>
          <label className="flex w-44 flex-col gap-1">
            <span className="font-semibold">Our ticket</span>
            <input
              className="field font-mono"
              maxLength={60}
              placeholder="if there is one"
              value={ticket}
              onChange={(event) => setTicket(event.target.value)}
            />
          </label>
        </Row>
        <AssetPicker
          asset={asset}
          onPick={setAsset}
          suggested={<Named found={named} onTake={(one) => setAsset(asAsset(one))} />}
        />
        <Reports label="Reported by the vendor" reports={health.data?.items} />
        {known.data && <SeenBefore found={known.data} />}
        {files.length > 0 && (
          <ul aria-label="Goes with it">
            {files.map((file) => (
              <Row as="li" gap={3} key={file.name}>
                <span className="font-mono text-[12.5px]">{file.name}</span>
                <Soft as="span">{saySize(file.size)}, goes with it</Soft>
              </Row>
            ))}
          </ul>
        )}
        <ProblemNote problem={note.error ?? failed} />
        <Row gap={3} place="end">
          <Button onClick={onClose}>Cancel</Button>
          <Button look="ink" type="submit" disabled={note.isPending}>
            Note it
          </Button>
        </Row>
      </form>
    </Dialog>
  );
}

/** A suggested thing as the picker shows one. */
const asAsset = (one: { id: string; serial: string; name: string; product: string; site: string | null }) =>
  ({ ...one, product_name: one.product, site_name: one.site }) as unknown as Asset;
