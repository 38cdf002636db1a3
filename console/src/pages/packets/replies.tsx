import { type Packet, useAct } from "../../api/packets";
import type { useUploads } from "../../api/upload";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Facts } from "../../components/facts";
import { Column, Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayAtDesk, sayDue, sayMoment } from "../../format/dates";
import { ActionMenu } from "./actions";
import { Answer } from "./answer";
import { useAsking } from "./asked";
import { DUES, mayEscalate } from "./attention";
import { Carried } from "./carried";
import { Consequences } from "./consequences";
import { Decided } from "./deciding";
import { Drawn } from "./drawn";
import { LegendBar, useClear } from "./legend-bar";
import { MessageLine } from "./message-line";

interface Props {
  packet: Packet;
  roles: string[];
  uploads: ReturnType<typeof useUploads>;
}

export function RepliesPart({ packet, roles, uploads }: Props) {
  const asking = useAsking(packet);
  const act = useAct(packet.number);
  const reading = useClear(packet);
  const mayOpen = roles.includes("preparer") || roles.includes("releaser");
  const mayWrite = roles.includes("preparer");
  const open = packet.life === "lodged" || packet.life === "answered";
  const looking = packet.follow_state === "asking";
  return (
    <Column gap={4}>
      <Sheet>
        <div className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2.5">
          <Mono>{packet.reference ?? "no reference yet"}</Mono>
          <Badge tone={packet.turn === "ours" ? "wax" : "plain"}>
            {packet.turn === "ours" ? "our turn" : packet.turn === "none" ? packet.life : `${packet.vendor}'s turn`}
          </Badge>
          <Soft as="span">
            {packet.desk_status && `the desk says ${packet.desk_status}`}
            {packet.followed_at && `, looked at ${sayMoment(packet.followed_at)}`}
          </Soft>
          <Row as="span" gap={2} push>
            {open && !packet.by_hand && (
              <Button letter="f" disabled={act.isPending || looking} onClick={() => act.mutate("follow")}>
                {looking ? "Looking…" : "Look now"}
              </Button>
            )}
            {mayWrite && <ActionMenu packet={packet} roles={roles} />}
          </Row>
        </div>
        {packet.follow_state === "failed" && (
          <p role="alert" className="border-b border-line bg-wax-wash px-4 py-2">
            {packet.follow_status_text}
          </p>
        )}
        <DueNext packet={packet} />
        <Waits packet={packet} act={act} />
        <ProblemNote problem={act.error} />
        <Handed packet={packet} />
        <LegendBar packet={packet} reading={reading} mayOpen={mayOpen} />
        <Cases packet={packet} />
        <ol aria-live="polite">
          {packet.messages.map((message) => (
            <MessageLine
              key={message.id}
              packet={packet}
              message={message}
              reading={reading}
              asking={asking}
              mayAnswer={open && mayWrite}
            />
          ))}
        </ol>
        {packet.messages.length === 0 && <p className="px-4 py-3 text-soft">No messages yet.</p>}
        {(packet.cause || packet.cure) && (
          <div className="border-t border-line px-4 py-3">
            <Facts
              facts={[
                ["Cause", packet.cause],
                ["Cure", packet.cure],
              ]}
            />
          </div>
        )}
      </Sheet>
      <Drawn packet={packet} />
      <Consequences packet={packet} mayKeep={roles.includes("keeper")} />
      {open && mayWrite && <Answer packet={packet} asking={asking} uploads={uploads} mayDecide={mayWrite} />}
      <Carried packet={packet} mayWrite={mayWrite} mayKeep={roles.includes("keeper")} />
      <Decided packet={packet} mayDecide={open && mayWrite} />
    </Column>
  );
}

/** Who handed it over, and what they said is next. */
function Handed({ packet }: { packet: Packet }) {
  if (!packet.handed) return null;
  const { by, to, at, note } = packet.handed;
  return (
    <p className="border-b border-line px-4 py-2">
      <Soft as="span">
        Handed over to {to} by {by}, {sayMoment(at)}
      </Soft>
      {note && <span className="block whitespace-pre-wrap">{note}</span>}
    </p>
  );
}

/** What the desk has to keep next, on our clocks and on its own, and whether its rules let us escalate. */
function DueNext({ packet }: { packet: Packet }) {
  if (!packet.due_at && !packet.escalate_at) return null;
  const there = packet.due_at && sayAtDesk(packet.due_at, packet.due_zone);
  const rule = packet.severity?.escalation.find((one) => one.allowed_at && Date.parse(one.allowed_at) <= Date.now());
  return (
    <p className="flex flex-wrap items-baseline gap-x-3 border-b border-line px-4 py-2">
      {packet.due_at && (
        <span className={Date.parse(packet.due_at) <= Date.now() ? "text-wax" : undefined}>
          The {DUES[packet.due_what]} is {sayDue(packet.due_at)}
          {there && `, ${there}`}.
        </span>
      )}
      {mayEscalate(packet) ? (
        <span>
          You may escalate it now{rule && `: ${rule.action}`}
          {rule?.contact && ` ${rule.contact}`}.
        </span>
      ) : (
        packet.escalate_at && <Soft as="span">It may be escalated from {sayMoment(packet.escalate_at)}.</Soft>
      )}
    </p>
  );
}

/** What waits for a desk that is away, since when, and trying it at once. */
function Waits({ packet, act }: { packet: Packet; act: ReturnType<typeof useAct> }) {
  const failed = packet.messages.some((message) => message.failure && !message.taken_back);
  if (!packet.next_try_at && !failed) return null;
  return (
    <p className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2" aria-live="polite">
      <span>
        {packet.next_try_at
          ? `${packet.waits_because} Next try ${sayMoment(packet.next_try_at)}.`
          : "Something of ours was not sent."}
      </span>
      <Button letter="y" className="ml-auto" disabled={act.isPending} onClick={() => act.mutate("try-now")}>
        Try now
      </Button>
    </p>
  );
}

/** What else the desk says of each case, and how each stands where there are several. */
function Cases({ packet }: { packet: Packet }) {
  const facts = packet.cases.flatMap((one) =>
    Object.entries(one.desk_facts).map(([label, value]): [string, string] => [
      one.label ? `${label} (${one.label})` : label,
      value,
    ]),
  );
  const several = packet.cases.length > 1;
  if (facts.length === 0 && !several) return null;
  return (
    <div className="border-b border-line px-4 py-3">
      {several && (
        <table className="mb-2 w-full border-collapse last:mb-0">
          <thead className="sr-only">
            <tr>
              <th scope="col">Case</th>
              <th scope="col">Reference</th>
              <th scope="col">Status</th>
            </tr>
          </thead>
          <tbody>
            {packet.cases.map((one) => (
              <tr key={one.label}>
                <td className="py-0.5 pr-4">{one.label}</td>
                <td className="pr-4">
                  <Mono>{one.reference ?? "not sent yet"}</Mono>
                </td>
                <td className="text-soft">{one.desk_status}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {facts.length > 0 && <Facts facts={facts.map(([label, value]) => [label, <Mono key={label}>{value}</Mono>])} />}
    </div>
  );
}
