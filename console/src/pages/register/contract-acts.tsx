/** What one does with a contract: renew it, and amend what it grants. */

import { useState } from "react";
import type { Schemas } from "../../api/client";
import { Button, TextButton } from "../../components/button";
import type { FieldSpec } from "../../components/field-values";
import { dayAfter, today } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";
import { DatedDialog } from "./dated-dialog";

const RENEW: FieldSpec[] = [
  { name: "starts_on", title: "The next term begins", kind: "day", needed: true },
  { name: "ends_on", title: "and ends", kind: "day", needed: true },
  { name: "notice_on", title: "Notice by", kind: "day" },
  { name: "cost_minor", title: "Cost", kind: "money", hint: "as before, if left" },
];

/** The last day of a term as long as the one before; about a year is a year. */
function termAfter(starts: string, ends: string) {
  const days = Math.round((Date.parse(ends) - Date.parse(starts)) / 86_400_000);
  if (Math.abs(days - 365) > 5) return dayAfter(ends, days + 1);
  const day = new Date(ends);
  day.setUTCFullYear(day.getUTCFullYear() + 1);
  return day.toISOString().slice(0, 10);
}

/** As many days before the next end as before the present one. */
function noticeAfter(contract: Schemas["ContractShown"], ends: string): string | null {
  if (!contract.notice_on) return null;
  const before = Date.parse(contract.ends_on) - Date.parse(contract.notice_on);
  return new Date(Date.parse(ends) - before).toISOString().slice(0, 10);
}

export function Renew({ contract }: { contract: Schemas["ContractShown"] }) {
  const [open, setOpen] = useState(false);
  useKeys("contract", { renew: () => setOpen(true) });
  const starts = dayAfter(contract.ends_on);
  const ends = termAfter(contract.starts_on, contract.ends_on);
  return (
    <>
      <Button letter="r" onClick={() => setOpen(true)}>
        Renew
      </Button>
      {open && (
        <DatedDialog
          title={`Renew ${contract.number}`}
          plural="contracts"
          act="renew"
          record={contract}
          fields={RENEW}
          values={{
            starts_on: starts,
            ends_on: ends,
            notice_on: noticeAfter(contract, ends),
            cost_minor: contract.cost_minor,
            currency: contract.currency,
          }}
          words="Renew it"
          note="The present term stays known. What ends with the contract is renewed with it."
          body={({ cost_minor, ...rest }) => (cost_minor === null ? rest : { ...rest, cost_minor })}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}

const AMEND: FieldSpec[] = [
  { name: "from_on", title: "From", kind: "day", needed: true },
  { name: "level", title: "Level", kind: "text", needed: true },
  { name: "rank", title: "Rank", kind: "whole", first: 0 },
  { name: "hours", title: "Hours", kind: "text" },
  { name: "serials", title: "Serials", kind: "list" },
  { name: "products", title: "Part numbers", kind: "list" },
  { name: "ends_on", title: "Ends", kind: "day", needed: true },
];

export function Amend({ item }: { item: Schemas["EntitlementShown"] }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <TextButton onClick={() => setOpen(true)}>Amend</TextButton>
      {open && (
        <DatedDialog
          title={`Amend ${item.reference}`}
          plural="entitlements"
          act="amend"
          record={item}
          fields={AMEND}
          values={{ ...item, from_on: today() }}
          words="Amend it"
          note="What it granted before that day stays as it was."
          body={({ from_on, ...changes }) => ({
            from_on,
            changes: Object.fromEntries(
              Object.entries(changes).filter(
                ([name, value]) => JSON.stringify(value) !== JSON.stringify(item[name as keyof typeof item]),
              ),
            ),
          })}
          onClose={() => setOpen(false)}
        />
      )}
    </>
  );
}
