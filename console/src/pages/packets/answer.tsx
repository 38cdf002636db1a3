/** Writing to the vendor: words and files, looked over before they are sent; which questions they answer. */

import { type FormEvent, type KeyboardEvent, useRef, useState } from "react";
import { useAction, useReplyPreview } from "../../api/following";
import type { Packet } from "../../api/packets";
import type { useUploads } from "../../api/upload";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { useKept } from "../../components/use-kept";
import { useKeys } from "../../keyboard/keys";
import { AnswerFiles, filesToGo } from "./answer-files";
import type { Asking } from "./asked";
import { isTouched, TypedText } from "./typed";

interface Props {
  packet: Packet;
  asking: Asking;
  uploads: ReturnType<typeof useUploads>;
  mayDecide: boolean;
}

/** An answer as it is being written, and what would become of it. */
function useDraft({ packet, asking, uploads }: Props, sent: () => void) {
  const answering = asking.chosen.length > 0;
  const told = useAction(packet.number, answering ? "reply" : "comment");
  const [text, setText] = useKept(`${packet.number}.answer`);
  const [looked, setLooked] = useState<string>();
  const [key, setKey] = useState(() => crypto.randomUUID());
  const preview = useReplyPreview(packet.number, looked ?? "");
  const files = filesToGo(packet);
  const waiting = uploads.uploads.length > 0 || files.some((file) => file.state !== "ready");
  const seen = looked !== undefined && looked === text && (!looked.trim() || preview.data !== undefined);
  const stops = Boolean(seen && preview.data?.parts.some((part) => part.stops));
  const empty = !text.trim() && files.length === 0 && uploads.uploads.length === 0;
  const blocked = told.isPending || preview.isFetching || empty || stops || (seen && waiting);

  function send() {
    const body = { text, case: asking.caseName, files: files.map((file) => file.name) };
    told.mutate({ body: answering ? { ...body, questions: asking.chosen } : body, key } as never, {
      onSuccess: () => {
        setText("");
        setLooked(undefined);
        setKey(crypto.randomUUID());
        asking.reset();
        sent();
      },
    });
  }
  const goOn = () => (blocked ? undefined : seen ? send() : setLooked(text));
  return { answering, told, text, setText, preview, files, waiting, seen, stops, blocked, goOn };
}

export function Answer(props: Props) {
  const { packet, asking, uploads, mayDecide } = props;
  const field = useRef<HTMLTextAreaElement>(null);
  const draft = useDraft(props, () => field.current?.blur());
  useKeys("answer", { write: () => field.current?.focus() });
  const submit = (event: FormEvent) => {
    event.preventDefault();
    draft.goOn();
  };
  const press = (event: KeyboardEvent) => {
    if (event.key !== "Enter" || !(event.ctrlKey || event.metaKey)) return;
    event.preventDefault();
    draft.goOn();
  };
  const label = draft.answering
    ? `Answer ${packet.vendor ?? "the vendor"}`
    : `Write to ${packet.vendor ?? "the vendor"}`;
  return (
    <form onSubmit={submit} onKeyDown={press} className="flex flex-col gap-2">
      <CaseChoice packet={packet} asking={asking} />
      <label className="flex flex-col gap-1">
        <span className="font-semibold">
          {label} <kbd className="ml-1 font-sans text-[12px] font-normal text-soft">R</kbd>
          {asking.all.length > 1 && draft.answering && (
            <span className="ml-2 font-normal text-soft">
              {asking.chosen.length} of {asking.all.length} questions
            </span>
          )}
        </span>
        <textarea
          ref={field}
          className="field min-h-24"
          value={draft.text}
          onChange={(event) => draft.setText(event.target.value)}
        />
      </label>
      <AnswerFiles packet={packet} uploads={uploads} />
      <ProblemNote problem={draft.preview.error ?? draft.told.error} />
      {draft.seen && draft.preview.data && draft.text.trim() && (
        <Looked packet={packet} text={draft.preview.data} stops={draft.stops} mayDecide={mayDecide} />
      )}
      <Row gap={3} align="center">
        <Button look="ink" type="submit" disabled={draft.blocked}>
          {draft.seen ? "Send" : "Preview"}
        </Button>
        <Soft as="span">
          {draft.seen && draft.waiting ? "The files are still being redacted." : "Ctrl and Enter do the same."}
        </Soft>
      </Row>
    </form>
  );
}

interface LookedProps {
  packet: Packet;
  text: Parameters<typeof TypedText>[0]["text"];
  stops: boolean;
  mayDecide: boolean;
}

function Looked({ packet, text, stops, mayDecide }: LookedProps) {
  return (
    <Sheet>
      <h2 className="px-4 py-2.5 font-sans font-normal text-[14px]" aria-live="polite">
        {isTouched(text) ? "On the right is what goes out." : "Nothing in it is masked: it is sent unchanged."}
        {stops && (
          <span className="ml-3 text-wax">A secret stops it. Take it out, or have it masked for a reason.</span>
        )}
      </h2>
      {isTouched(text) && <TypedText packet={packet} text={text} mayDecide={mayDecide} />}
    </Sheet>
  );
}

/** Where a packet has several cases: which of them this is about. A ticked question already says so. */
function CaseChoice({ packet, asking }: { packet: Packet; asking: Asking }) {
  if (packet.cases.length < 2 || asking.chosen.length > 0) return null;
  return (
    <label className="flex items-center gap-3">
      <Soft as="span">About</Soft>
      <select className="field w-auto" value={asking.caseName} onChange={(event) => asking.setCase(event.target.value)}>
        {packet.cases.map((one) => (
          <option key={one.label} value={one.label}>
            {one.label} {one.reference && `(${one.reference})`}
          </option>
        ))}
      </select>
    </label>
  );
}
