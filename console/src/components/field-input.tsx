/** One field of a form. */

import { useId } from "react";
import { usePeople, useSites, useVendors } from "../api/records";
import type { FieldSpec } from "./field-values";
import { join } from "./join";

interface InputProps {
  field: FieldSpec;
  value: unknown;
  fixed?: boolean;
  onChange: (value: unknown) => void;
}

export function FieldInput({ field, value, fixed, onChange }: InputProps) {
  const { kind, title, hint, needed } = field;
  const ident = useId();
  if (kind === "yes") {
    return (
      <label className="flex items-center gap-2 self-end py-1.5">
        <input type="checkbox" checked={value === true} onChange={(event) => onChange(event.target.checked)} />
        {title}
      </label>
    );
  }
  if (field.many && typeof kind !== "string")
    return <Many field={field} value={value as string[]} onChange={onChange} />;
  const mono = ["mono", "day", "whole", "money", "list"].includes(String(kind));
  const shared = {
    id: ident,
    "aria-describedby": hint ? `${ident}-hint` : undefined,
    className: join("field", mono && "font-mono text-[12.5px]"),
    disabled: fixed,
    required: needed && !fixed,
    value: String(value ?? ""),
  };
  return (
    <div className={join("min-w-0", kind === "long" && "sm:col-span-2")}>
      <div className="mb-0.5 text-soft">
        <label htmlFor={ident}>{title}</label>
        {hint && (
          <span id={`${ident}-hint`} className="text-[12px]">
            {" "}
            · {hint}
          </span>
        )}
      </div>
      {kind === "long" && (
        <textarea {...shared} rows={field.rows ?? 2} onChange={(event) => onChange(event.target.value)} />
      )}
      {kind === "secret" && (
        <input
          {...shared}
          type="password"
          autoComplete="new-password"
          placeholder={needed ? "" : "as it is"}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
      {typeof kind !== "string" && (
        <select {...shared} onChange={(event) => onChange(event.target.value)}>
          {kind.map((one) => (
            <option key={one} value={one}>
              {one.replace("_", " ")}
            </option>
          ))}
        </select>
      )}
      {(kind === "vendor" || kind === "site" || kind === "person") && (
        <Keyed kind={kind} shared={shared} onChange={onChange} />
      )}
      {typeof kind === "string" && !["long", "secret", "vendor", "site", "person"].includes(kind) && (
        <input
          {...shared}
          placeholder={kind === "day" ? "2027-03-31" : undefined}
          pattern={kind === "day" ? "\\d{4}-\\d{2}-\\d{2}" : undefined}
          inputMode={kind === "whole" || kind === "money" ? "decimal" : undefined}
          onChange={(event) => onChange(event.target.value)}
        />
      )}
    </div>
  );
}

type Shared = { id: string; className: string; disabled?: boolean; required?: boolean; value: string };

function Keyed(props: { kind: "vendor" | "site" | "person"; shared: Shared; onChange: (value: string) => void }) {
  const vendors = useVendors();
  const sites = useSites();
  const people = usePeople();
  const rows = { vendor: vendors.data, site: sites.data, person: people.data }[props.kind];
  return (
    <select {...props.shared} onChange={(event) => props.onChange(event.target.value)}>
      <option value="">{props.kind === "vendor" ? "choose" : "none"}</option>
      {rows?.map((row) => (
        <option key={row.key} value={row.key}>
          {row.name}
        </option>
      ))}
    </select>
  );
}

function Many({ field, value, onChange }: { field: FieldSpec; value: string[]; onChange: (value: string[]) => void }) {
  const choices = field.kind as readonly string[];
  return (
    <fieldset className="sm:col-span-2">
      <legend className="mb-0.5 text-soft">
        {field.title}
        {field.hint && <span className="text-[12px]"> · {field.hint}</span>}
      </legend>
      <div className="flex flex-wrap gap-x-4 gap-y-1">
        {choices.map((choice) => (
          <label key={choice} className="flex items-center gap-1.5">
            <input
              type="checkbox"
              checked={value.includes(choice)}
              onChange={(event) =>
                onChange(choices.filter((one) => (one === choice ? event.target.checked : value.includes(one))))
              }
            />
            {choice}
          </label>
        ))}
      </div>
    </fieldset>
  );
}
