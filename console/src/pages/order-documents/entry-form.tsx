/** What an order document says, to be checked, changed and entered. */

import { useState } from "react";
import {
  type Entry,
  type OrderDocument,
  useOrderDocumentAct,
  useOrderDocumentPreview,
} from "../../api/order-documents";
import { Button } from "../../components/button";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { useKeys } from "../../keyboard/keys";
import { Effects } from "./effects";
import { entryOf, first, itemsOf } from "./entry";
import { CostField, type Draft, type Item, Items, Line, Passcode, type Spot, VendorField } from "./fields";

type Field = keyof Omit<Entry, "items" | "needs" | "products" | "cost_minor" | "currency">;

const FIELDS: [field: Field, name: string, kind: "text" | "date" | "mono"][] = [
  ["contract", "Contract number", "mono"],
  ["title", "Title", "text"],
  ["starts_on", "First day", "date"],
  ["ends_on", "Last day", "date"],
  ["notice_on", "Notice by", "date"],
  ["reference", "Entitlement number", "mono"],
  ["level", "Level", "text"],
  ["hours", "Hours", "text"],
];

interface Props {
  order: OrderDocument;
  onShow: (spot: Spot | null) => void;
}

export function EntryForm({ order, onShow }: Props) {
  const [draft, setDraft] = useState<Draft>(() => first(order));
  const [items, setItems] = useState<Item[]>(() => itemsOf(order));
  const holdsPasscode = order.proposals.some((proposal) => proposal.field === "passcode");
  const [keepPasscode, setKeepPasscode] = useState(holdsPasscode);
  const entry = entryOf(draft, items, keepPasscode);
  const act = useOrderDocumentAct(order.id);
  const preview = useOrderDocumentPreview(order.id, entry);
  const enter = () => entry && act.mutate({ verb: "enter", entry });
  useKeys("orderDocument", { enter: entry !== null && !preview.error && enter });
  const places = (field: string) => order.proposals.filter((proposal) => proposal.field === field);
  return (
    <form
      onSubmit={(event) => {
        event.preventDefault();
        enter();
      }}
    >
      <h2 className="mb-2 text-[18px] leading-6">Found values</h2>
      <div className="grid grid-cols-[130px_1fr] items-center gap-y-1.5">
        <VendorField draft={draft} setDraft={setDraft} places={places("vendor")} onShow={onShow} />
        {FIELDS.map(([field, name, kind]) => (
          <Line
            key={field}
            name={name}
            kind={kind}
            value={draft[field] ?? ""}
            onChange={(value) => setDraft({ ...draft, [field]: value })}
            proposals={places(field)}
            onShow={onShow}
          />
        ))}
        <CostField draft={draft} setDraft={setDraft} places={places("cost")} onShow={onShow} />
        <Soft as="span">Passcode</Soft>
        <Passcode order={order} found={holdsPasscode} keep={keepPasscode} onKeep={setKeepPasscode} onShow={onShow} />
      </div>
      <Items order={order} items={items} setItems={setItems} onShow={onShow} />
      <h2 className="mt-5 mb-1 text-[18px] leading-6">Effect</h2>
      {entry === null && <Nothing>Give the vendor, the contract number and both days first.</Nothing>}
      <ProblemNote problem={act.error ?? (entry && preview.error)} />
      {entry && preview.data && !preview.error && <Effects items={preview.data.items} />}
      {entry && preview.isPending && !preview.error && <Waiting label="Being worked out" lines={3} />}
      <div className="mt-4 flex flex-wrap gap-3">
        <Button
          look="ink"
          type="submit"
          letter="y"
          disabled={!entry || act.isPending || preview.isPending || Boolean(preview.error)}
        >
          Enter
        </Button>
        {order.state === "read" && (
          <Button disabled={act.isPending} onClick={() => act.mutate({ verb: "aside" })}>
            Set aside
          </Button>
        )}
      </div>
    </form>
  );
}
