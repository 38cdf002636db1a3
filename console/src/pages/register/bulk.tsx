/** The same change of many records: previewed like an import. */

import { useState } from "react";
import { useLocation } from "wouter";
import { useBulk } from "../../api/records";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { type Register, STATES, state } from "./kinds";

export function BulkDialog({ register, ids, onClose }: { register: Register; ids: string[]; onClose: () => void }) {
  const [field, setField] = useState(register.bulk[0]?.[0] ?? "");
  const [value, setValue] = useState("");
  const [, go] = useLocation();
  const bulk = useBulk();
  const whole = ["grace_days", "warranty_months"].includes(field);
  const submit = () =>
    bulk.mutate(
      { kind: register.kind, ids, changes: { [field]: whole ? Number(value) : value || null } },
      { onSuccess: (made) => go(`/imports/${made.id}`) },
    );
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title={`Change ${ids.length} ${register.plural}`}
      className="p-5"
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <label>
            <span className="mb-1 block text-soft">Field</span>
            <select className="field" value={field} onChange={(event) => setField(event.target.value)}>
              {register.bulk.map(([name, title]) => (
                <option key={name} value={name}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          <div>
            <label htmlFor="becomes" className="mb-1 block text-soft">
              Becomes
            </label>
            {field === "status" ? (
              <select id="becomes" className="field" value={value} onChange={(event) => setValue(event.target.value)}>
                {STATES.map((one) => (
                  <option key={one} value={one}>
                    {state(one)}
                  </option>
                ))}
              </select>
            ) : (
              <input id="becomes" className="field" value={value} onChange={(event) => setValue(event.target.value)} />
            )}
          </div>
        </div>
        <ProblemNote problem={bulk.error} />
        <div className="mt-4 flex items-center gap-3">
          <Button look="ink" type="submit" disabled={bulk.isPending}>
            Preview
          </Button>
          <Soft as="span">Nothing is changed before you have seen it.</Soft>
        </div>
      </form>
    </Dialog>
  );
}
