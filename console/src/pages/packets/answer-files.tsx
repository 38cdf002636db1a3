/** Files that go with an answer: added here, redacted like any exhibit, sent under the same legend. */

import { useRef } from "react";
import { Link } from "wouter";
import { type Exhibit, useExhibitAct } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import type { useUploads } from "../../api/upload";
import { Button } from "../../components/button";
import { FilesInput } from "../../components/files-input";
import { Column, Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { count } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { Coming } from "./exhibit-drop";

/** What came after the seal and goes with no message yet. */
export const filesToGo = (packet: Packet) => packet.exhibits.filter((one) => one.later && !one.sent);

export function AnswerFiles({ packet, uploads }: { packet: Packet; uploads: ReturnType<typeof useUploads> }) {
  const input = useRef<HTMLInputElement>(null);
  const choose = () => input.current?.click();
  const takes = (packet.takes_files ?? 0) > 0;
  useKeys("answerFiles", { add: takes && choose });
  if (!takes) return null;
  return (
    <Column gap={2}>
      <ul className="flex flex-col empty:hidden">
        {filesToGo(packet).map((file) => (
          <Line key={file.id} packet={packet} file={file} />
        ))}
      </ul>
      {uploads.uploads.length > 0 && <Coming uploads={uploads} />}
      <Row gap={3} align="center">
        <Button letter="+" onClick={choose}>
          Add files
        </Button>
        <Soft as="span">or drop them anywhere on this page; they are redacted first</Soft>
      </Row>
      <FilesInput input={input} label="Files for the answer" add={uploads.add} />
    </Column>
  );
}

function Line({ packet, file }: { packet: Packet; file: Exhibit }) {
  const act = useExhibitAct(packet.number);
  const masked = Object.values(file.counts).reduce((sum, number) => sum + Number(number), 0);
  const words: Record<string, string> = {
    ready: file.leaks ? "leaks; it cannot go" : `${count(masked, "value")} masked`,
    held: `held: ${file.reason}`,
    failed: `failed: ${file.reason}`,
  };
  return (
    <li className="flex flex-wrap items-baseline gap-x-3 border-b border-line py-1.5 first:border-t">
      <Link className="link" href={`/packets/${packet.number}/exhibits/${encodeURIComponent(file.name)}`}>
        <Mono>{file.name}</Mono>
      </Link>
      <span className={file.state === "ready" && !file.leaks ? "text-soft" : "text-ochre"}>
        {words[file.state] ?? "being redacted"}
      </span>
      <button
        type="button"
        className="link ml-auto"
        disabled={act.isPending}
        onClick={() => act.mutate({ act: "remove", name: file.name })}
      >
        Leave it out
      </button>
    </li>
  );
}
