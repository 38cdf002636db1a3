/** Finding anything: opens with `/`, arrows move, Enter opens; of a kind that has more, the rest is one row away. */
import { Fragment, useState } from "react";
import { useLocation } from "wouter";
import type { Schemas } from "../api/client";
import { type UsedItem, useOftenUsed, usePin } from "../api/often-used";
import { useVendors } from "../api/records";
import { type FindWithin, type FoundKind, useFind } from "../api/today";
import { Dialog } from "../components/dialog";
import { join } from "../components/join";
import { Key } from "../components/key";
import { Mono } from "../components/mono";
import { ProblemNote } from "../components/problem-note";
import { Marked } from "./marked";

type Item = Schemas["FoundItem"];

const at = (value: string) => encodeURIComponent(value);

/** Of each kind its heading, and where a record of it is shown. */
const KINDS: Record<FoundKind | "desk", [heading: string, place: (item: Item) => string]> = {
  packet: ["Packets", (one) => `/packets/${one.handle}`],
  asset: ["Assets", (one) => `/assets/${one.handle}`],
  contract: ["Contracts", (one) => `/contracts/${one.handle}`],
  entitlement: ["Entitlements", (one) => `/entitlements?q=${at(one.name)}`],
  site: ["Sites", (one) => `/sites?q=${at(one.name)}`],
  person: ["People", (one) => `/people?q=${at(one.name)}`],
  product: ["Products", (one) => `/products?q=${at(one.name)}`],
  vendor: ["Vendors", (one) => `/vendors?q=${at(one.name)}`],
  login: ["Logins", (one) => `/logins?q=${at(one.name)}`],
  order_document: ["Order documents", (one) => `/order-documents/${one.handle}`],
  article: ["Articles", (one) => `/articles?open=${at(one.handle)}`],
  known_issue: ["Known issues", () => "/known-issues"],
  desk: ["Desks", (one) => `/desks/${one.handle}`],
  reply: ["Replies", (one) => `/packets/${one.handle}/replies`],
};

interface Row {
  id: string;
  kind: FoundKind | "desk";
  /** Where the record is pinned, if it can be. */
  pin?: Pick<UsedItem, "kind" | "handle" | "pinned">;
  /** What is shown; nothing, if the row leads to the rest of its kind. */
  item?: Item;
}

function rowsOf(found: Schemas["Found"] | undefined): Row[] {
  return (found?.groups ?? []).flatMap(({ kind, items, more }) => [
    ...items.map((item, place) => ({
      id: `${kind}-${place}`,
      kind,
      item,
      ...(kind === "asset" && { pin: { kind, handle: item.handle, pinned: false } }),
    })),
    ...(more ? [{ id: `${kind}-more`, kind }] : []),
  ]);
}

/** What is offered before anything is typed: records that were pinned or used last. */
function usedRows(used: UsedItem[]): Row[] {
  return used.map((one) => ({
    id: `${one.kind}-${one.handle}`,
    kind: one.kind,
    pin: one,
    item: {
      kind: one.kind === "desk" ? "vendor" : one.kind,
      handle: one.handle,
      name: one.name,
      title: one.beside,
      beside: one.pinned ? "pinned" : "",
      matched: "",
      exact: false,
      at: null,
    },
  }));
}

