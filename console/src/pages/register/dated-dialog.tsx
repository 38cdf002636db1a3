/** Actions on a record that take effect on a day. */
import { type Act, useDatedAct } from "../../api/records";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";

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
