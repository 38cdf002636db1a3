/** The editor of a desk sheet: the text, what is found in it as it is typed, and a sample of what it makes. */

import { useEffect, useRef, useState } from "react";
import { useLocation } from "wouter";
import { type SheetPreview, useDesk, usePutSheet, useSheetPreview } from "../../api/desks";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { Begin } from "./begin";
import { Beside } from "./beside";
import { Findings } from "./findings";
import { listsStatus, putStatus } from "./put-status";
import { TEMPLATE } from "./template";
import { type Text, YamlText } from "./text";
import { Unlisted } from "./unlisted";

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
  const { name, version, yaml, unlisted } = known.data;
  return <Editor name={name} version={version} kept={yaml} first={yaml} unlisted={unlisted} roles={roles} />;
}

interface EditorProps {
  name: string;
  version?: number;
  kept: string;
  first: string;
  unlisted?: { word: string; packets: string[] }[];
  roles: string[];
}

function Editor({ name, version, kept, first, unlisted = [], roles }: EditorProps) {
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
  // From the first change on: a button that is taken away only when the look begins swallows the click that is on its way.
  const looking = text !== settled || preview.isFetching;
  const last = useLastGood(preview.data, preview.isPlaceholderData, settled);
  useLeaving(changed && keeper && kept !== "");
  const putIn = (word: string) => editor.current?.replace(putStatus(text, word) ?? text);
  const keep = () => put.mutate(text, { onSuccess: (desk) => go(`/desks/${desk.key}`) });

  return (
    <main className="grid w-full grow grid-cols-[minmax(0,1fr)_minmax(0,460px)] content-start gap-x-5 px-6 py-4 max-lg:block max-md:px-4">
      <div className="mb-2.5 flex flex-wrap items-baseline gap-x-3 gap-y-1 lg:col-span-2">
        <PageTitle>{name}</PageTitle>
        <Soft as="span">{version ? `version ${version} of its sheet` : "its first sheet"}</Soft>
        {keeper && (
          <Row as="span" gap={3} align="baseline" push>
            <Soft as="span" aria-live="polite">
              {looking ? "Looking it through" : stops ? `${count(stops, "stop")} left` : "Nothing stops it"}
            </Soft>
            <Button look="ink" disabled={!changed || stops > 0 || looking || put.isPending} onClick={keep}>
              {version ? `Save as version ${version + 1}` : "Save"}
            </Button>
          </Row>
        )}
      </div>
      <div className="min-w-0">
        <div className="mb-2 empty:hidden">
          <ProblemNote problem={put.error} />
        </div>
        {keeper && <Unlisted unlisted={unlisted.filter((one) => !listsStatus(text, one.word))} put={putIn} />}
        <YamlText ref={editor} value={text} onChange={setText} findings={found} readOnly={!keeper} />
      </div>
      {keeper && (
        <div className="flex min-w-0 flex-col gap-3 max-lg:mt-4">
          {!version && <Begin onBegun={(begun) => editor.current?.replace(begun)} />}
          <Findings
            found={found}
            problem={preview.error}
            jump={(line, column) => editor.current?.jump(line, column)}
            fix={(finding) => editor.current?.fix(finding)}
          />
          {last && (
            <Beside
              preview={last.preview}
              text={last.text}
              old={stops > 0}
              seed={seed}
              need={need}
              onNeed={setNeed}
              another={() => setSeed(seed + 1)}
            />
          )}
        </div>
      )}
    </main>
  );
}

/** The newest preview of a text that could be used, with that text: it stays while something is wrong. */
function useLastGood(preview: SheetPreview | undefined, old: boolean, text: string) {
  const [last, setLast] = useState<{ preview: SheetPreview; text: string }>();
  const good = preview && !old && preview.name !== "";
  useEffect(() => {
    if (good) setLast({ preview, text });
  }, [good, preview, text]);
  return last;
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
