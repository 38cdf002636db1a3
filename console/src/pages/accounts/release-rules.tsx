/** When whoever seals a packet must not have prepared it; for administrators. */

import { useState } from "react";
import { type ReleaseRule, useAddReleaseRule, useReleaseRules, useRemoveReleaseRule } from "../../api/release-rules";
import { Button, TextButton } from "../../components/button";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Hidden, Soft } from "../../components/text";

const FIELDS: FieldSpec[] = [
  { name: "reason", title: "Reason", kind: "text", needed: true, hint: "Shown to whoever seals" },
  { name: "vendor", title: "Vendor", kind: "vendor", hint: "None: any" },
  { name: "severity", title: "Severity", kind: "text", hint: "As the desk calls it; none: any" },
  { name: "kind", title: "Kind of value", kind: "text", hint: "As in the redaction plan; none: any" },
];

export function ReleaseRules() {
  const rules = useReleaseRules();
  const remove = useRemoveReleaseRule();
  const [adding, setAdding] = useState(false);
  return (
    <section className="mt-8">
      <div className="mb-2 flex items-baseline gap-3">
        <Heading level={2}>Two people</Heading>
        <Button className="ml-auto" onClick={() => setAdding(true)}>
          Add a rule
        </Button>
      </div>
      <ProblemNote problem={rules.error ?? remove.error} />
      {rules.data?.length === 0 && <Soft>No rules: one person may prepare a packet and seal it.</Soft>}
      {rules.data && rules.data.length > 0 && (
        <PlainTable heads={["Reason", "Vendor", "Severity", "Kind of value", ""]}>
          {rules.data.map((one) => (
            <Row key={one.id} rule={one} busy={remove.isPending} remove={() => remove.mutate(one.id)} />
          ))}
        </PlainTable>
      )}
      {adding && <Adding onClose={() => setAdding(false)} />}
    </section>
  );
}

function Row({ rule, busy, remove }: { rule: ReleaseRule; busy: boolean; remove: () => void }) {
  return (
    <tr className="border-t border-line align-baseline">
      <th scope="row" className="px-4 py-2 font-normal">
        {rule.reason}
      </th>
      <td className="px-4">{rule.vendor ?? "any"}</td>
      <td className="px-4">{rule.severity ?? "any"}</td>
      <td className="px-4">{rule.kind ?? "any"}</td>
      <td className="px-4 text-right">
        <TextButton disabled={busy} onClick={remove}>
          Remove<Hidden> the rule {rule.reason}</Hidden>
        </TextButton>
      </td>
    </tr>
  );
}

function Adding({ onClose }: { onClose: () => void }) {
  const add = useAddReleaseRule();
  const submit = (given: Values) => {
    const text = (name: string) => (given[name] ? String(given[name]) : null);
    const body = { reason: String(given.reason ?? ""), vendor: text("vendor"), severity: text("severity") };
    add.mutate({ ...body, kind: text("kind") }, { onSuccess: onClose });
  };
  return (
    <FormDialog
      title="A second person seals it, if all of this applies"
      fields={FIELDS}
      values={{}}
      onSubmit={submit}
      onClose={onClose}
      act="Add it"
      busy={add.isPending}
      problem={add.error}
    />
  );
}
