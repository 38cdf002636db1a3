/** A list of records whose state is in the address, so that a view can be kept and shared. */
import { useDeferredValue, useEffect, useState } from "react";
import { useSearchParams } from "wouter";
import { usePacketCounts } from "../../api/packets";
import { useRecords } from "../../api/records";
import { useKeys } from "../../keyboard/keys";
import { countedBy, openPackets, type Register, type Row } from "./kinds";
import { MERGED } from "./merge";

export type RecordList = ReturnType<typeof useRecordList>;

export function useRecordList(register: Register, roles: string[]) {
  const keeper = roles.includes("keeper");
  const mayPrint = keeper || roles.includes("preparer");
  const [search, setSearch] = useSearchParams();
  const [query, setQuery] = useState(search.get("q") ?? "");
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [open, setOpen] = useState<"edit" | "add" | "merge" | null>(null);
  const put = (name: string, value: string) =>
    setSearch(
      (before) => {
        const after = new URLSearchParams(before);
        if (value) after.set(name, value);
        else after.delete(name);
        return after;
      },
      { replace: true },
    );
  const late = useDeferredValue(query);
  // biome-ignore lint/correctness/useExhaustiveDependencies: only what was typed goes into the address
  useEffect(() => put("q", late), [late]);
  const narrow = {
    q: late,
    vendor: search.get("vendor") ?? "",
    site: search.get("site") ?? "",
    status: search.get("status") ?? "",
    sort: search.get("sort") ?? "",
  };
  const records = useRecords(register.plural, narrow);
  const rows = records.data?.pages.flatMap((page) => page.items) ?? [];
  const shown = search.get("columns")?.split(",") ?? [...register.usual, "packets"];
  const by = countedBy(register.kind);
  const counts = usePacketCounts(by ?? "vendor", by !== undefined);
  const all = [...register.columns, ...openPackets(register.kind, counts.data)];
  const columns = all.filter((column, place) => place === 0 || shown.includes(column.key));
  const picked = rows.filter((row) => chosen.has(row.id)) as Row[];
  const mayEdit = keeper && (chosen.size === 1 || (chosen.size > 1 && register.bulk.length > 0));
  const pair = chosen.size === 2 && keeper && MERGED.includes(register.kind);
  useKeys("records", {
    edit: mayEdit && (() => setOpen("edit")),
    merge: pair && (() => setOpen("merge")),
    add: keeper && (() => setOpen("add")),
    release: chosen.size > 0 && (() => setChosen(new Set())),
  });
  const isAsset = register.kind === "asset";
  const mayChoose = keeper || (isAsset && mayPrint);
  return {
    ...{ keeper, mayPrint, mayEdit, mayChoose, pair, isAsset, search, put, query, setQuery, late, narrow },
    ...{ records, rows, shown, all, columns, picked, chosen, setChosen, open, setOpen },
  };
}
