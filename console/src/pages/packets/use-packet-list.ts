/** The list of packets, whose state is in the address, so that a view of it can be kept and shared. */
import { useDeferredValue, useEffect, useState } from "react";
import { useSearchParams } from "wouter";
import { type PacketNarrow, usePackets } from "../../api/packets";
import { useKeys } from "../../keyboard/keys";
import { COLUMNS, USUAL } from "./list-columns";

/** What else narrows the list, when another page leads here. */
export const LINKED = [
  "severity",
  "asset",
  "contract",
  "login",
  "ticket",
  "our_reference",
  "updated_since",
  "created_since",
  "created_before",
  "due_before",
  "lodged_since",
  "lodged_before",
  "settled_since",
  "settled_before",
  "refused_since",
  "refused_before",
  "refused_as",
  "course",
  "rating",
] as const;
const PARTS = [
  "life",
  "turn",
  "need",
  "attention",
  "vendor",
  "site",
  "product",
  "owner",
  "unowned",
  "open",
  ...LINKED,
] as const;
const NEWEST = "-created_at";

export type PacketList = ReturnType<typeof usePacketList>;

export function usePacketList() {
  const [search, setSearch] = useSearchParams();
  const [query, setQuery] = useState(search.get("q") ?? "");
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const put = (name: string, value: string) => putAll({ [name]: value });
  const putAll = (values: Record<string, string>) =>
    setSearch(
      (before) => {
        const after = new URLSearchParams(before);
        for (const [name, value] of Object.entries(values)) {
          if (value) after.set(name, value);
          else after.delete(name);
        }
        return after;
      },
      { replace: true },
    );
  const late = useDeferredValue(query);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what was typed goes into the address
  useEffect(() => put("q", late), [late]);
  const given = PARTS.flatMap((name) => (search.get(name) ? [[name, search.get(name)]] : []));
  const sort = search.get("sort") ?? NEWEST;
  const narrow: PacketNarrow = { ...Object.fromEntries(given), ...(late && { q: late }), sort };
  const packets = usePackets(narrow);
  const rows = (packets.data?.pages.flatMap((page) => page.items) ?? []).map((one) => ({ ...one, id: one.number }));
  const shown = search.get("columns")?.split(",") ?? USUAL;
  const columns = COLUMNS.filter((column, place) => place === 0 || shown.includes(column.key));
  useKeys("records", { release: chosen.size > 0 && (() => setChosen(new Set())) });
  return {
    ...{ search, put, putAll, query, setQuery, packets, rows, sort, shown, columns, chosen, setChosen },
    isNarrowed: given.length > 0 || late !== "",
    /** The query of the same list as a file. */
    asFile: new URLSearchParams(Object.entries(narrow).map(([name, value]) => [name, String(value)])).toString(),
  };
}
