/** The way back: what a pasted or dropped reply of the desk would do. */

import { type DragEvent, useState } from "react";
import { type ReplyRead, type SheetPreview, useReadReplies } from "../../api/desks";
import { Button, TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";

interface Props {
  text: string;
  samples: SheetPreview["replies"];
}

export function WayBack({ text, samples }: Props) {
  const [reply, setReply] = useState("");
  const [name, setName] = useState("");
  const read = useReadReplies();
  const look = (given: string, called: string) => {
    setReply(given);
    setName(called);
    read.mutate({ yaml: text, replies: [{ name: called, text: given }] });
  };
  const drop = async (event: DragEvent) => {
    const file = event.dataTransfer.files[0];
    if (!file) return;
    event.preventDefault();
    look(await file.text(), file.name);
  };
  return (
    <div className="flex flex-col gap-2 px-4 pt-1 pb-3.5">
      <p className="flex flex-wrap gap-x-3 text-soft">
        Paste or drop a reply, or take a sample:
        {samples.map((one) => (
          <TextButton key={one.says} onClick={() => look(one.text, "")}>
            {one.says}
          </TextButton>
        ))}
      </p>
      <textarea
        aria-label="A reply of the desk"
        className="field h-36 font-mono text-[12px]"
        value={reply}
        onChange={(event) => setReply(event.target.value)}
        onDragOver={(event) => event.preventDefault()}
        onDrop={drop}
      />
      <Button className="self-start" disabled={!reply.trim() || read.isPending} onClick={() => look(reply, name)}>
        Read it
      </Button>
      <div aria-live="polite">
        <ProblemNote problem={read.error} />
        {read.data?.map((one) => (
          <Read key={one.name} read={one} />
        ))}
      </div>
    </div>
  );
}

function Read({ read }: { read: ReplyRead }) {
  const { news } = read;
  const facts: [string, string][] = [
    ["Packet", read.our_number],
    ["Reference", read.reference],
    ["Status", `${news.status || "none"}: ${news.life}, ${news.turn === "ours" ? "our turn" : "their turn"}`],
    ...Object.entries(news.facts ?? {}),
  ];
  return (
    <>
      <dl className="grid grid-cols-[max-content_1fr] gap-x-4 gap-y-0.5">
        {facts
          .filter(([, value]) => value)
          .map(([name, value]) => (
            <div key={name} className="contents">
              <dt className="text-soft">{name}</dt>
              <dd className="break-words">{value}</dd>
            </div>
          ))}
      </dl>
      {news.messages.map((one) => (
        <p key={one.id} className="mt-1.5 border-l-3 border-line pl-3 whitespace-pre-line">
          <Soft as="span">{one.asks ? "asks: " : "says: "}</Soft>
          {one.text}
        </p>
      ))}
      {read.refusals.map((one) => (
        <p key={one.code} className="mt-1.5 border-l-3 border-wax pl-3">
          <Mono>{one.code}</Mono> {one.text}{" "}
          <Soft as="span" block>
            {one.cure}
          </Soft>
        </p>
      ))}
      {read.not_understood.map((sentence) => (
        <p key={sentence} className="mt-1.5 border-l-3 border-ochre pl-3">
          {sentence}
        </p>
      ))}
    </>
  );
}
