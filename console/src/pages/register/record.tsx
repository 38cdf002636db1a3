/** One record as a form: added, or changed on the version that was read. */

import { useKeepRecord } from "../../api/records";
import type { Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { FIELDS } from "./fields";
import type { Register, Row } from "./kinds";

/** What tells a record apart is not changed here: another one would be meant. */
const FIXED: Partial<Record<string, string[]>> = {
  vendor: ["key"],
  person: ["key"],
  site: ["key"],
  product: ["vendor"],
  asset: ["vendor"],
  contract: ["vendor"],
  entitlement: ["vendor", "contract"],
  login: ["vendor"],
  limit: ["vendor"],
  level: ["vendor", "contract"],
  lot: ["vendor", "contract"],
  price: ["vendor"],
  licence: ["vendor", "asset"],
  release: ["vendor", "product"],
};

interface Props {
  register: Register;
  /** The record to change; without it one is added. */
  row?: Row;
  /** What is known of the one to add. */
  first?: Values;
  onClose: () => void;
}

export function RecordDialog({ register, row, first, onClose }: Props) {
  const keep = useKeepRecord(register.plural);
  const submit = (values: Values) =>
    keep.mutate({ id: row?.id, version: row?.version, values }, { onSuccess: onClose });
  return (
    <FormDialog
      title={
        row
          ? `Change ${row.serial ?? row.number ?? row.reference ?? row.called ?? row.name}`
          : `Add ${article(register.kind)}`
      }
      fields={FIELDS[register.kind]}
      values={row ?? first ?? {}}
      fixed={row ? FIXED[register.kind] : undefined}
      act={row ? "Keep this" : "Add it"}
      busy={keep.isPending}
      problem={keep.error}
      onSubmit={submit}
      onClose={onClose}
    />
  );
}

const article = (kind: string) => (/^[aeiou]/.test(kind) ? `an ${kind}` : `a ${kind}`);
