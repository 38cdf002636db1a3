/** Choosing people of the register. */

import { Ticks } from "./choices";
import type { InputProps } from "./props";

export function People({ question, packet, disabled, save }: InputProps) {
  const options = packet.people.map((person) => ({ value: person.key, label: person.name }));
  return <Ticks question={question} disabled={disabled} save={save} options={options} />;
}
