/** What an order document proposes, as fields to check and mend; each shows where on the page it is. */

import { useId } from "react";
import type { Schemas } from "../../api/client";
import { type OrderDocument, useOrderDocumentPasscode } from "../../api/order-documents";
import { useSites, useVendors } from "../../api/records";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Column, Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { Soft } from "../../components/text";
import { sayDay } from "../../format/dates";

export interface Item {
  serial: string;
  product: string;
  name: string;
  site: string;
  take: boolean;
}

export type Draft = Record<string, string>;

export type Spot = Schemas["Place"];

type Proposal = Schemas["Proposal"];

export function Line(props: {
  name: string;
  kind: "text" | "date" | "mono";
  value: string;
  onChange: (value: string) => void;
  proposals: Proposal[];
  onShow: (place: Spot | null) => void;
}) {
  const { name, kind, value, onChange, proposals, onShow } = props;
  const ident = useId();
  const current = proposals.find((one) => one.value === value);
  const unsure = current && !current.sure;
  return (
    <div className="contents">
      <label htmlFor={ident} className="text-soft">
        {name}
      </label>
      <span className="flex min-w-0 items-center gap-2">
        <input
          id={ident}
          className={join(
            "field",
            kind === "mono" && "max-w-52 font-mono text-[12.5px]",
            kind === "date" && "max-w-28 font-mono text-[12.5px]",
            unsure && "border-ochre",
          )}
          placeholder={kind === "date" ? "2027-11-30" : undefined}
          value={value}
          onChange={(event) => onChange(event.target.value)}
          onFocus={() => onShow(current?.place ?? null)}
        />
        {proposals.length > 1 && (
          <select
            aria-label={`${name}: what else it could be`}
            className="field w-auto max-w-40"
            value={current ? value : ""}
            onChange={(event) => onChange(event.target.value)}
          >
            {!current && <option value="">as typed</option>}
            {proposals.map((one) => (
              <option key={one.value} value={one.value}>
                {one.value}
              </option>
            ))}
          </select>
        )}
        {kind === "date" && /^\d{4}-\d{2}-\d{2}$/.test(value) && <span className="shrink-0">{sayDay(value)}</span>}
        <Source proposal={current} typed={value !== ""} />
      </span>
    </div>
  );
}

function Source({ proposal, typed }: { proposal?: Proposal; typed: boolean }) {
  if (!proposal) return <span className="shrink-0 text-[12px] text-soft">{typed ? "by hand" : "not found"}</span>;
  return (
    <span className={join("shrink-0 text-[12px]", proposal.sure ? "text-soft" : "text-ochre")}>
      {proposal.sure ? `page ${proposal.place.page + 1}` : "look closely"}
    </span>
  );
}

interface Part {
  draft: Draft;
  setDraft: (draft: Draft) => void;
  places: Proposal[];
  onShow: (place: Spot | null) => void;
}

export function VendorField({ draft, setDraft, places, onShow }: Part) {
  const vendors = useVendors();
  const ident = useId();
  const current = places.find((one) => one.value === draft.vendor);
  return (
    <div className="contents">
      <label htmlFor={ident} className="text-soft">
        Vendor
      </label>
      <Row as="span" gap={2} align="center">
        <select
          id={ident}
          className="field max-w-52"
          value={draft.vendor ?? ""}
          onChange={(event) => setDraft({ ...draft, vendor: event.target.value })}
          onFocus={() => onShow(current?.place ?? null)}
        >
          <option value="">choose</option>
          {vendors.data?.map((vendor) => (
            <option key={vendor.key} value={vendor.key}>
              {vendor.name}
            </option>
          ))}
        </select>
        <Source proposal={current} typed={Boolean(draft.vendor)} />
      </Row>
    </div>
  );
}

