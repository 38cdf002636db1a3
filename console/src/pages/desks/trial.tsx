/** A sheet tried for a whole life at a desk made from it, and at its stand-in; never at the desk itself. */

import { type FormEvent, useRef, useState } from "react";
import type { Need } from "../../api/coverage";
import { useTrySheet } from "../../api/desks";
import { Button, TextButton } from "../../components/button";
import { FilesInput } from "../../components/files-input";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";

const MARKS = [
  ["✓", "text-moss", "done"],
  ["✗", "text-wax", "failed"],
  ["–", "text-soft", "not there"],
] as const;

const markOf = (ok: boolean | null | undefined) => MARKS[ok ? 0 : ok === false ? 1 : 2];

export function Trial({ text, seed, need }: { text: string; seed: number; need: string }) {
  const trial = useTrySheet();
  const [asset, setAsset] = useState("");
  const [recorded, setRecorded] = useState<File[]>([]);
  const choosing = useRef<HTMLInputElement>(null);
  const submit = async (event: FormEvent) => {
    event.preventDefault();
    const said = await Promise.all(recorded.map(async (file) => ({ name: file.name, text: await file.text() })));
    trial.mutate({ yaml: text, asset: asset.trim(), need: need as Need, seed, recorded: said });
  };
  return (
    <form onSubmit={submit} className="flex flex-wrap items-end gap-3 px-4 pt-1.5 pb-3.5">
      <label className="min-w-0 grow">
        <Soft as="span" block>
          Serial of an asset, to lodge it at the stand-in as well
        </Soft>
        <input
          className="field font-mono text-[12.5px]"
          value={asset}
          onChange={(event) => setAsset(event.target.value)}
        />
      </label>
      <FilesInput
        input={choosing}
        label="Recorded replies"
        add={(files) => setRecorded((before) => [...before, ...files])}
      />
      <Button onClick={() => choosing.current?.click()}>Add what the desk has said</Button>
      <Button type="submit" disabled={trial.isPending}>
        {trial.isPending ? "Trying…" : "Try"}
      </Button>
      {recorded.length > 0 && (
        <p className="w-full">
          It has to understand {recorded.map((file) => file.name).join(", ")}.{" "}
          <TextButton onClick={() => setRecorded([])}>Without</TextButton>
        </p>
      )}
      <div className="w-full empty:hidden" aria-live="polite">
        <ProblemNote problem={trial.error} />
        {trial.data && (
          <p className="font-semibold">
            {trial.data.status_text} {trial.data.reference && <Mono>{trial.data.reference}</Mono>}
          </p>
        )}
        <ol aria-label="Acts of the trial" className="empty:hidden">
          {trial.data?.steps.map((step) => {
            const [sign, colour, words] = markOf(step.ok);
            return (
              <li key={step.act} className="border-b border-line py-1.5 last:border-0">
                <span className={colour} role="img" aria-label={words}>
                  {sign}
                </span>{" "}
                <span className="inline-block first-letter:uppercase">{step.act}</span>: {step.sentence}
                {step.said && (
                  <details>
                    <summary className="link cursor-pointer text-[12.5px]">What was said</summary>
                    <pre className="max-h-40 overflow-auto font-mono text-[12px] whitespace-pre-wrap">{step.said}</pre>
                  </details>
                )}
              </li>
            );
          })}
        </ol>
        {trial.data?.refusals.map((reason) => (
          <p key={reason.code + reason.text} className="mt-1 border-l-3 border-wax pl-3">
            {reason.code}: {reason.text}
          </p>
        ))}
      </div>
    </form>
  );
}
