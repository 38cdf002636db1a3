/** The register: one page for each kind of record, its state in the address, so that a view can be kept and shared. */

import { useDeferredValue, useEffect, useState } from "react";
import { useSearchParams } from "wouter";
import { useRecords, useVendors } from "../../api/records";
import { Button } from "../../components/button";
import { ChosenBar } from "../../components/chosen-bar";
import { ColumnMenu } from "../../components/column-menu";
import { Key } from "../../components/key";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Table } from "../../components/table";
import { Tabs } from "../../components/tabs";
import { Waiting } from "../../components/waiting";
import { useKeys } from "../../keyboard/keys";
import { BulkDialog } from "./bulk";
import { REGISTER, type Register, type Row, STATES, state } from "./kinds";
import { PrintLabels, ScanLabel } from "./labels";
import { MERGED, MergeDialog } from "./merge";
import { RecordDialog } from "./record";
import { ViewMenu } from "./views";

export function RegisterPage({ plural, roles }: { plural: string; roles: string[] }) {
  const register = REGISTER.find((one) => one.plural === plural);
  return register ? <Records key={plural} register={register} roles={roles} /> : null;
}

function Records({ register, roles }: { register: Register; roles: string[] }) {
  const keeper = roles.includes("keeper");
  const mayPrint = keeper || roles.includes("preparer");
  const [search, setSearch] = useSearchParams();
  const [query, setQuery] = useState(search.get("q") ?? "");
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [open, setOpen] = useState<"edit" | "add" | "merge" | null>(null);
  const vendors = useVendors();
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
  const shown = search.get("columns")?.split(",") ?? register.usual;
  const columns = register.columns.filter((column, place) => place === 0 || shown.includes(column.key));
  const picked = rows.filter((row) => chosen.has(row.id)) as Row[];
  const mayEdit = keeper && (chosen.size === 1 || (chosen.size > 1 && register.bulk.length > 0));
  const pair = chosen.size === 2 && keeper && MERGED.includes(register.kind);
  useKeys({
    e: mayEdit && (() => setOpen("edit")),
    m: pair && (() => setOpen("merge")),
    "+": keeper && (() => setOpen("add")),
    Escape: chosen.size > 0 && (() => setChosen(new Set())),
  });
  const isAsset = register.kind === "asset";
  const mayChoose = keeper || (isAsset && mayPrint);
  const hasVendor = !["site", "person", "vendor"].includes(register.kind);
  return (
    <main className="mx-auto w-full max-w-[1280px] px-6 py-7 max-sm:px-3">
      <Tabs label="The register" tabs={REGISTER.map((one) => [`/${one.plural}`, one.title])} />
      <div className="flex flex-wrap items-baseline gap-x-4">
        <h1 className="text-[24px] leading-8">{register.title}</h1>
        <p className="text-soft">{records.data && `${rows.length}${records.hasNextPage ? " and more" : ""}`}</p>
      </div>
      <div className="my-3 flex flex-wrap items-center gap-2.5">
        <input
          className="field max-w-80"
          aria-label={isAsset ? "Serial, model, host name, site or words" : "Narrow by words"}
          placeholder={isAsset ? "Serial, model, host name, site, words" : "Words"}
          value={query}
          onChange={(event) => setQuery(event.target.value)}
        />
        {hasVendor && (
          <Choice name="Vendor" value={narrow.vendor} onChange={(value) => put("vendor", value)}>
            {vendors.data?.map((vendor) => (
              <option key={vendor.key} value={vendor.key}>
                {vendor.name}
              </option>
            ))}
          </Choice>
        )}
        {isAsset && (
          <Choice name="State" value={narrow.status} onChange={(value) => put("status", value)}>
            {STATES.slice(1).map((value) => (
              <option key={value} value={value}>
                {state(value)}
              </option>
            ))}
          </Choice>
        )}
        {narrow.site && (
          <button
            type="button"
            className="rounded-full border border-line px-2.5 hover:border-soft"
            onClick={() => put("site", "")}
          >
            at {narrow.site} <span aria-hidden>×</span>
            <span className="sr-only">, show all sites</span>
          </button>
        )}
        <span className="ml-auto" />
        {keeper && (
          <Button letter="+" onClick={() => setOpen("add")}>
            Add
          </Button>
        )}
        {isAsset && <ScanLabel keeper={keeper} />}
        <ViewMenu plural={register.plural} query={search.toString()} />
        <ColumnMenu columns={register.columns} shown={shown} onChange={(keys) => put("columns", keys.join(","))} />
        <a className="link" href={`/api/v1/export/${register.plural}?form=xlsx`} download>
          Export
        </a>
      </div>
      <ProblemNote problem={records.error} />
      {records.isPending && !records.error && <Waiting label={`${register.title} are being read`} lines={10} />}
      {records.data && rows.length > 0 && (
        <Table
          label={register.title}
          columns={columns}
          rows={rows}
          sort={narrow.sort}
          onSort={(sort) => put("sort", sort)}
          href={register.href}
          chosen={mayChoose ? chosen : undefined}
          onChoose={mayChoose ? setChosen : undefined}
        />
      )}
      {records.data && rows.length === 0 && (
        <Nothing>
          {late
            ? "Nothing matches, even with typing mistakes."
            : "Nothing is kept here yet. Import a list, or add one."}
        </Nothing>
      )}
      {records.hasNextPage && (
        <Button className="mt-3" disabled={records.isFetchingNextPage} onClick={() => records.fetchNextPage()}>
          {records.isFetchingNextPage ? "Reading…" : "Show more"}
        </Button>
      )}
      {chosen.size > 0 && (
        <ChosenBar
          words={`${chosen.size} chosen`}
          onEdit={mayEdit ? () => setOpen("edit") : undefined}
          onClear={() => setChosen(new Set())}
        >
          {pair && (
            <button type="button" className="link" onClick={() => setOpen("merge")} aria-keyshortcuts="m">
              Merge <Key>M</Key>
            </button>
          )}
          {isAsset && mayPrint && <PrintLabels ids={[...chosen]} />}
        </ChosenBar>
      )}
      {open === "add" && <RecordDialog register={register} onClose={() => setOpen(null)} />}
      {open === "edit" && picked.length === 1 && (
        <RecordDialog register={register} row={picked[0]} onClose={() => setOpen(null)} />
      )}
      {open === "edit" && picked.length !== 1 && (
        <BulkDialog register={register} ids={[...chosen]} onClose={() => setOpen(null)} />
      )}
      {open === "merge" && (
        <MergeDialog
          register={register}
          ids={[...chosen] as [string, string]}
          onClose={() => setOpen(null)}
          onDone={() => {
            setOpen(null);
            setChosen(new Set());
          }}
        />
      )}
    </main>
  );
}

function Choice(props: { name: string; value: string; onChange: (value: string) => void; children: React.ReactNode }) {
  return (
    <select
      aria-label={props.name}
      className="field w-auto max-w-52"
      value={props.value}
      onChange={(event) => props.onChange(event.target.value)}
    >
      <option value="">{props.name}: all</option>
      {props.children}
    </select>
  );
}
