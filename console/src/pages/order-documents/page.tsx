/** One order document: the page as it came beside what it proposes; nothing enters without a yes. */

import { useState } from "react";
import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import {
  type Entry,
  type OrderDocument,
  useOrderDocument,
  useOrderDocumentAct,
  useOrderDocumentPreview,
} from "../../api/order-documents";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { ProblemPage } from "../../components/problem-page";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { toMajor, toMinor } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { IncomingTabs } from "../incoming-tabs";
import { CostField, type Draft, type Item, Items, Line, Passcode, type Spot, VendorField } from "./fields";
import { STATE } from "./list";
import { Pages } from "./sheets";

export function OrderDocumentPage({ ident }: { ident: string }) {
  const order = useOrderDocument(ident);
  if (order.error) return <ProblemPage title="Order document" problem={order.error} />;
  if (!order.data || order.data.state === "reading") {
    return (
      <main className="mx-auto w-full max-w-[1280px] px-6 py-7">
        <Waiting label="The order document is being read" lines={8} />
      </main>
    );
  }
  return <Known key={`${order.data.id} ${order.data.state}`} order={order.data} />;
}

type Field = keyof Omit<Entry, "items" | "needs" | "products" | "cost_minor" | "currency">;

const FIELDS: [field: Field, name: string, kind: "text" | "date" | "mono"][] = [
  ["contract", "Contract number", "mono"],
  ["title", "Title", "text"],
  ["starts_on", "First day", "date"],
  ["ends_on", "Last day", "date"],
  ["notice_on", "Notice by", "date"],
  ["reference", "Support identifier", "mono"],
  ["level", "Level", "text"],
  ["hours", "Hours", "text"],
];

function first(order: OrderDocument): Draft {
  const draft: Draft = {};
  for (const { field, value } of order.proposals) draft[field] ??= value;
  const [minor, currency] = (draft.cost ?? "").split(" ");
  draft.cost = minor && currency ? toMajor(Number(minor), currency) : "";
  draft.currency = currency ?? "";
  return draft;
}

function Known({ order }: { order: OrderDocument }) {
  const [draft, setDraft] = useState<Draft>(() => first(order));
  const [items, setItems] = useState<Item[]>(() =>
    order.bought.map((item) => ({
      serial: item.serial.value,
      product: item.product?.value ?? "",
      name: item.name?.value ?? "",
      site: item.site?.value ?? "",
      take: true,
    })),
  );
  const holdsPasscode = order.proposals.some((proposal) => proposal.field === "passcode");
  const [keepPasscode, setKeepPasscode] = useState(holdsPasscode);
  const [shown, setShown] = useState<Spot | null>(null);
  const open = order.state === "read" || order.state === "aside" || order.state === "failed";
  const entry = entryOf(draft, items, keepPasscode);
  const act = useOrderDocumentAct(order.id);
  const preview = useOrderDocumentPreview(order.id, open ? entry : null);
  const enter = () => entry && act.mutate({ verb: "enter", entry });
  useKeys({ y: open && entry !== null && !preview.error && enter });
  const places = (field: string) => order.proposals.filter((proposal) => proposal.field === field);
  return (
    <main className="mx-auto grid w-full max-w-[1280px] grid-cols-[minmax(0,1.05fr)_minmax(0,1fr)] content-start gap-x-8 px-6 py-6 max-lg:grid-cols-1 max-sm:px-3">
      <div className="col-span-full">
        <IncomingTabs />
      </div>
      <div className="col-span-full mb-4 flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-[24px] leading-8 break-all">{order.name}</h1>
        <Badge tone={STATE[order.state][0]}>{STATE[order.state][1]}</Badge>
        <span className="text-soft">
          {order.entered_by
            ? `by ${order.entered_by}, ${sayMoment(order.entered_at)}`
            : `came ${sayMoment(order.at)}, sent by ${order.by}`}
        </span>
      </div>
      <Pages order={order} shown={shown} onShow={setShown} />
      <div className="min-w-0 max-lg:mt-6">
        {order.status_text && (
          <p className="mb-3 rounded-md border-l-3 border-ochre bg-ochre-wash px-3 py-2">
            {order.status_text} What it says can be entered by hand.
          </p>
        )}
        {order.state === "entered" ? (
          <Entered order={order} />
        ) : (
          <form
            onSubmit={(event) => {
              event.preventDefault();
              enter();
            }}
          >
            <h2 className="mb-2 text-[18px] leading-6">What it says</h2>
            <div className="grid grid-cols-[130px_1fr] items-center gap-y-1.5">
              <VendorField draft={draft} setDraft={setDraft} places={places("vendor")} onShow={setShown} />
              {FIELDS.map(([field, name, kind]) => (
                <Line
                  key={field}
                  name={name}
                  kind={kind}
                  value={draft[field] ?? ""}
                  onChange={(value) => setDraft({ ...draft, [field]: value })}
                  proposals={places(field)}
                  onShow={setShown}
                />
              ))}
              <CostField draft={draft} setDraft={setDraft} places={places("cost")} onShow={setShown} />
              <span className="text-soft">Passcode</span>
              <Passcode
                order={order}
                found={holdsPasscode}
                keep={keepPasscode}
                onKeep={setKeepPasscode}
                onShow={setShown}
              />
            </div>
            <Items order={order} items={items} setItems={setItems} onShow={setShown} />
            <h2 className="mt-5 mb-1 text-[18px] leading-6">What entering it does</h2>
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
                Yes, enter this
              </Button>
              {order.state === "read" && (
                <Button disabled={act.isPending} onClick={() => act.mutate({ verb: "aside" })}>
                  Set aside
                </Button>
              )}
            </div>
          </form>
        )}
      </div>
    </main>
  );
}

