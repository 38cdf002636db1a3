/** A sample packet, and trying it. */

import { type FormEvent, useState } from "react";
import type { Need } from "../../api/coverage";
import { type SheetPreview, useTrySheet } from "../../api/desks";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { count } from "../../format/numbers";

interface SampleProps {
  preview: SheetPreview;
  need: string;
  onNeed: (need: string) => void;
  another: () => void;
}

export function Sample({ preview, need, onNeed, another }: SampleProps) {
  const typed = preview.answers.filter((one) => one.value && !one.source).length;
  return (
    <Sheet>
      <div className="flex flex-wrap items-center gap-3 px-4 pt-3.5">
        <h2 className="text-[16px]">A sample</h2>
        <select
          aria-label="Kind of need"
          className="field w-36 py-0.5"
          value={need || preview.needs[0]}
          onChange={(event) => onNeed(event.target.value)}
        >
          {preview.needs.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        <button type="button" className="link ml-auto" onClick={another}>
          Another
        </button>
      </div>
      <p className="px-4 pt-1 text-soft">{count(typed, "answer")} by hand, the others from the register</p>
      <ul tabIndex={0} aria-label="Answers of the sample" className="max-h-56 overflow-auto px-4 pt-2">
        {preview.answers.map((one) => (
          <li key={one.ask} className="grid grid-cols-2 gap-3 border-b border-line py-1 text-[12.5px] last:border-0">
            <span>
              {one.ask}
              {one.because && <span className="block text-soft">asked because {one.because}</span>}
            </span>
            <span className={join("break-words whitespace-pre-line", !one.source && "font-semibold")}>
              {one.value ?? "–"}
            </span>
          </li>
        ))}
      </ul>
      {preview.cases.map((one) => (
        <pre
          key={one.label}
          tabIndex={0}
          className="mt-2 max-h-72 overflow-auto border-t border-line p-4 font-mono text-[12px] leading-[18px] whitespace-pre-wrap"
        >
          {one.text}
        </pre>
      ))}
    </Sheet>
  );
}

/** Lodge the sample at the desk's stand-in, never at the desk itself. */
export function Try({ text, seed, need }: { text: string; seed: number; need: string }) {
  const trial = useTrySheet();
  const [asset, setAsset] = useState("");
  const submit = (event: FormEvent) => {
    event.preventDefault();
    trial.mutate({ yaml: text, asset: asset.trim(), need: need as Need, seed });
  };
  return (
    <Sheet title="Try it at the stand-in">
      <form onSubmit={submit} className="flex flex-wrap items-end gap-3 px-4 pt-1.5 pb-3.5">
        <label className="min-w-0 grow">
          <span className="block text-soft">Serial of the asset</span>
          <input
            className="field font-mono text-[12.5px]"
            required
            value={asset}
            onChange={(event) => setAsset(event.target.value)}
          />
        </label>
        <Button type="submit" disabled={trial.isPending || !asset.trim()}>
          Try
        </Button>
        <div className="w-full empty:hidden" aria-live="polite">
          <ProblemNote problem={trial.error} />
          {trial.data && (
            <p>
              {trial.data.status_text} {trial.data.reference && <Mono>{trial.data.reference}</Mono>}
            </p>
          )}
          {trial.data?.refusals.map((reason) => (
            <p key={reason.code + reason.text} className="mt-1 border-l-3 border-wax pl-3">
              {reason.code}: {reason.text}
            </p>
          ))}
        </div>
      </form>
    </Sheet>
  );
}
