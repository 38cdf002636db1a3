/** Acts on a record that count from a day on: what was true before stays true. */
import { type Act, useDatedAct } from "../api/register";
import { type FieldSpec, FormDialog, type Values } from "./form";

interface Props {
  title: string;
  plural: string;
  act: Act;
  record: { id: string; version: number };
  fields: FieldSpec[];
  values: Values;
  words: string;
  note: string;
  /** Makes what the service takes of what was typed. */
  body?: (values: Values) => Values;
  onClose: () => void;
}

export function DatedDialog({ title, plural, act, record, fields, values, words, note, body, onClose }: Props) {
  const run = useDatedAct(plural, act);
  return (
    <FormDialog
      title={title}
      fields={fields}
      values={values}
      act={words}
      busy={run.isPending}
      problem={run.error}
      onClose={onClose}
      onSubmit={(typed) =>
        run.mutate(
          { id: record.id, version: record.version, values: body ? body(typed) : typed },
          { onSuccess: onClose },
        )
      }
    >
      <p className="mb-3 text-soft">{note}</p>
    </FormDialog>
  );
}

/** A day so many days after another, both as ISO 8601. */
export function dayAfter(iso: string, days = 1) {
  return new Date(Date.parse(iso) + days * 86_400_000).toISOString().slice(0, 10);
}

export const today = () => new Date().toISOString().slice(0, 10);
