/** A form in a dialog: its fields, one problem, one action. */

import { type ReactNode, useState } from "react";
import { Button } from "./button";
import { Dialog } from "./dialog";
import { FieldInput } from "./field-input";
import { type FieldSpec, shown, taken, type Values } from "./field-values";
import { ProblemNote } from "./problem-note";

interface Props {
  title: string;
  fields: FieldSpec[];
  values: Values;
  onSubmit: (values: Values) => void;
  onClose: () => void;
  act: string;
  busy: boolean;
  problem: unknown;
  /** Fields that cannot be changed any more. */
  fixed?: string[];
  children?: ReactNode;
}

export function FormDialog({ title, fields, values, onSubmit, onClose, act, busy, problem, fixed, children }: Props) {
  const [typed, setTyped] = useState<Values>(() =>
    Object.fromEntries(fields.map((field) => [field.name, shown(field, values)])),
  );
  const submit = () => {
    const given: Values = {};
    for (const field of fields) {
      if (fixed?.includes(field.name)) continue;
      const value = taken(field, typed[field.name], typed);
      if (field.kind !== "secret" || value !== null) given[field.name] = value;
    }
    onSubmit(given);
  };
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={title} className="w-[min(96vw,720px)] p-5">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        {children}
        <div className="grid gap-x-5 gap-y-2.5 sm:grid-cols-2">
          {fields.map((field) => (
            <FieldInput
              key={field.name}
              field={field}
              value={typed[field.name]}
              fixed={fixed?.includes(field.name)}
              onChange={(value) => setTyped({ ...typed, [field.name]: value })}
            />
          ))}
        </div>
        <div className="mt-3 empty:hidden">
          <ProblemNote problem={problem} />
        </div>
        <div className="mt-4 flex gap-3">
          <Button look="ink" type="submit" disabled={busy}>
            {act}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}
