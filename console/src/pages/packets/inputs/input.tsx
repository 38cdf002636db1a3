import { Choices, Consent, Select, Several } from "./choices";
import { People, Person } from "./people";
import type { InputProps } from "./props";
import { Rows } from "./rows";
import { Text, WithUnit } from "./texts";
import { Day, Moment } from "./times";

export function Input({ question, packet, disabled, save }: InputProps) {
  const id = `q-${question.id}`;
  const value = question.answer.value ?? "";
  switch (question.form) {
    case "choice":
    case "tree":
      return <Choices question={question} disabled={disabled} save={save} />;
    case "several":
      return <Several question={question} disabled={disabled} save={save} />;
    case "consent":
      return <Consent question={question} disabled={disabled} save={save} />;
    case "person":
      return <Person question={question} packet={packet} disabled={disabled} save={save} />;
    case "people":
      return <People question={question} packet={packet} disabled={disabled} save={save} />;
    case "country":
    case "state":
    case "language":
      if (question.options.length > 0) {
        return (
          <Select
            id={id}
            value={value}
            disabled={disabled}
            save={save}
            nothing="not said yet"
            options={question.options.map((one) => ({ ...one, label: `${one.label} (${one.value})` }))}
          />
        );
      }
      return <Text id={id} question={question} value={value} disabled={disabled} save={save} />;
    case "number":
      return <WithUnit question={question} disabled={disabled} save={save} />;
    case "date":
      return <Day id={id} value={value} disabled={disabled} save={save} />;
    case "rows":
      return <Rows question={question} disabled={disabled} save={save} />;
    case "moment":
      return <Moment id={id} value={value} disabled={disabled} save={save} />;
    default:
      return <Text id={id} question={question} value={value} disabled={disabled} save={save} />;
  }
}
