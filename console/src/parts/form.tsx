/** Forms of records and of acts on them: fields with their names, one problem, one act. */
import { type ReactNode, useId, useState } from "react";
import { usePeople, useSites, useVendors } from "../api/register";
import { Button, join, ProblemNote, toMajor, toMinor } from "./basics";
import { Dialog } from "./dialog";

export type FieldKind =
  | "text"
  | "mono"
  | "long"
  | "day"
  | "whole"
  | "money"
  | "yes"
  | "secret"
  | "list"
  | "vendor"
  | "site"
  | "person"
  | readonly string[];

export interface FieldSpec {
  name: string;
  title: string;
  kind: FieldKind;
  /** It must be given, and tells the record apart where it can no longer be changed. */
  needed?: boolean;
  /** Several of the choices. */
  many?: boolean;
  /** What it is until someone says otherwise. */
  first?: unknown;
  hint?: string;
}

export type Values = Record<string, unknown>;

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
          <Button onClick={onClose}>Leave it</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** A value as one types it. */
function shown(field: FieldSpec, values: Values): unknown {
  const value = values[field.name] ?? field.first;
  if (field.kind === "money") {
    const currency = String(values.currency ?? "");
    return typeof value === "number" ? toMajor(value, currency) : "";
  }
  if (field.kind === "list") return Array.isArray(value) ? value.join(", ") : "";
  if (field.kind === "yes") return value === true;
  if (field.many) return Array.isArray(value) ? value : [];
  return value === null || value === undefined ? "" : String(value);
}

/** What was typed, as the service takes it; nothing typed is none. */
function taken(field: FieldSpec, typed: unknown, all: Values): unknown {
  if (field.kind === "yes" || field.many) return typed;
  const text = String(typed ?? "").trim();
  if (field.kind === "list") {
    return text
      .split(/[,;\n]/)
      .map((one) => one.trim())
      .filter(Boolean);
  }
  if (field.kind === "whole") return text === "" ? (field.first ?? null) : Number(text);
  if (field.kind === "money") {
    return text === "" ? null : toMinor(text, String(all.currency ?? ""));
  }
  if (text === "" && !field.needed && ["text", "long"].includes(String(field.kind))) return field.first ?? "";
  if (text === "" && field.name === "software_version") return "";
  return text === "" ? null : text;
}

interface InputProps {
  field: FieldSpec;
  value: unknown;
  fixed?: boolean;
  onChange: (value: unknown) => void;
}

function FieldInput({ field, value, fixed, onChange }: InputProps) {
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
      {kind === "long" && <textarea {...shared} rows={2} onChange={(event) => onChange(event.target.value)} />}
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
