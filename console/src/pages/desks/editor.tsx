/** The editor of a desk sheet: the text, what is found in it as it is typed, and a sample of what it makes. */
import { type FormEvent, useEffect, useRef, useState } from "react";
import { useLocation } from "wouter";
import { type Need, type SheetPreview, useDesk, usePutSheet, useSheetPreview, useTrySheet } from "../../api/data";
import { Button, count, join, Mono, ProblemNote, ProblemPage, Sheet, Waiting } from "../../parts/basics";
import { TEMPLATE } from "./template";
import { type Text, YamlText } from "./text";

interface Props {
  desk: string;
  roles: string[];
}

export function DeskPage({ desk, roles }: Props) {
  if (desk === "new") return <Editor name="A new desk" kept="" first={TEMPLATE} roles={roles} />;
  return <Known key={desk} desk={desk} roles={roles} />;
}

function Known({ desk, roles }: Props) {
  const known = useDesk(desk);
  if (known.error) return <ProblemPage title={desk} problem={known.error} />;
  if (!known.data) {
    return (
      <main className="mx-auto w-full max-w-4xl p-6">
        <h1 className="text-[24px] leading-8">{desk}</h1>
        <Waiting label="The sheet is being read" lines={8} />
      </main>
    );
  }
  const { name, version, yaml } = known.data;
  return <Editor name={name} version={version} kept={yaml} first={yaml} roles={roles} />;
}

interface EditorProps {
  name: string;
  version?: number;
  kept: string;
  first: string;
  roles: string[];
}

function Editor({ name, version, kept, first, roles }: EditorProps) {
  const [, go] = useLocation();
  const keeper = roles.includes("keeper");
  const [text, setText] = useState(first);
  const [seed, setSeed] = useState(0);
  const [need, setNeed] = useState("");
  const settled = useSettled(text, 350);
  const preview = useSheetPreview(keeper ? settled : "", seed, need);
  const put = usePutSheet();
  const editor = useRef<Text>(null);
  const found = preview.data?.findings ?? [];
  const stops = found.filter((one) => one.level === "stop").length;
  const changed = text !== kept;
  useLeaving(changed && keeper && kept !== "");
  const keep = () => put.mutate(text, { onSuccess: (desk) => go(`/desks/${desk.key}`) });

  return (
    <main className="grid w-full grow grid-cols-[minmax(0,1fr)_minmax(0,460px)] content-start gap-x-5 px-6 py-4 max-lg:block max-md:px-4">
      <div className="mb-2.5 flex flex-wrap items-baseline gap-x-3 gap-y-1 lg:col-span-2">
        <h1 className="text-[24px] leading-8">{name}</h1>
        <span className="text-soft">{version ? `version ${version} of its sheet` : "its first sheet"}</span>
        {keeper && (
          <span className="ml-auto flex items-baseline gap-3">
            <span className="text-soft" aria-live="polite">
              {preview.isFetching ? "Looking it through" : stops ? `${count(stops, "stop")} left` : "Nothing stops it"}
            </span>
            <Button look="ink" disabled={!changed || stops > 0 || preview.isFetching || put.isPending} onClick={keep}>
              {version ? `Keep as version ${version + 1}` : "Keep it"}
            </Button>
          </span>
        )}
      </div>
      <div className="min-w-0">
        <div className="mb-2 empty:hidden">
          <ProblemNote problem={put.error} />
        </div>
        <YamlText ref={editor} value={text} onChange={setText} findings={found} readOnly={!keeper} />
      </div>
      {keeper && (
        <div className="flex min-w-0 flex-col gap-3 max-lg:mt-4">
          <Findings found={found} problem={preview.error} jump={(line) => editor.current?.jump(line)} />
          {preview.data && stops === 0 && (
            <Sample preview={preview.data} need={need} onNeed={setNeed} another={() => setSeed(seed + 1)} />
          )}
          {stops === 0 && <Try text={text} seed={seed} need={need || (preview.data?.needs[0] ?? "fault")} />}
        </div>
      )}
    </main>
  );
}

/** A value once it has been still for a while. */
function useSettled(value: string, wait: number) {
  const [settled, setSettled] = useState(value);
  useEffect(() => {
    const later = setTimeout(() => setSettled(value), wait);
    return () => clearTimeout(later);
  }, [value, wait]);
  return settled;
}

/** Ask before what was typed is lost. */
function useLeaving(unsaved: boolean) {
  useEffect(() => {
    if (!unsaved) return;
    const ask = (event: BeforeUnloadEvent) => event.preventDefault();
    window.addEventListener("beforeunload", ask);
    return () => window.removeEventListener("beforeunload", ask);
  }, [unsaved]);
}

const BARS = { stop: "border-wax", warn: "border-ochre", hint: "border-line" } as const;

interface FindingsProps {
  found: SheetPreview["findings"];
  problem: unknown;
  jump: (line: number) => void;
}

function Findings({ found, problem, jump }: FindingsProps) {
  return (
    <Sheet title="To mend">
      <ProblemNote problem={problem} />
      <ul
        tabIndex={0}
        aria-label="To mend"
        aria-live="polite"
        className="flex max-h-64 flex-col gap-1.5 overflow-auto px-4 pt-2 pb-3.5"
      >
        {found.map((one) => (
          <li
            key={`${one.line} ${one.place} ${one.sentence}`}
            className={join("border-l-3 py-1 pl-3", BARS[one.level])}
          >
            <span className="sr-only">{one.level}: </span>
            {one.sentence}
            <button type="button" className="link block text-left" onClick={() => jump(one.line)}>
              line {one.line} {one.place && <Mono>{one.place}</Mono>}
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="text-soft">Nothing to mend.</li>}
      </ul>
    </Sheet>
  );
}

interface SampleProps {
  preview: SheetPreview;
  need: string;
  onNeed: (need: string) => void;
  another: () => void;
}

function Sample({ preview, need, onNeed, another }: SampleProps) {
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
function Try({ text, seed, need }: { text: string; seed: number; need: string }) {
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
          <span className="block text-soft">About the thing with the serial</span>
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