export function Find({ open, onChange }: { open: boolean; onChange: (open: boolean) => void }) {
  const [query, setQuery] = useState("");
  const [within, setWithin] = useState<FindWithin>({});
  const [narrowing, setNarrowing] = useState(false);
  const [place, setPlace] = useState(0);
  const [, go] = useLocation();
  const found = useFind(query, within);
  const used = useOftenUsed(open);
  const pin = usePin();
  const asked = query.trim().length > 1;
  const shown = asked ? rowsOf(found.data) : usedRows(used.data ?? []);
  const here = Math.min(place, Math.max(shown.length - 1, 0));

  function narrow(to: FindWithin) {
    setWithin(to);
    setPlace(0);
  }

  function openRow(row: Row | undefined) {
    if (!row) return;
    if (!row.item) {
      if (row.kind !== "desk") narrow({ ...within, kind: row.kind });
      setNarrowing(true);
      return;
    }
    onChange(false);
    setQuery("");
    narrow({});
    setNarrowing(false);
    go(KINDS[row.kind][1](row.item));
  }

  return (
    <Dialog open={open} onChange={onChange} title="Find" quiet className="w-[min(96vw,720px)]">
      <div className="flex items-center border-b border-line">
        <input
          role="combobox"
          aria-expanded={shown.length > 0}
          aria-controls="found"
          aria-activedescendant={shown[here] ? `found-${shown[here].id}` : undefined}
          aria-label="Find anything by words or a number"
          placeholder="A number, a name, words…"
          className="min-w-0 grow rounded-t-sheet bg-transparent px-4 py-3 text-[16px] outline-none"
          value={query}
          onChange={(event) => {
            setQuery(event.target.value);
            setPlace(0);
          }}
          onKeyDown={(event) => {
            const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
            if (step) {
              event.preventDefault();
              setPlace(Math.min(Math.max(here + step, 0), shown.length - 1));
            } else if (event.key === "Enter") openRow(shown[here]);
            else if (event.altKey && event.code === "KeyP" && shown[here]?.pin) {
              event.preventDefault();
              pin.mutate(shown[here].pin);
            }
          }}
        />
        <button
          type="button"
          aria-expanded={narrowing}
          className="px-4 text-soft hover:text-ink"
          onClick={() => setNarrowing(!narrowing)}
        >
          Narrow
        </button>
      </div>
      {narrowing && <Narrow within={within} onChange={narrow} />}
      <div id="found" role="listbox" aria-label="Found" className="max-h-[60vh] overflow-auto py-1">
        {shown.map((row, index) => (
          <Fragment key={row.id}>
            {shown[index - 1]?.kind !== row.kind && (
              <div role="presentation" className="px-4 pt-2 pb-0.5 text-[12px] text-soft">
                {KINDS[row.kind][0]}
              </div>
            )}
            <button
              type="button"
              id={`found-${row.id}`}
              role="option"
              tabIndex={-1}
              aria-selected={index === here}
              onMouseMove={() => setPlace(index)}
              onClick={() => openRow(row)}
              className={join(
                "grid w-full grid-cols-[150px_minmax(0,1fr)_auto] gap-3 px-4 py-1.5 text-left",
                index === here && "bg-paper",
              )}
            >
              {row.item ? (
                <Line item={row.item} words={found.data?.words ?? []} />
              ) : (
                <span className="link">more…</span>
              )}
            </button>
          </Fragment>
        ))}
      </div>
      <div className="px-4 pt-1 pb-3 text-soft">
        <ProblemNote problem={found.error} />
        {!asked && "Type two letters or more. A mistyped serial is found too."}
        {shown[here]?.pin && (
          <button
            type="button"
            className="link ml-3 whitespace-nowrap"
            disabled={pin.isPending}
            onClick={() => shown[here]?.pin && pin.mutate(shown[here].pin)}
          >
            {shown[here].pin.pinned ? "Unpin" : "Pin"} {shown[here].item?.name} <Key>Alt P</Key>
          </button>
        )}
        {asked && found.data?.likely && "Nothing matches exactly. These are similar."}
        {asked && found.isSuccess && !found.isFetching && shown.length === 0 && "Nothing matches."}
      </div>
    </Dialog>
  );
}

const YEAR = 365;
const AGES = [
  ["", "of any age"],
  ["7", "of the last week"],
  ["31", "of the last month"],
  [`${YEAR}`, "of the last year"],
] as const;

/** To what finding is limited: a kind, a vendor, an age. */
function Narrow({ within, onChange }: { within: FindWithin; onChange: (within: FindWithin) => void }) {
  const vendors = useVendors();
  const [days, setDays] = useState("");
  const place = "bg-transparent text-soft";
  return (
    <div className="flex flex-wrap gap-4 border-b border-line px-4 py-1.5">
      <select
        aria-label="Kind of record"
        className={place}
        value={within.kind ?? ""}
        onChange={(event) => onChange({ ...within, kind: (event.target.value || undefined) as FoundKind | undefined })}
      >
        <option value="">of every kind</option>
        {Object.entries(KINDS).map(([name, [heading]]) => (
          <option key={name} value={name}>
            {heading}
          </option>
        ))}
      </select>
      <select
        aria-label="Vendor"
        className={place}
        value={within.vendor ?? ""}
        onChange={(event) => onChange({ ...within, vendor: event.target.value || undefined })}
      >
        <option value="">of any vendor</option>
        {vendors.data?.map((vendor) => (
          <option key={vendor.key} value={vendor.key}>
            {vendor.name}
          </option>
        ))}
      </select>
      <select
        aria-label="Age"
        className={place}
        value={days}
        onChange={(event) => {
          setDays(event.target.value);
          const since = new Date(Date.now() - Number(event.target.value) * 86_400_000).toISOString();
          onChange({ ...within, since: event.target.value ? since : undefined });
        }}
      >
        {AGES.map(([value, words]) => (
          <option key={value} value={value}>
            {words}
          </option>
        ))}
      </select>
    </div>
  );
}

/** Kinds whose records are called by a number. */
const NUMBERED: FoundKind[] = ["packet", "asset", "contract", "entitlement", "product", "reply"];

function Line({ item, words }: { item: Item; words: string[] }) {
  const name = <Marked text={item.name} words={words} />;
  return (
    <>
      <span className="truncate">{NUMBERED.includes(item.kind) ? <Mono>{name}</Mono> : name}</span>
      <span className="truncate">
        <Marked text={item.title} words={words} />
        {item.matched && (
          <span className="ml-2 text-soft">
            <Marked text={item.matched} words={words} />
          </span>
        )}
      </span>
      <span className="max-w-44 truncate text-soft">{item.beside}</span>
    </>
  );
}
