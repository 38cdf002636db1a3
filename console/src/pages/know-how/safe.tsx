/** The safe: secrets that kits use by name. Their values are never shown. */
import { useState } from "react";
import { useKeepSecret, useRemoveSecret, useSecrets } from "../../api/kits";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { sayMoment } from "../../format/dates";
import { Forget, Line, Shelf } from "./shelf";

const FIELDS: FieldSpec[] = [
  { name: "name", title: "Name", kind: "mono", needed: true, hint: "kw-switch1/console" },
  { name: "what", title: "What it is", kind: "text" },
  { name: "value", title: "Value", kind: "secret", needed: true, hint: "never shown again" },
];

export function SafePage({ roles }: { roles: string[] }) {
  const secrets = useSecrets();
  const [writing, setWriting] = useState<Values | null>(null);
  return (
    <Shelf
      title="Safe"
      about="What kits need to sign in at devices, encrypted. Nobody can read them here again."
      nothing="The safe is empty."
      roles={roles}
      read={secrets}
      add="Keep one"
      onAdd={() => setWriting({})}
      dialogs={writing && <Write values={writing} onClose={() => setWriting(null)} />}
    >
      {secrets.data?.map((one) => (
        <Line
          key={one.name}
          title={one.name}
          mono=""
          beside={`${one.by}, ${sayMoment(one.at)}`}
          onOpen={() => setWriting({ ...one })}
        >
          {one.what}
        </Line>
      ))}
    </Shelf>
  );
}

function Write({ values, onClose }: { values: Values; onClose: () => void }) {
  const keep = useKeepSecret();
  const remove = useRemoveSecret();
  const known = values.name ? String(values.name) : "";
  return (
    <FormDialog
      title={known ? `Change ${known}` : "For the safe"}
      fields={FIELDS}
      values={values}
      fixed={known ? ["name"] : []}
      act="Save"
      busy={keep.isPending}
      problem={keep.error}
      onClose={onClose}
      onSubmit={(given) =>
        keep.mutate(
          { name: known || String(given.name), value: String(given.value ?? ""), what: String(given.what ?? "") },
          { onSuccess: onClose },
        )
      }
    >
      {known && (
        <div className="mb-3">
          <Forget problem={remove.error} onForget={() => remove.mutate(known, { onSuccess: onClose })} />
        </div>
      )}
    </FormDialog>
  );
}
