/** One packet on its workbench: the packing list, the part being worked on, and what still stops it. */

import { useEffect, useState } from "react";
import { useLocation } from "wouter";
import { type Packet, useAct, usePacket } from "../../api/packets";
import { useMe } from "../../api/session";
import { useUploads } from "../../api/upload";
import { Badge, lifeTone } from "../../components/badge";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { named } from "../../frame/pictures";
import { useKeys } from "../../keyboard/keys";
import { AssetPart } from "./asset";
import { Beside } from "./beside";
import { ExhibitsPart } from "./exhibits";
import { HandPart } from "./hand";
import { LetterPart } from "./letter";
import { PackingList, type Part } from "./packing-list";
import { QuestionsPart } from "./questions";
import { NewerSheet } from "./renewing";
import { RepliesPart } from "./replies";
import { RulingPart } from "./ruling";
import { ThreadPart } from "./thread";

const PARTS: Part[] = ["thing", "ruling", "questions", "exhibits", "letter"];

interface Props {
  number: string;
  part: string | undefined;
  name: string | undefined;
  roles: string[];
}

export function PacketPage({ number, part, name, roles }: Props) {
  const packet = usePacket(number);
  if (packet.error && !packet.data) return <ProblemPage title={number} problem={packet.error} />;
  if (!packet.data) {
    return (
      <main className="mx-auto w-full max-w-3xl p-6">
        <PageTitle>{number}</PageTitle>
        <Waiting label="Loading the packet" lines={8} />
      </main>
    );
  }
  return <Bench packet={packet.data} stale={packet.error} part={part} name={name} roles={roles} />;
}

/** The part that needs a person first: what the page opens with. */
function firstPart(packet: Packet): Part {
  if (packet.life === "sealed" && packet.lodge_state === "by_hand") return "hand";
  if (packet.life !== "drafting") return packet.messages.length || packet.life === "lodged" ? "replies" : "letter";
  if (!packet.asset) return "thing";
  const stop = packet.checks.find((check) => check.level === "stop");
  if (!stop) return packet.exhibits.length ? "letter" : "exhibits";
  if (stop.act === "answer") return "questions";
  return stop.code === "cover" ? "ruling" : "exhibits";
}

function Bench({ packet, stale, part, name, roles }: Omit<Props, "number"> & { packet: Packet; stale: unknown }) {
  const [, go] = useLocation();
  const act = useAct(packet.number);
  const uploads = useUploads(packet.number);
  const [opened] = useState(() => firstPart(packet));
  const current = [...PARTS, "hand", "replies", "thread"].includes(part as Part) ? (part as Part) : opened;
  const drafting = packet.life === "drafting";
  const show = (wanted: Part, item?: string) =>
    go(`/packets/${packet.number}/${wanted}${item ? `/${encodeURIComponent(item)}` : ""}`);
  const me = useMe();
  const prepared = packet.release?.prepared_by.includes(me.data?.name ?? "") ?? false;
  const mayRelease = roles.includes("releaser") && !prepared;
  const stops = packet.checks.filter((check) => check.level === "stop").length;
  const open = packet.life === "lodged" || packet.life === "answered";
  const dropping = useDrop((drafting || open) && roles.includes("preparer"), (files) => {
    show(open ? "replies" : "exhibits");
    uploads.add(files);
  });

  useKeys("packet", {
    ...Object.fromEntries(PARTS.map((value) => [value, () => show(value)])),
    thread: () => show("thread"),
    seal: mayRelease && drafting && stops === 0 && (() => act.mutate("seal")),
    lodge: mayRelease && packet.life === "sealed" && (() => act.mutate("lodge")),
    follow: open && !packet.by_hand && (() => act.mutate("follow")),
    tryNow: packet.next_try_at != null && (() => act.mutate("try-now")),
  });

  return (
    <main
      className={join(
        "grid w-full grow grid-cols-[250px_minmax(0,1fr)_300px] max-xl:grid-cols-[230px_minmax(0,1fr)] max-md:flex max-md:flex-col print:block",
        dropping && "outline-3 -outline-offset-3 outline-slate outline-dashed",
      )}
    >
      <PackingList packet={packet} current={current} show={show} name={name} uploads={uploads.uploads} />
      <div className="min-w-0 px-6 py-4 max-md:px-4">
        <div className="mb-2.5 flex flex-wrap items-baseline gap-x-3 gap-y-1">
          <PageTitle title={`${packet.number} ${current}: ${packet.title}`}>{packet.title}</PageTitle>
          {packet.desk_name && <Soft as="span">for {packet.desk_name}</Soft>}
          {packet.owner && <Soft as="span">looked after by {packet.owner}</Soft>}
          <span className="md:hidden">
            <Mono>{packet.number}</Mono> <Badge tone={lifeTone(packet.life)}>{packet.life}</Badge>
          </span>
        </div>
        <ProblemNote problem={stale} />
        <NewerSheet packet={packet} mayDraft={roles.includes("preparer")} />
        {current === "thing" && <AssetPart packet={packet} mayNote={roles.includes("preparer")} />}
        {current === "ruling" && <RulingPart packet={packet} />}
        {current === "questions" && <QuestionsPart packet={packet} focus={name} />}
        {current === "exhibits" && (
          <ExhibitsPart packet={packet} name={name} uploads={uploads} roles={roles} show={show} />
        )}
        {current === "letter" && <LetterPart packet={packet} roles={roles} />}
        {current === "hand" && <HandPart packet={packet} mayEnter={roles.includes("preparer")} />}
        {current === "thread" && <ThreadPart packet={packet} roles={roles} />}
        {current === "replies" && <RepliesPart packet={packet} roles={roles} uploads={uploads} />}
      </div>
      <Beside packet={packet} act={act} show={show} mayRelease={mayRelease} />
    </main>
  );
}

/** Files dropped or pasted anywhere on the page, unless a dialog covers it: then the frame asks what they are for. */
function useDrop(allowed: boolean, onFiles: (files: File[]) => void) {
  const [over, setOver] = useState(false);
  useEffect(() => {
    if (!allowed) return;
    const covered = () => document.querySelector("[role=dialog]") !== null;
    const hold = (event: DragEvent) => {
      if (!event.dataTransfer?.types.includes("Files") || covered()) return;
      event.preventDefault();
      setOver(true);
    };
    const leave = (event: DragEvent) => event.relatedTarget === null && setOver(false);
    const drop = (event: DragEvent) => {
      setOver(false);
      if (!event.dataTransfer?.files.length || covered()) return;
      event.preventDefault();
      onFiles([...event.dataTransfer.files]);
    };
    const paste = (event: ClipboardEvent) => {
      if (!event.clipboardData?.files.length || covered()) return;
      event.preventDefault();
      onFiles([...event.clipboardData.files].map(named));
    };
    document.addEventListener("dragover", hold);
    document.addEventListener("dragleave", leave);
    document.addEventListener("drop", drop);
    document.addEventListener("paste", paste);
    return () => {
      document.removeEventListener("dragover", hold);
      document.removeEventListener("dragleave", leave);
      document.removeEventListener("drop", drop);
      document.removeEventListener("paste", paste);
    };
  });
  return over;
}