/** The entry as it stands, or null while what it needs is missing. */
function entryOf(draft: Draft, items: Item[], keepPasscode: boolean): Entry | null {
  const { vendor, contract, starts_on, ends_on } = draft;
  if (!vendor || !contract || !starts_on || !ends_on) return null;
  const minor = draft.cost ? toMinor(draft.cost, draft.currency ?? "") : null;
  return {
    vendor,
    contract,
    starts_on,
    ends_on,
    title: draft.title ?? "",
    notice_on: draft.notice_on || null,
    cost_minor: minor !== null && Number.isFinite(minor) ? minor : null,
    currency: minor !== null ? draft.currency || null : null,
    reference: draft.reference || null,
    level: draft.level || null,
    hours: draft.hours ?? "",
    keep_passcode: keepPasscode,
    everything: draft.everything === "yes",
    items: items
      .filter((item) => item.take)
      .map(({ serial, product, name, site }) => ({ serial, product: product || null, name, site: site || null })),
  };
}

const FIELD_NAMES: Record<string, string> = {
  starts_on: "starts",
  ends_on: "ends",
  notice_on: "notice by",
  cost_minor: "cost, minor units",
  co_term: "ends with its contract",
};

function Effects({ items }: { items: Schemas["EntryEffect"][] }) {
  return (
    <ul aria-label="What entering it does">
      {items.map((item) => (
        <li key={`${item.kind} ${item.called}`} className="border-b border-line py-1.5">
          <span className="flex items-baseline gap-2">
            <span className={join("w-20 shrink-0", item.outcome === "unchanged" ? "text-soft" : "font-semibold")}>
              {item.outcome}
            </span>
            <span className="text-soft">{item.kind}</span> <Mono>{item.called}</Mono>
          </span>
          {item.outcome !== "new" &&
            item.changes.map((change) => (
              <span key={change.field} className="block pl-22 text-soft">
                {FIELD_NAMES[change.field] ?? change.field.replaceAll("_", " ")}: {say(change.old)} →{" "}
                <span className="text-ink">{say(change.new)}</span>
              </span>
            ))}
        </li>
      ))}
    </ul>
  );
}

function say(value: unknown): string {
  if (Array.isArray(value)) return value.join(", ") || "none";
  if (value === null || value === "" || value === undefined) return "none";
  return String(value);
}

function Entered({ order }: { order: OrderDocument }) {
  return (
    <>
      <h2 className="mb-2 text-[18px] leading-6">What was entered</h2>
      <ul aria-label="What was entered">
        {order.entered.map((item) => {
          const page = { asset: "assets", contract: "contracts" }[item.kind];
          return (
            <li key={item.record_id} className="flex items-baseline gap-2 border-b border-line py-1.5">
              <span className="w-20 text-soft">{item.outcome}</span>
              <span className="text-soft">{item.kind}</span>
              {page ? (
                <Link className="link" href={`/${page}/${item.record_id}`}>
                  <Mono>{item.called}</Mono>
                </Link>
              ) : (
                <Mono>{item.called}</Mono>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
