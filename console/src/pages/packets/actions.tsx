/** What can be done about a case beside writing: a menu, and for each act a short form. */

import { DropdownMenu } from "radix-ui";
import { useState } from "react";
import { useLocation } from "wouter";
import { type Action, type Actions, useAction, useClaim, useFollowUp } from "../../api/following";
import type { Packet } from "../../api/packets";
import { Button } from "../../components/button";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { MenuLine, MenuSheet } from "../../components/menu";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";

/** Packets that go on from this one. */
type Next = "follow_up" | "claim";

type Choice = Exclude<Action, "reply" | "comment" | "reference" | "take_over"> | Next;

const TITLES: Record<Choice, string> = {
  accept: "Accept the answer",
  contest: "Contest the answer",
  severity: "Change the severity",
  escalate: "Escalate",
  contact: "Change the contact",
  told: "Change who is kept informed",
  close: "Ask to close it",
  rate: "Rate the help",
  open_again: "Open it again",
  follow_up: "Note a packet that follows",
  claim: "Claim it under warranty",
  call: "Record a telephone call",
  take_reply: "Enter what they said",
  settle: "Settle",
  hand_over: "Hand it over",
  access: "Grant access to our systems",
  shipment: "Note a shipment",
  swap: "Swap the serial",
};

/** Acts at the desk, in the order of the menu; then ours. */
const AT_DESK: Choice[] = [
  "accept",
  "contest",
  "severity",
  "escalate",
  "contact",
  "told",
  "close",
  "rate",
  "open_again",
];

const OURS: Choice[] = [
  "call",
  "take_reply",
  "access",
  "shipment",
  "swap",
  "settle",
  "follow_up",
  "claim",
  "hand_over",
];

/** Why an act is not possible now; nothing if it is. */
function because(packet: Packet, choice: Choice): string {
  const over = packet.life === "settled";
  if (choice === "follow_up") return over ? "" : "It is still open.";
  if (choice === "claim" && packet.need === "return") return "It is a return already.";
  if (choice === "claim") return packet.asset ? "" : "It is about no asset.";
  if (choice === "settle") return over || packet.settled_by === "us" ? "" : "The desk says itself when it is over.";
  if (choice === "swap") return packet.asset ? "" : "It is about no asset.";
  return packet.acts.find((one) => one.act === choice)?.because ?? "";
}

export function ActionMenu({ packet, roles }: { packet: Packet; roles: string[] }) {
  const [open, setOpen] = useState(false);
  const [chosen, setChosen] = useState<Choice>();
  const takeOver = useAction(packet.number, "take_over");
  useKeys("actions", { more: () => setOpen(true) });
  const item = (choice: Choice) => {
    const why = because(packet, choice);
    return (
      <DropdownMenu.Item key={choice} className={ITEM} disabled={why !== ""} onSelect={() => setChosen(choice)}>
        {TITLES[choice]}
        {why && <span className="text-[12px] text-soft">{why}</span>}
      </DropdownMenu.Item>
    );
  };
  return (
    <>
      <DropdownMenu.Root open={open} onOpenChange={setOpen}>
        <DropdownMenu.Trigger asChild>
          <Button letter="m">More</Button>
        </DropdownMenu.Trigger>
        <MenuSheet className="min-w-64">
          {AT_DESK.map(item)}
          <MenuLine />
          {OURS.filter((choice) => choice !== "swap" || roles.includes("keeper")).map(item)}
          <DropdownMenu.Item className={ITEM} onSelect={() => takeOver.mutate({ body: {}, key: crypto.randomUUID() })}>
            Take it over
          </DropdownMenu.Item>
        </MenuSheet>
      </DropdownMenu.Root>
      {chosen === "follow_up" && <FollowUp packet={packet} onClose={() => setChosen(undefined)} />}
      {chosen === "claim" && <Claim packet={packet} onClose={() => setChosen(undefined)} />}
      {chosen && chosen !== "follow_up" && chosen !== "claim" && (
        <ActionForm packet={packet} action={chosen} onClose={() => setChosen(undefined)} />
      )}
    </>
  );
}

const ITEM =
  "flex flex-col rounded px-3 py-1 outline-none cursor-pointer data-disabled:text-soft data-disabled:cursor-default data-highlighted:bg-paper";

const WORDS: FieldSpec = { name: "text", title: "Words for the desk", kind: "long" };
const WHY: FieldSpec = { ...WORDS, title: "Why", needed: true };

