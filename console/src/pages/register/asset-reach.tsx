/** How the worker reaches a device, for diagnostic kits. */

import { useState } from "react";
import { usePutReach, useReach, useRemoveReach } from "../../api/kits";
import { Button } from "../../components/button";
import type { FieldSpec, Values } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Soft } from "../../components/text";

const FIELDS: FieldSpec[] = [
  { name: "target", title: "Host name or address", kind: "mono", needed: true },
  { name: "user", title: "User there", kind: "mono", hint: "else the kit’s" },
  { name: "port", title: "SSH port", kind: "whole", first: 22 },
  { name: "https_port", title: "HTTPS port", kind: "whole", first: 443 },
  { name: "secrets", title: "Secrets", kind: "list", hint: "kit’s name=safe’s name" },
  { name: "host_key", title: "Host key", kind: "long", rows: 3, hint: "ssh-ed25519 AAAA…" },
  { name: "authority", title: "Authority for https", kind: "long", rows: 3, hint: "PEM; as it is, if empty" },
];

export function AssetReach({ asset, keeper }: { asset: string; keeper: boolean }) {
  const reach = useReach(asset);
  const [open, setOpen] = useState(false);
  const put = usePutReach(asset);
  const remove = useRemoveReach(asset);
  const known = reach.data;
  const values: Values = known
    ? { ...known, authority: "", secrets: Object.entries(known.secrets).map((pair) => pair.join("=")) }
    : {};
  return (
    <section className="mt-6">
      <Row gap={3} align="baseline">
        <Heading level={2}>How it is reached</Heading>
        {keeper && (
          <Button look="bare" className="ml-auto" onClick={() => setOpen(true)}>
            {known ? "Change it" : "Say how"}
          </Button>
        )}
      </Row>
      <ProblemNote problem={reach.error ?? remove.error} />
      {known === null && <Soft>No kit can be run on it from here.</Soft>}
      {known && (
        <p>
          <Mono>
            {known.user && `${known.user}@`}
            {known.target}
          </Mono>
          <span className="block text-[12.5px] break-all text-soft">
            {known.host_key_print ? `host key ${known.host_key_print}` : "no host key: not by SSH"}
            {known.authority && " · its own authority for https"}
          </span>
        </p>
      )}
      {open && (
        <FormDialog
          title="How the worker reaches it"
          fields={FIELDS}
          values={values}
          act="Save"
          busy={put.isPending}
          problem={put.error}
          onClose={() => setOpen(false)}
          onSubmit={(given) =>
            put.mutate(
              {
                target: String(given.target),
                user: String(given.user ?? ""),
                port: Number(given.port ?? 22),
                https_port: Number(given.https_port ?? 443),
                host_key: String(given.host_key ?? ""),
                authority: given.authority ? String(given.authority) : null,
                secrets: Object.fromEntries(
                  ((given.secrets as string[] | null) ?? []).map((pair) => pair.split("=", 2) as [string, string]),
                ),
              },
              { onSuccess: () => setOpen(false) },
            )
          }
        >
          {known && (
            <Button className="mb-3" onClick={() => remove.mutate(undefined, { onSuccess: () => setOpen(false) })}>
              Forget it
            </Button>
          )}
        </FormDialog>
      )}
    </section>
  );
}
