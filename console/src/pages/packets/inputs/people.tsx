/** Choosing people of the register. */

import { useOftenUsed } from "../../../api/often-used";
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
  return (
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
  );
}