/** The fields of an act's form. */
function fieldsOf(packet: Packet, action: Action): FieldSpec[] {
  const cases = packet.cases.map((one) => one.label);
  const which: FieldSpec[] =
    cases.length > 1 ? [{ name: "case", title: "Case", kind: cases, first: cases[0], needed: true }] : [];
  switch (action) {
    case "severity": {
      const levels = packet.severity?.levels.map((one) => one.value) ?? [];
      const hint = packet.severity?.levels.map((one) => `${one.value}: ${one.label}`).join(" · ");
      return [
        ...which,
        { name: "level", title: "Severity", kind: levels, first: levels[0], hint, needed: true },
        WORDS,
      ];
    }
    case "contact":
      return [...which, { name: "person", title: "Contact", kind: "person", needed: true }, WORDS];
    case "told":
      return [
        ...which,
        { name: "people", title: "People", kind: packet.people.map((one) => one.key), many: true },
        WORDS,
      ];
    case "rate":
      return [
        ...which,
        {
          name: "rating",
          title: "Rating",
          kind: ["1", "2", "3", "4", "5"],
          first: "4",
          hint: "5 is best",
          needed: true,
        },
        WORDS,
      ];
    case "escalate": {
      const rules = packet.severity?.escalation ?? [];
      const triggers = rules.map((rule) => rule.trigger);
      const rule: FieldSpec = {
        name: "step",
        title: "By which rule",
        kind: triggers,
        first: triggers[0],
        needed: true,
      };
      return [...which, ...(rules.length > 1 ? [rule] : []), WHY];
    }
    case "contest":
    case "open_again":
      return [...which, WHY];
    case "call":
      return [
        ...which,
        { name: "spoke_to", title: "With whom", kind: "text" },
        { name: "asks", title: "They wait for an answer", kind: "yes" },
        { name: "text", title: "What was said", kind: "long", needed: true },
      ];
    case "take_reply":
      return [
        ...which,
        { name: "by", title: "Who said it", kind: "text" },
        { name: "text", title: "What they said", kind: "long", needed: true },
      ];
    case "settle":
      return [
        { name: "cause", title: "What it was", kind: "long" },
        { name: "cure", title: "What cured it", kind: "long" },
      ];
    case "access":
      return [
        { name: "who", title: "Who at the vendor", kind: "text", needed: true },
        { name: "what", title: "Into which system", kind: "text", needed: true },
        { name: "until", title: "Until when", kind: "mono", first: tonight(), hint: "with the offset", needed: true },
        { name: "asked", title: "How it was asked for", kind: "text" },
      ];
    case "shipment":
      return [
        { name: "what", title: "What", kind: "text", needed: true },
        { name: "way", title: "Way", kind: ["to_us", "to_vendor"], first: "to_us", needed: true },
        { name: "carrier", title: "Carrier", kind: "text", hint: "as the desk reported, if empty" },
        { name: "tracking", title: "Tracking number", kind: "mono", hint: "as the desk reported, if empty" },
        { name: "sent_on", title: "Sent", kind: "day" },
        { name: "due_on", title: "Has to be there", kind: "day", hint: "as the desk reported, if empty" },
        { name: "late_cost_minor", title: "Charged if it is late", kind: "money" },
        { name: "currency", title: "Currency of that", kind: "mono" },
      ];
    case "swap":
      return [
        { name: "serial", title: "Serial of the replacement", kind: "mono", needed: true },
        { name: "from_on", title: "In its place since", kind: "day", hint: "today, if empty" },
      ];
    case "hand_over":
      return [
        { name: "to", title: "To whom", kind: "text", hint: "the name of an account", needed: true },
        { name: "note", title: "Note for the new owner", kind: "long" },
      ];
    default:
      return [...which, WORDS];
  }
}

/** Six in the evening of today, or in two hours if that is past; with the offset of this machine. */
function tonight() {
  const at = new Date();
  if (at.getHours() < 17) at.setHours(18, 0, 0, 0);
  else at.setTime(at.getTime() + 2 * 3_600_000);
  return at.toISOString().replace(/:\d\d\.\d+Z/, "Z");
}

interface FormProps {
  packet: Packet;
  action: Exclude<Choice, Next>;
  onClose: () => void;
}

export function ActionForm({ packet, action, onClose }: FormProps) {
  const sent = useAction(packet.number, action);
  const [key] = useState(() => crypto.randomUUID());
  const rules = action === "escalate" ? (packet.severity?.escalation ?? []) : [];
  const submit = (values: Values) => {
    const step = Math.max(
      rules.findIndex((rule) => rule.trigger === values.step),
      0,
    );
    const body = {
      ...values,
      ...(action === "rate" && { rating: Number(values.rating) }),
      ...(action === "escalate" && { step }),
    };
    sent.mutate({ body: body as unknown as Actions[typeof action], key }, { onSuccess: onClose });
  };
  return (
    <FormDialog
      title={TITLES[action]}
      fields={fieldsOf(packet, action)}
      values={{ cause: packet.cause, cure: packet.cure }}
      act={TITLES[action]}
      busy={sent.isPending}
      problem={sent.error}
      onSubmit={submit}
      onClose={onClose}
    >
      {rules.map((rule) => (
        <p key={rule.trigger} className="mb-3 text-soft">
          The desk’s rule: {rule.trigger}
          {rule.after_hours > 0 && `, ${rule.after_hours} hours after lodging at the earliest`}
          {rule.allowed_at && Date.parse(rule.allowed_at) > Date.now() && ` (from ${sayMoment(rule.allowed_at)} on)`}.{" "}
          {rule.action} {rule.contact}
        </p>
      ))}
    </FormDialog>
  );
}

function FollowUp({ packet, onClose }: { packet: Packet; onClose: () => void }) {
  const made = useFollowUp(packet.number);
  const [, go] = useLocation();
  return (
    <FormDialog
      title={TITLES.follow_up}
      fields={[
        { name: "title", title: "Title", kind: "text", first: packet.title },
        { name: "note", title: "What happens now", kind: "long" },
      ]}
      values={{}}
      act="Note it"
      busy={made.isPending}
      problem={made.error}
      onSubmit={(values) =>
        made.mutate(
          { title: String(values.title ?? ""), note: String(values.note ?? "") },
          { onSuccess: (packet) => go(`/packets/${packet.number}`) },
        )
      }
      onClose={onClose}
    />
  );
}

function Claim({ packet, onClose }: { packet: Packet; onClose: () => void }) {
  const claim = useClaim(packet.number);
  const [, go] = useLocation();
  return (
    <FormDialog
      title={TITLES.claim}
      fields={[{ name: "note", title: "What is to be returned, and why", kind: "long" }]}
      values={{}}
      act="Note it"
      busy={claim.isPending}
      problem={claim.error}
      onSubmit={(values) =>
        claim.mutate(String(values.note ?? ""), { onSuccess: (made) => go(`/packets/${made.number}`) })
      }
      onClose={onClose}
    />
  );
}
