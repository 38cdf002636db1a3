/** Choosing people of the register. */

import { useState } from "react";
import { useNameColleague } from "../../../api/following";
import { useOftenUsed } from "../../../api/often-used";
import type { Packet } from "../../../api/packets";
import { TextButton } from "../../../components/button";
import type { FieldSpec } from "../../../components/field-values";
import { FormDialog } from "../../../components/form-dialog";
import { Select, Ticks } from "./choices";
import type { InputProps } from "./props";

export function People({ question, packet, disabled, save }: InputProps) {
  const options = packet.people.map((person) => ({ value: person.key, label: person.name }));
  return <Ticks question={question} disabled={disabled} save={save} options={options} />;
}

/** One person; whom you name often comes first. */
export function Person({ question, packet, disabled, save }: InputProps) {
  const used = useOftenUsed();
  const often = used.data?.filter((one) => one.kind === "person").map((one) => one.handle) ?? [];
  const place = (key: string) => (often.includes(key) ? often.indexOf(key) : often.length);
  const people = [...packet.people].sort((one, other) => place(one.key) - place(other.key));
  const [open, setOpen] = useState(false);
  return (
    <>
      <Select
        id={`q-${question.id}`}
        value={question.answer.value ?? ""}
        disabled={disabled}
        save={save}
        nothing="nobody yet"
        options={people.map(({ key, name, on_call, away }) => ({
          value: key,
          label: [name, on_call && "reachable day and night", away && `away until ${away}`].filter(Boolean).join(" · "),
        }))}
      />
      {!disabled && <TextButton onClick={() => setOpen(true)}>Somebody else…</TextButton>}
      {open && <Colleague packet={packet} question={question.id} onClose={() => setOpen(false)} />}
    </>
  );
}

const FIELDS: FieldSpec[] = [
  { name: "name", title: "Full name", kind: "text", needed: true },
  { name: "mail", title: "Mail", kind: "text", needed: true },
  { name: "phone", title: "Telephone", kind: "mono", hint: "with country code: +44 1632 960123", needed: true },
];

/** A colleague who is not in the register. */
function Colleague({ packet, question, onClose }: { packet: Packet; question: string; onClose: () => void }) {
  const named = useNameColleague(packet.number);
  return (
    <FormDialog
      title="A colleague"
      fields={FIELDS}
      values={{}}
      act="Name them"
      busy={named.isPending}
      problem={named.error}
      onSubmit={({ name, mail, phone }) =>
        named.mutate({ question, name: String(name), mail: String(mail), phone: String(phone) }, { onSuccess: onClose })
      }
      onClose={onClose}
    >
      <p className="mb-3 text-soft">They are kept in the register for the next time.</p>
    </FormDialog>
  );
}
