/** Changes of the register that follow from answers of the desk: taken, dismissed or undone by a keeper. */

import { Link } from "wouter";
import { useConsequenceAct } from "../../api/following";
import type { Packet } from "../../api/packets";
import { Badge } from "../../components/badge";
import { Button, TextButton } from "../../components/button";
import { Key } from "../../components/key";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";

type Consequence = Packet["consequences"][number];

/** Where a record is shown. */
const PLACES: Record<Consequence["record"], (one: Consequence) => string> = {
  entitlement: (one) => `/entitlements?q=${encodeURIComponent(one.name)}`,
  contract: (one) => `/contracts/${one.handle}`,
  asset: (one) => `/assets/${one.handle}`,
  limit: (one) => `/limits?q=${encodeURIComponent(one.name)}`,
  licence: (one) => `/licences?q=${encodeURIComponent(one.name)}`,
};

const isOpen = (one: Consequence) => one.state === "offered" || one.state === "undone";

export function Consequences({ packet, mayKeep }: { packet: Packet; mayKeep: boolean }) {
  const act = useConsequenceAct(packet.number);
  const first = packet.consequences.find((one) => one.state === "offered" && one.handle);
  const last = packet.consequences.filter((one) => one.state === "taken").at(-1);
  useKeys("follows", {
    take: mayKeep && first ? () => act.mutate({ id: first.id, act: "take" }) : undefined,
    undo: mayKeep && last ? () => act.mutate({ id: last.id, act: "undo" }) : undefined,
  });
  if (packet.consequences.length === 0) return null;
  return (
    <Sheet>
      <h2 className="border-b border-line px-4 py-2.5 font-semibold">What follows for the register</h2>
      <ul>
        {packet.consequences.map((one) => (
          <Line key={one.id} packet={packet} one={one} mayKeep={mayKeep} />
        ))}
      </ul>
      <ProblemNote problem={act.error} />
    </Sheet>
  );
}

function Line({ packet, one, mayKeep }: { packet: Packet; one: Consequence; mayKeep: boolean }) {
  const act = useConsequenceAct(packet.number);
  const button = (verb: "take" | "dismiss" | "undo") => ({
    disabled: act.isPending,
    onClick: () => act.mutate({ id: one.id, act: verb }),
  });
  const open = isOpen(one);
  return (
    <li className="border-b border-line px-4 py-3 last:border-0">
      <Row gap={3} lines align="baseline">
        <span className="inline-block first-letter:uppercase">
          {one.what}
          {packet.cases.length > 1 && <Soft as="span"> ({one.case})</Soft>}
        </span>
        {one.handle ? (
          <Link className="link" href={PLACES[one.record](one)}>
            {one.record} <Mono>{one.name}</Mono>
          </Link>
        ) : (
          <Soft as="span">its {one.record} is not in the register</Soft>
        )}
        {!open && <Badge tone={one.state === "taken" ? "moss" : "plain"}>{one.state}</Badge>}
      </Row>
      <p>
        <Soft as="span">{one.field.replaceAll("_", " ")}: </Soft>
        {open && (
          <>
            <span>{one.now || "empty"}</span> <span aria-hidden>→</span>{" "}
          </>
        )}
        <b>{one.value}</b>
        {one.from_on && open && <Soft as="span"> from {sayDay(one.from_on)}</Soft>}
        {one.decided_by && !open && (
          <Soft as="span">
            {" "}
            by {one.decided_by}, {sayMoment(one.decided_at)}
          </Soft>
        )}
      </p>
      {mayKeep && (
        <div className="mt-2 flex items-center gap-3">
          {open && one.handle && (
            <Button letter={one.state === "offered" ? "v" : undefined} {...button("take")}>
              Take it
            </Button>
          )}
          {one.state === "offered" && <TextButton {...button("dismiss")}>Leave it as it is</TextButton>}
          {!open && <TextButton {...button("undo")}>Undo {one.state === "taken" && <Key>U</Key>}</TextButton>}
        </div>
      )}
      {!mayKeep && one.state === "offered" && <Soft>A keeper can take it.</Soft>}
      <ProblemNote problem={act.error} />
    </li>
  );
}
