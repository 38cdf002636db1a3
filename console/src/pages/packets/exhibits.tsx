import { useState } from "react";
import { type Exhibit, useExhibitAct } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import type { useUploads } from "../../api/upload";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Column, Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { count, saySize } from "../../format/numbers";
import { Began } from "./began";
import { Decided } from "./deciding";
import { Bar, Coming, DropHere } from "./exhibit-drop";
import { Release } from "./exhibit-release";
import { FromAnother } from "./from-another";
import { Kits } from "./kits";
import { LogSummary } from "./log-summary";
import { FIRST } from "./look";
import { Originals } from "./originals";
import type { Part } from "./packing-list";
import { PagesReview } from "./pages";
import { Review } from "./review";

interface Props {
  packet: Packet;
  name: string | undefined;
  uploads: ReturnType<typeof useUploads>;
  roles: string[];
  show: (part: Part, item?: string) => void;
}

export function ExhibitsPart({ packet, name, uploads, roles, show }: Props) {
  const chosen = packet.exhibits.find((exhibit) => exhibit.name === name);
  const mayAdd = packet.life === "drafting" && roles.includes("preparer");
  return (
    <Column gap={4}>
      {chosen ? (
        <One key={chosen.id} packet={packet} exhibit={chosen} roles={roles} show={show} />
      ) : (
        <All packet={packet} show={show} />
      )}
      {uploads.uploads.length > 0 && <Coming uploads={uploads} />}
      {!chosen && <Began packet={packet} />}
      {packet.evidence.length > 0 && !chosen && <Wanted packet={packet} />}
      {!chosen && <Kits packet={packet} mayCollect={roles.includes("preparer") && mayStillAdd(packet)} />}
      {mayAdd && <DropHere add={uploads.add} />}
      {mayAdd && !chosen && <FromAnother packet={packet} />}
      {!chosen && <Originals packet={packet} mayDelete={roles.includes("releaser")} />}
    </Column>
  );
}

const mayStillAdd = (packet: Packet) => ["drafting", "lodged", "answered"].includes(packet.life);

