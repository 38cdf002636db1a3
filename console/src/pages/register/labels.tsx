/** Labels: a photo of one finds its thing; those of chosen things are printed. */

import { useRef, useState } from "react";
import { Link } from "wouter";
import { usePrintLabels, useReadLabel } from "../../api/labels";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Key } from "../../components/key";
import { Column } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { useKeys } from "../../keyboard/keys";
import { REGISTER } from "./kinds";
import { RecordDialog } from "./record";

export function ScanLabel({ keeper }: { keeper: boolean }) {
  const input = useRef<HTMLInputElement>(null);
  const [open, setOpen] = useState(false);
  const [adding, setAdding] = useState<Record<string, unknown> | null>(null);
  const read = useReadLabel();
  const assets = REGISTER.find((one) => one.kind === "asset");
  return (
    <>
      <button
        type="button"
        className="rounded-md border border-line bg-sheet px-3 py-1.5 hover:border-soft"
        onClick={() => input.current?.click()}
      >
        Scan a label
      </button>
      <input
        ref={input}
        type="file"
        accept="image/*"
        capture="environment"
        tabIndex={-1}
        aria-label="Photo of a label"
        className="sr-only"
        onChange={(event) => {
          const file = event.target.files?.[0];
          event.target.value = "";
          if (!file) return;
          setOpen(true);
          read.mutate(file);
        }}
      />
      <Dialog open={open} onChange={setOpen} title="Text of the label" className="p-5">
        <ProblemNote problem={read.error} />
        {read.isPending && <Waiting label="Loading the photo" lines={2} />}
        {read.data?.length === 0 && (
          <Nothing>There is no code on it that can be read. Go nearer, and keep it flat and in the light.</Nothing>
        )}
        <Column as="ul" gap={3}>
          {read.data?.map((code) => (
            <li key={`${code.text} ${code.corners}`}>
              <Soft>
                <Mono className="break-all text-ink">{code.text}</Mono> · {code.symbology}
              </Soft>
              {code.likely && <p className="text-ochre">Not in the register; written much like it:</p>}
              {code.assets.map((asset) => (
                <Link key={asset.id} className="link block" href={`/assets/${asset.id}`}>
                  <Mono>{asset.serial}</Mono> {asset.name || asset.product_name}, {asset.site_name ?? "no site"}
                </Link>
              ))}
              {code.proposed && keeper && (
                <Button look="bare" onClick={() => setAdding({ ...code.proposed })}>
                  Add {code.proposed.serial}
                  {code.proposed.product_name && `, ${code.proposed.product_name}`}
                </Button>
              )}
            </li>
          ))}
        </Column>
      </Dialog>
      {adding && assets && <RecordDialog register={assets} first={adding} onClose={() => setAdding(null)} />}
    </>
  );
}

export function PrintLabels({ ids }: { ids: string[] }) {
  const print = usePrintLabels();
  useKeys("labels", { print: () => print.mutate(ids) });
  return (
    <>
      <TextButton disabled={print.isPending} onClick={() => print.mutate(ids)}>
        Print labels <Key>L</Key>
      </TextButton>
      {print.error && <span className="text-wax">{print.error.detail}</span>}
    </>
  );
}
