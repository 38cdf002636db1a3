/** The editor of a desk sheet: the text, what is found in it as it is typed, and a sample of what it makes. */

import { useEffect, useRef, useState } from "react";
import { useLocation } from "wouter";
import { useDesk, usePutSheet, useSheetPreview } from "../../api/desks";
import { Button } from "../../components/button";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { Findings } from "./findings";
import { Sample, Try } from "./sample";
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
        <PageTitle>{desk}</PageTitle>
        <Waiting label="Loading the sheet" lines={8} />
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
        <PageTitle>{name}</PageTitle>
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