/** What the desk wants to see of this packet. */
function Wanted({ packet }: { packet: Packet }) {
  return (
    <Sheet title={`${packet.vendor} wants to see`} className="pb-3">
      <ul className="px-4 pt-1">
        {packet.evidence.map((one) => (
          <li key={one.what} className="py-1">
            {one.what}
            {one.hours_before > 0 && `, from ${count(one.hours_before, "hour")} before it began`}
            {one.hours_after > 0 && ` to ${count(one.hours_after, "hour")} after`}
            {one.state === "missing" ? (
              <span className={one.required ? "ml-2 text-wax" : "ml-2 text-soft"}>
                {one.required ? "needed" : "not there yet"}
              </span>
            ) : (
              <span className={one.state === "present" ? "ml-2 text-moss" : "ml-2 text-ochre"}>
                {one.state === "present" ? "there" : "look again"}: {one.exhibit}
              </span>
            )}
            {one.faults.map((fault) => (
              <span key={fault} className="block text-[12.5px] text-ochre">
                {fault}
              </span>
            ))}
            {one.because && <span className="block text-[12.5px] text-soft">because {one.because}</span>}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

/** A log is looked at in two ways: what it says, and what of it goes out. */
function Sides({ says, setSays }: { says: boolean; setSays: (says: boolean) => void }) {
  return (
    <fieldset className="flex gap-2" aria-label="How to look at it">
      <Button aria-pressed={!says} look={says ? "plain" : "ink"} onClick={() => setSays(false)}>
        What goes out
      </Button>
      <Button aria-pressed={says} look={says ? "ink" : "plain"} onClick={() => setSays(true)}>
        What it says
      </Button>
    </fieldset>
  );
}

function masked(exhibit: Exhibit) {
  return Object.values(exhibit.counts).reduce((sum, number) => sum + Number(number), 0);
}

function All({ packet, show }: { packet: Packet; show: Props["show"] }) {
  if (packet.exhibits.length === 0) {
    return (
      <Sheet className="p-4">
        <p>No evidence yet.</p>
        <Soft>Originals stay here, encrypted; only redacted copies can go out.</Soft>
      </Sheet>
    );
  }
  return (
    <Sheet className="overflow-x-auto">
      <table className="w-full text-left">
        <thead>
          <tr className="text-soft">
            {["Exhibit", "State", "Original", "Outgoing", "Masked", "Kept"].map((head, place) => (
              <th
                key={head}
                scope="col"
                className={place > 1 ? "px-4 py-2.5 text-right font-normal" : "px-4 py-2.5 font-normal"}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {packet.exhibits.map((exhibit) => (
            <tr key={exhibit.id} className="border-t border-line">
              <th scope="row" className="px-4 py-2.5 font-normal">
                <button
                  type="button"
                  className="link font-mono text-[12.5px]"
                  onClick={() => show("exhibits", exhibit.name)}
                >
                  {exhibit.name}
                </button>
                {exhibit.collected && (
                  <span className="block text-[12px] text-soft">by kit {exhibit.collected.kit}</span>
                )}
              </th>
              <td className="px-4 py-2.5">
                <State exhibit={exhibit} />
              </td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap tabular-nums">{saySize(exhibit.size)}</td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap tabular-nums">
                {saySize(exhibit.outgoing_size)}
              </td>
              <td className="px-4 py-2.5 text-right tabular-nums">{masked(exhibit).toLocaleString("en-GB")}</td>
              <td className="px-4 py-2.5 text-right tabular-nums">
                {Object.values(exhibit.kept)
                  .reduce((sum, number) => sum + Number(number), 0)
                  .toLocaleString("en-GB")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Sheet>
  );
}

function State({ exhibit }: { exhibit: Exhibit }) {
  if (exhibit.state === "redacting" || exhibit.state === "waiting") {
    const part = exhibit.size ? exhibit.done / exhibit.size : 0;
    return (
      <div className="w-36">
        {exhibit.state === "waiting" ? "waiting" : part >= 1 ? "checking for leaks" : "redacting"}
        <Bar label={`${exhibit.name} redacted`} part={part} />
      </div>
    );
  }
  if (exhibit.state === "ready" && exhibit.leaks === 0) return <Badge tone="moss">ready</Badge>;
  if (exhibit.state === "held") {
    return <Badge tone={exhibit.released_by ? "ochre" : "wax"}>{exhibit.released_by ? "released" : "held"}</Badge>;
  }
  return <Badge tone="wax">{exhibit.leaks ? "leaks" : exhibit.state}</Badge>;
}

function One({ packet, exhibit, roles, show }: { packet: Packet; exhibit: Exhibit } & Pick<Props, "roles" | "show">) {
  const act = useExhibitAct(packet.number);
  const drafting = packet.life === "drafting";
  const [place, setPlace] = useState(FIRST);
  const mayDecide = drafting && (roles.includes("preparer") || roles.includes("releaser"));
  const Looked = exhibit.shows === "pages" ? PagesReview : Review;
  const inHand = ["waiting", "redacting", "receiving"].includes(exhibit.state);
  const [says, setSays] = useState(false);
  const mayCut = drafting && roles.includes("preparer") && !inHand;
  return (
    <>
      {exhibit.faults.map((fault) => (
        <p key={fault} className="text-ochre">
          {fault}
        </p>
      ))}
      {exhibit.has_summary && <Sides says={says} setSays={setSays} />}
      {exhibit.has_summary && says && <LogSummary packet={packet} exhibit={exhibit} mayCut={mayCut} />}
      {says && exhibit.has_summary ? null : exhibit.state === "ready" ? (
        <Looked packet={packet} exhibit={exhibit} place={place} setPlace={setPlace} mayDecide={mayDecide} />
      ) : (
        <Sheet className="p-4">
          <div className="mb-2 flex items-center gap-3">
            <Mono>{exhibit.name}</Mono>
            <State exhibit={exhibit} />
          </div>
          {exhibit.reason && <p>{exhibit.reason}</p>}
          {exhibit.original_deleted_at && <Soft>Its original was deleted; what went out stays.</Soft>}
          {exhibit.state === "held" && !exhibit.released_by && (
            <Soft>What cannot be inspected does not go out, until a releaser answers for it with a reason.</Soft>
          )}
          {exhibit.released_by && <Soft>Released by {exhibit.released_by}; it goes out as it is.</Soft>}
          {exhibit.state === "held" && !exhibit.released_by && drafting && roles.includes("releaser") && (
            <Release exhibit={exhibit} act={act} />
          )}
        </Sheet>
      )}
      <Decided packet={packet} mayDecide={roles.includes("preparer") || roles.includes("releaser")} />
      <ProblemNote problem={act.error} />
      {drafting && roles.includes("preparer") && (
        <Row gap={2}>
          <Button disabled={inHand || act.isPending} onClick={() => act.mutate({ act: "redact", name: exhibit.name })}>
            Redact again
          </Button>
          <Button
            disabled={act.isPending}
            onClick={() => act.mutate({ act: "remove", name: exhibit.name }, { onSuccess: () => show("exhibits") })}
          >
            Take it out
          </Button>
        </Row>
      )}
    </>
  );
}
