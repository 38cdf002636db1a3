/** What narrows the list of packets, and how it is laid out. */

import { useProducts, useSites, useVendors } from "../../api/records";
import { ColumnMenu } from "../../components/column-menu";
import { Filter } from "../../components/filter";
import { Hidden } from "../../components/text";
import { ViewMenu } from "../../components/view-menu";
import { HEADINGS } from "./attention";
import { COLUMNS } from "./list-columns";
import { LINKED, type PacketList } from "./use-packet-list";

const LIVES = ["drafting", "sealed", "lodged", "answered", "settled", "refused", "withdrawn"];
const NEEDS = ["fault", "question", "change", "capacity", "return", "help", "improvement", "tie", "reading"];

export function PacketFilters({ list, me }: { list: PacketList; me: string }) {
  const vendors = useVendors();
  const sites = useSites();
  const { search, put, putAll, query, setQuery } = list;
  const products = useProducts(search.get("vendor") ?? "");
  const product = search.get("product") ?? "";
  const whose = search.get("unowned") ? "nobody" : (search.get("owner") ?? "");
  const turn = search.get("open") ? "open" : (search.get("turn") ?? "");
  return (
    <div className="my-3 flex flex-wrap items-center gap-2.5">
      <input
        className="field max-w-72"
        aria-label="Narrow by words or any number"
        placeholder="Words, or any number"
        value={query}
        onChange={(event) => setQuery(event.target.value)}
      />
      <Filter
        name="Turn"
        value={turn}
        onChange={(value) => putAll({ open: value === "open" ? "true" : "", turn: value === "open" ? "" : value })}
      >
        <option value="open">open</option>
        <option value="ours">ours</option>
        <option value="vendor">theirs</option>
        <option value="none">over</option>
      </Filter>
      <Filter name="Needs us" value={search.get("attention") ?? ""} onChange={(value) => put("attention", value)}>
        {Object.entries(HEADINGS).map(([reason, words]) => (
          <option key={reason} value={reason}>
            {words}
          </option>
        ))}
      </Filter>
      <Filter name="State" value={search.get("life") ?? ""} onChange={(value) => put("life", value)}>
        {LIVES.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </Filter>
      <Filter name="Vendor" value={search.get("vendor") ?? ""} onChange={(value) => put("vendor", value)}>
        {vendors.data?.map((vendor) => (
          <option key={vendor.key} value={vendor.key}>
            {vendor.name}
          </option>
        ))}
      </Filter>
      <Filter name="Site" value={search.get("site") ?? ""} onChange={(value) => put("site", value)}>
        {sites.data?.map((site) => (
          <option key={site.key} value={site.key}>
            {site.name}
          </option>
        ))}
      </Filter>
      <Filter name="About" value={product} onChange={(value) => put("product", value)}>
        {products.data?.map((one) => (
          <option key={one.id} value={one.id}>
            {one.name}
          </option>
        ))}
        {product && products.data && !products.data.some((one) => one.id === product) && (
          <option value={product}>{product}</option>
        )}
      </Filter>
      <Filter name="Need" value={search.get("need") ?? ""} onChange={(value) => put("need", value)}>
        {NEEDS.map((one) => (
          <option key={one}>{one}</option>
        ))}
      </Filter>
      <Filter
        name="Looked after by"
        value={whose}
        onChange={(value) =>
          putAll({ unowned: value === "nobody" ? "true" : "", owner: value === "nobody" ? "" : value })
        }
      >
        <option value={me}>me</option>
        <option value="nobody">nobody</option>
        {whose && whose !== me && whose !== "nobody" && <option value={whose}>{whose}</option>}
      </Filter>
      {LINKED.filter((name) => search.get(name)).map((name) => (
        <button
          key={name}
          type="button"
          className="rounded-full border border-line px-2.5 hover:border-soft"
          onClick={() => put(name, "")}
        >
          {name.replaceAll("_", " ")} {search.get(name)} <span aria-hidden>×</span>
          <Hidden>, remove</Hidden>
        </button>
      ))}
    </div>
  );
}

/** The views of the list, and its columns. */
export function PacketLayout({ list }: { list: PacketList }) {
  return (
    <span className="ml-auto flex items-baseline gap-2.5">
      {["xlsx", "csv"].map((form) => (
        <a key={form} className="link" href={`/api/v1/packets/export?form=${form}&${list.asFile}`} download>
          {form.toUpperCase()}
        </a>
      ))}
      <ViewMenu plural="packets" query={list.search.toString()} />
      <ColumnMenu columns={COLUMNS} shown={list.shown} onChange={(keys) => list.put("columns", keys.join(","))} />
    </span>
  );
}
