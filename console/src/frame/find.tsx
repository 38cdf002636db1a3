/** Finding anything: opens with `/`, arrows move, Enter opens. */
import { useState } from "react";
import { useLocation } from "wouter";
import type { Schemas } from "../api/client";
import { useFind } from "../api/overview";
import { Dialog } from "../components/dialog";
import { join } from "../components/join";
import { Mono } from "../components/mono";
import { ProblemNote } from "../components/problem-note";

interface Row {
  id: string;
  to: string;
  mono: string;
  title: string;
  beside: string;
}

const rowsOf = (found: Schemas["Found"] | undefined): Row[] => [
  ...(found?.packets ?? []).map((packet) => ({
    id: packet.number,
    to: `/packets/${packet.number}`,
    mono: packet.number,
    title: packet.title,
    beside: packet.life,
  })),
  ...(found?.assets ?? []).map((asset) => ({
    id: asset.id,
    to: `/assets/${asset.id}`,
    mono: asset.serial,
    title: asset.name || asset.product_name,
    beside: asset.site_name ?? "",
  })),
];

export function Find({ open, onChange }: { open: boolean; onChange: (open: boolean) => void }) {
  const [query, setQuery] = useState("");
  const [place, setPlace] = useState(0);
  const [, go] = useLocation();
  const found = useFind(query);
  const shown = query.trim().length > 1 ? rowsOf(found.data) : [];
  const at = Math.min(place, Math.max(shown.length - 1, 0));

  function openRow(row: Row | undefined) {
    if (!row) return;
    onChange(false);
    setQuery("");
    go(row.to);
  }

  return (
    <Dialog open={open} onChange={onChange} title="Find" quiet>
      <input
        role="combobox"
        aria-expanded={shown.length > 0}
        aria-controls="found"
        aria-activedescendant={shown[at] ? `found-${shown[at].id}` : undefined}
        aria-label="Find a serial, packet, host name, site"
        placeholder="Serial, packet, host name, site, words…"
        className="w-full rounded-t-sheet border-b border-line bg-transparent px-4 py-3 text-[16px] outline-none"
        value={query}
        onChange={(event) => {
          setQuery(event.target.value);
          setPlace(0);
        }}
        onKeyDown={(event) => {
          const step = { ArrowDown: 1, ArrowUp: -1 }[event.key];
          if (step) {
            event.preventDefault();
            setPlace(Math.min(Math.max(at + step, 0), shown.length - 1));
          } else if (event.key === "Enter") openRow(shown[at]);
        }}
      />
      <div id="found" role="listbox" aria-label="Found" className="max-h-[50vh] overflow-auto py-1">
        {shown.map((row, index) => (
          <button
            type="button"
            key={row.id}
            id={`found-${row.id}`}
            role="option"
            tabIndex={-1}
            aria-selected={index === at}
            onMouseMove={() => setPlace(index)}
            onClick={() => openRow(row)}
            className={join(
              "grid w-full grid-cols-[130px_1fr_auto] gap-3 px-4 py-2 text-left",
              index === at && "bg-paper",
            )}
          >
            <Mono>{row.mono}</Mono>
            <span className="truncate">{row.title}</span>
            <span className="text-soft">{row.beside}</span>
          </button>
        ))}
      </div>
      <div className="px-4 pb-3 text-soft">
        <ProblemNote problem={found.error} />
        {query.trim().length < 2 && "Type two letters or more. A mistyped serial is found too."}
        {query.trim().length > 1 && found.isSuccess && !found.isFetching && shown.length === 0 && "Nothing matches."}
      </div>
    </Dialog>
  );
}