export function CostField({ draft, setDraft, places, onShow }: Part) {
  return (
    <>
      <Soft as="span">Cost</Soft>
      <Row as="span" gap={2} align="center">
        <input
          aria-label="Cost"
          inputMode="decimal"
          className="field max-w-28 text-right font-mono text-[12.5px]"
          value={draft.cost ?? ""}
          onChange={(event) => setDraft({ ...draft, cost: event.target.value })}
          onFocus={() => onShow(places[0]?.place ?? null)}
        />
        <input
          aria-label="Currency"
          className="field max-w-20 font-mono text-[12.5px]"
          value={draft.currency ?? ""}
          onChange={(event) => setDraft({ ...draft, currency: event.target.value.toUpperCase() })}
        />
        <Source proposal={places[0]} typed={Boolean(draft.cost)} />
      </Row>
    </>
  );
}

export function Passcode(props: {
  order: OrderDocument;
  found: boolean;
  keep: boolean;
  onKeep: (keep: boolean) => void;
  onShow: (place: Spot | null) => void;
}) {
  const { order, found, keep, onKeep, onShow } = props;
  const reveal = useOrderDocumentPasscode(order.id);
  const place = order.proposals.find((one) => one.field === "passcode")?.place ?? null;
  if (!found) return <Soft as="span">none found; add it to the contract by hand</Soft>;
  return (
    <Row as="span" gap={3} lines align="center">
      <label className="flex items-center gap-2">
        <input
          type="checkbox"
          checked={keep}
          onChange={(event) => onKeep(event.target.checked)}
          onFocus={() => onShow(place)}
        />
        keep it with the contract, encrypted
      </label>
      {reveal.data ? (
        <Mono>{reveal.data.join(", ")}</Mono>
      ) : (
        <Button look="bare" onClick={() => reveal.mutate()} title="The custody log keeps that you asked">
          Show
        </Button>
      )}
    </Row>
  );
}

export function Items(props: {
  order: OrderDocument;
  items: Item[];
  setItems: (items: Item[]) => void;
  onShow: (place: Spot | null) => void;
}) {
  const { order, items, setItems, onShow } = props;
  const sites = useSites();
  const put = (place: number, change: Partial<Item>) =>
    setItems(items.map((item, number) => (number === place ? { ...item, ...change } : item)));
  return (
    <>
      <h2 className="mt-5 mb-1 text-[18px] leading-6">Assets</h2>
      {items.length === 0 && <Nothing>No serial was found. Add those that it covers, or say so below.</Nothing>}
      <Column as="ul" gap={1.5} aria-label="Assets on the order document">
        {items.map((item, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: rows are only added at the end, and their serials can be edited
          <li key={place} className={join("flex items-center gap-2", !item.take && "opacity-60")}>
            <input
              type="checkbox"
              aria-label={`Enter ${item.serial || "this row"}`}
              checked={item.take}
              onChange={(event) => put(place, { take: event.target.checked })}
            />
            <input
              className="field font-mono text-[12.5px]"
              aria-label="Serial"
              placeholder="serial"
              value={item.serial}
              onChange={(event) => put(place, { serial: event.target.value })}
              onFocus={() => onShow(order.bought[place]?.serial.place ?? null)}
            />
            <input
              className="field max-w-28 font-mono text-[12.5px]"
              aria-label="Part number"
              placeholder="part number"
              value={item.product}
              onChange={(event) => put(place, { product: event.target.value })}
              onFocus={() => onShow(order.bought[place]?.product?.place ?? null)}
            />
            <select
              className="field max-w-36"
              aria-label="Site"
              value={item.site}
              onChange={(event) => put(place, { site: event.target.value })}
              onFocus={() => onShow(order.bought[place]?.site?.place ?? null)}
            >
              <option value="">no site</option>
              {sites.data?.map((site) => (
                <option key={site.key} value={site.key}>
                  {site.name}
                </option>
              ))}
            </select>
          </li>
        ))}
      </Column>
      <Button
        look="bare"
        className="mt-1"
        onClick={() => setItems([...items, { serial: "", product: "", name: "", site: "", take: true }])}
      >
        Add a serial
      </Button>
    </>
  );
}
