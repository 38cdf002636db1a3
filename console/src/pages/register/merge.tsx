/** Two records that are one: which stays, what it takes over, what moves to it. */

import { useState } from "react";
import { useMerge, useMergePreview } from "../../api/merging";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import type { Register } from "./kinds";

export const MERGED = ["asset", "contract", "product", "site", "person"];

interface Props {
  register: Register;
  ids: [string, string];
  onClose: () => void;
  onDone: () => void;
}

export function MergeDialog({ register, ids, onClose, onDone }: Props) {
  const [first, setFirst] = useState(true);
  const [stays, goes] = first ? ids : [ids[1], ids[0]];
  const preview = useMergePreview(register.plural, stays, goes);
  const merge = useMerge(register.plural);
  const called = (row: Record<string, unknown> | undefined) =>
    String(row?.serial ?? row?.number ?? row?.part_number ?? row?.name ?? "");
  const would = preview.data;
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={`Two ${register.plural} that are one`} className="p-5">
      <ProblemNote problem={preview.error ?? merge.error} />
      {!would && !preview.error && <Waiting label="Being looked at" />}
      {would && (
        <>
          <p>
            <Mono className="font-semibold">{called(would.stays)}</Mono> stays,{" "}
            <Mono className="font-semibold">{called(would.goes)}</Mono> goes, and finds the one that stayed from then
            on. <TextButton onClick={() => setFirst(!first)}>The other way round</TextButton>
          </p>
          {would.stays.product !== would.goes.product && (
            <p className="mt-2 text-ochre">They are of two models. Check before you merge.</p>
          )}
          <h3 className="mt-4 text-[15px]">Taken over</h3>
          <dl className="grid grid-cols-[130px_1fr] gap-y-1">
            {Object.entries(would.takes).map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name.replaceAll("_", " ").replace(/ on$/, "")}</dt>
                <dd className="break-words">{Array.isArray(value) ? value.join(", ") : String(value)}</dd>
              </div>
            ))}
          </dl>
          {Object.keys(would.takes).length === 0 && <Soft>Nothing: it has all of it already.</Soft>}
          <h3 className="mt-4 text-[15px]">Moves to it</h3>
          <Soft>
            {Object.entries(would.moving)
              .map(([table, number]) => count(number, ...named(table)))
              .join(", ") || "Nothing refers to the other one."}
          </Soft>
          <div className="mt-4 flex gap-3">
            <Button
              look="ink"
              disabled={merge.isPending}
              onClick={() =>
                merge.mutate({ id: stays, version: would.stays.version, other: goes }, { onSuccess: onDone })
              }
            >
              Merge them
            </Button>
            <Button onClick={onClose}>Leave them</Button>
          </div>
        </>
      )}
    </Dialog>
  );
}

/** What is moved, one of it and several. */
const WORDS: Record<string, [one: string, many: string]> = {
  entitlement_asset: ["listing on an entitlement", "listings on entitlements"],
  entitlement_product: ["product of an entitlement", "products of entitlements"],
  entitlement_site: ["site of an entitlement", "sites of entitlements"],
  asset: ["asset", "assets"],
  asset_stay: ["former stay", "former stays"],
  login_tie: ["tied login", "tied logins"],
  statement_difference: ["difference of a statement", "differences of statements"],
};

const named = (table: string): [string, string] => {
  const name = table.replaceAll("_", " ");
  return WORDS[table] ?? [name, `${name}s`];
};
