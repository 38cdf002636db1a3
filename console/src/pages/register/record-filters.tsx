/** What narrows a list of records, and what can be done with the whole list. */

import { Button } from "../../components/button";
import { ColumnMenu } from "../../components/column-menu";
import { Filter } from "../../components/filter";
import { Hidden } from "../../components/text";
import { ViewMenu } from "../../components/view-menu";
import { type Register, STATES, state } from "./kinds";
import { ScanLabel } from "./labels";
import type { RecordList } from "./use-record-list";
import { VendorFilter } from "./vendor-filter";

export function RecordFilters({ register, list }: { register: Register; list: RecordList }) {
  const hasVendor = !["site", "person", "vendor"].includes(register.kind);
  const { keeper, isAsset, search, put, query, setQuery, narrow, shown, setOpen } = list;
  return (
    <div className="my-3 flex flex-wrap items-center gap-2.5">
      <input
        className="field max-w-80"
        aria-label={isAsset ? "Serial, model, host name, site or words" : "Narrow by words"}
        placeholder={isAsset ? "Serial, model, host name, site, words" : "Words"}
        value={query}
        onChange={(event) => setQuery(event.target.value)}
      />
      {hasVendor && <VendorFilter value={narrow.vendor} onChange={(value) => put("vendor", value)} />}
      {isAsset && (
        <Filter name="State" value={narrow.status} onChange={(value) => put("status", value)}>
          {STATES.slice(1).map((value) => (
            <option key={value} value={value}>
              {state(value)}
            </option>
          ))}
        </Filter>
      )}
      {narrow.site && (
        <button
          type="button"
          className="rounded-full border border-line px-2.5 hover:border-soft"
          onClick={() => put("site", "")}
        >
          at {narrow.site} <span aria-hidden>×</span>
          <Hidden>, show all sites</Hidden>
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
      <ColumnMenu columns={list.all} shown={shown} onChange={(keys) => put("columns", keys.join(","))} />
      <a className="link" href={`/api/v1/export/${register.plural}?form=xlsx&${narrowing(narrow)}`} download>
        Export
      </a>
    </div>
  );
}

/** The same narrowing as the query of a file. */
function narrowing(narrow: Record<string, unknown>): string {
  const given = ["q", "vendor", "site", "status"].filter((name) => narrow[name]);
  return new URLSearchParams(given.map((name) => [name, String(narrow[name])])).toString();
}
