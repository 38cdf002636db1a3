/** The register: one page for each kind of record, its state in the address, so that a view can be kept and shared. */
import { useDeferredValue, useEffect, useState } from "react";
import { Link, useLocation, useSearchParams } from "wouter";
import type { Schemas } from "../api/client";
import { type RecordKind, useBulk, useRecords, useVendors } from "../api/register";
import { Button, join, Mono, Nothing, sayDay, sayMoney, TroubleNote, Waiting } from "../parts/basics";
import { Dialog } from "../parts/dialog";
import { useKeys } from "../parts/keys";
import { ChosenBar, type Column, ColumnMenu, Table } from "../parts/table";

// biome-ignore lint/suspicious/noExplicitAny: each kind of record has its own shape; its columns know it
type Row = any;

const mono = (value: string | null | undefined) => (value ? <Mono>{value}</Mono> : null);
const list = (values: string[] | undefined) => (values ?? []).join(", ");
const day = (iso: string | null | undefined) => (iso ? sayDay(iso) : null);
const state = (value: string) => value.replace("_", " ");

interface Register {
  kind: RecordKind;
  plural: string;
  title: string;
  usual: string[];
  href?: (row: Row) => string;
  columns: Column<Row>[];
  /** Fields that may be changed for many at once. */
  bulk: [field: string, name: string][];
}

const changed: Column<Row> = {
  key: "updated_at",
  title: "Changed",
  sort: "updated_at",
  show: (r) => day(r.updated_at),
};

export const REGISTER: Register[] = [
  {
    kind: "asset",
    plural: "assets",
    title: "Assets",
    href: (row: Schemas["AssetShown"]) => `/assets/${row.id}`,
    usual: ["serial", "name", "product_name", "site_name", "status", "software_version"],
    bulk: [
      ["site", "Site (its key)"],
      ["status", "State"],
      ["software_version", "Software"],
      ["notes", "Notes"],
    ],
    columns: [
      { key: "serial", title: "Serial", sort: "serial", show: (r) => mono(r.serial) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "product_name", title: "Model", show: (r) => r.product_name },
      { key: "product", title: "Part number", show: (r) => mono(r.product) },
      { key: "vendor_name", title: "Vendor", show: (r) => r.vendor_name },
      { key: "site_name", title: "Site", show: (r) => r.site_name },
      { key: "status", title: "State", sort: "status", show: (r) => state(r.status) },
      { key: "software_version", title: "Software", show: (r) => mono(r.software_version) },
      { key: "host_names", title: "Host names", show: (r) => mono(list(r.host_names)) },
      { key: "addresses", title: "Addresses", show: (r) => mono(list(r.addresses)) },
      { key: "carrier", title: "Sits in", show: (r) => mono(r.carrier) },
      { key: "installed_on", title: "Installed", show: (r) => day(r.installed_on) },
      changed,
    ],
  },
  {
    kind: "contract",
    plural: "contracts",
    title: "Contracts",
    href: (row: Schemas["ContractShown"]) => `/contracts/${row.id}`,
    usual: ["number", "title", "vendor", "starts_on", "ends_on", "notice_on", "cost"],
    bulk: [
      ["title", "What"],
      ["grace_days", "Days of grace"],
      ["notice_on", "Notice by (2027-03-31)"],
    ],
    columns: [
      { key: "number", title: "Number", sort: "number", show: (r) => mono(r.number) },
      { key: "title", title: "What", sort: "title", show: (r) => r.title },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "starts_on", title: "Starts", sort: "starts_on", show: (r) => day(r.starts_on) },
      { key: "ends_on", title: "Ends", sort: "ends_on", show: (r) => day(r.ends_on) },
      { key: "notice_on", title: "Notice by", show: (r) => day(r.notice_on) },
      { key: "grace_days", title: "Grace", right: true, show: (r) => r.grace_days || null },
      { key: "cost", title: "Cost", right: true, show: (r) => sayMoney(r.cost_minor, r.currency) },
      changed,
    ],
  },
  {
    kind: "entitlement",
    plural: "entitlements",
    title: "Entitlements",
    usual: ["reference", "contract", "level", "needs", "covers", "starts_on", "ends_on"],
    bulk: [
      ["level", "Level"],
      ["hours", "Hours"],
    ],
    columns: [
      { key: "reference", title: "Reference", sort: "reference", show: (r) => mono(r.reference) },
      {
        key: "contract",
        title: "Contract",
        show: (r) => (
          <Link className="link" href={`/contracts/${encodeURIComponent(r.contract)}`}>
            <Mono>{r.contract}</Mono>
          </Link>
        ),
      },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "level", title: "Level", sort: "level", show: (r) => r.level },
      { key: "hours", title: "Hours", show: (r) => r.hours },
      { key: "needs", title: "Takes", show: (r) => list(r.needs) },
      { key: "covers", title: "Covers", show: (r) => covers(r) },
      { key: "starts_on", title: "Starts", sort: "starts_on", show: (r) => day(r.starts_on) },
      { key: "ends_on", title: "Ends", sort: "ends_on", show: (r) => day(r.ends_on) },
      changed,
    ],
  },
  {
    kind: "product",
    plural: "products",
    title: "Products",
    usual: ["part_number", "name", "vendor", "sort", "warranty_months"],
    bulk: [["warranty_months", "Warranty in months"]],
    columns: [
      { key: "part_number", title: "Part number", sort: "part_number", show: (r) => mono(r.part_number) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "sort", title: "Sort", show: (r) => r.sort },
      { key: "warranty_months", title: "Warranty, months", right: true, show: (r) => r.warranty_months },
      { key: "warranty_needs", title: "Warranty takes", show: (r) => list(r.warranty_needs) },
      changed,
    ],
  },
  {
    kind: "site",
    plural: "sites",
    title: "Sites",
    usual: ["key", "name", "address", "postcode", "country", "contact"],
    bulk: [["contact", "Contact (their key)"]],
    columns: [
      { key: "key", title: "Key", sort: "key", show: (r) => mono(r.key) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "address", title: "Address", show: (r) => r.address },
      { key: "postcode", title: "Postcode", show: (r) => r.postcode },
      { key: "country", title: "Country", show: (r) => r.country },
      { key: "time_zone", title: "Time zone", show: (r) => r.time_zone },
      { key: "contact", title: "Contact", show: (r) => r.contact },
      changed,
    ],
  },
  {
    kind: "person",
    plural: "people",
    title: "People",
    usual: ["key", "name", "mail", "phone", "hours", "on_call"],
    bulk: [["hours", "Hours"]],
    columns: [
      { key: "key", title: "Key", sort: "key", show: (r) => mono(r.key) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "mail", title: "Mail", show: (r) => r.mail },
      { key: "phone", title: "Telephone", show: (r) => mono(r.phone) },
      { key: "hours", title: "Hours", show: (r) => r.hours },
      { key: "on_call", title: "On call", show: (r) => (r.on_call ? "yes" : null) },
      changed,
    ],
  },
  {
    kind: "vendor",
    plural: "vendors",
    title: "Vendors",
    usual: ["key", "name", "notes", "updated_at"],
    bulk: [["notes", "Notes"]],
    columns: [
      { key: "key", title: "Key", sort: "key", show: (r) => mono(r.key) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "notes", title: "Notes", show: (r) => r.notes },
      changed,
    ],
  },
  {
    kind: "login",
    plural: "logins",
    title: "Logins",
    usual: ["name", "vendor", "person", "contracts", "needs", "mailbox_read"],
    bulk: [],
    columns: [
      { key: "name", title: "Login", sort: "name", show: (r) => mono(r.name) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "person", title: "Person", show: (r) => r.person },
      { key: "contracts", title: "Tied contracts", show: (r) => mono(list(r.contracts)) },
      { key: "needs", title: "May ask for", show: (r) => list(r.needs) || "everything" },
      { key: "for_others", title: "For others", show: (r) => (r.for_others ? "yes" : "no") },
      { key: "mailbox_read", title: "Mailbox read", show: (r) => (r.mailbox_read ? "yes" : "no") },
      changed,
    ],
  },
];

function covers(row: Schemas["EntitlementShown"]) {
  const listed = (row.serials?.length ?? 0) + (row.listings?.length ?? 0);
  if (listed === 1) return mono(row.serials?.[0] ?? row.listings?.[0]?.serial);
  if (listed) return `${listed} serials`;
  return row.products?.length ? mono(list(row.products)) : "everything of the vendor's";
}

const STATES = ["", "ordered", "in_use", "spare", "repair", "retired"];

export function RegisterPage({ plural, roles }: { plural: string; roles: string[] }) {
  const register = REGISTER.find((one) => one.plural === plural);
  return register ? <Records key={plural} register={register} keeper={roles.includes("keeper")} /> : null;
}

function Records({ register, keeper }: { register: Register; keeper: boolean }) {
  const [search, setSearch] = useSearchParams();
  const [query, setQuery] = useState(search.get("q") ?? "");
  const [chosen, setChosen] = useState<Set<string>>(new Set());
  const [editing, setEditing] = useState(false);
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
  const mayEdit = keeper && register.bulk.length > 0;
  useKeys({
    e: mayEdit && chosen.size > 0 && (() => setEditing(true)),
    Escape: chosen.size > 0 && (() => setChosen(new Set())),
  });
  const isAsset = register.kind === "asset";
  const hasVendor = !["site", "person", "vendor"].includes(register.kind);
  return (
    <main className="mx-auto w-full max-w-[1280px] px-6 py-7 max-sm:px-3">
      <nav aria-label="The register" className="mb-3 flex flex-wrap gap-x-4 gap-y-1">
        {REGISTER.map((one) => (
          <Link
            key={one.plural}
            href={`/${one.plural}`}
            aria-current={one === register ? "page" : undefined}
            className={join("hover:text-ink", one === register ? "text-ink underline underline-offset-4" : "text-soft")}
          >
            {one.title}
          </Link>
        ))}
      </nav>
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
        <ColumnMenu columns={register.columns} shown={shown} onChange={(keys) => put("columns", keys.join(","))} />
        <a className="link" href={`/api/v1/export/${register.plural}?form=xlsx`} download>
          Export
        </a>
      </div>
      <TroubleNote trouble={records.error} />
      {records.isPending && !records.error && <Waiting label={`${register.title} are being read`} lines={10} />}
      {records.data && rows.length > 0 && (
        <Table
          label={register.title}
          columns={columns}
          rows={rows}
          sort={narrow.sort}
          onSort={(sort) => put("sort", sort)}
          href={register.href}
          chosen={mayEdit ? chosen : undefined}
          onChoose={mayEdit ? setChosen : undefined}
        />
      )}
      {records.data && rows.length === 0 && (
        <Nothing>
          {late ? "Nothing is like this, not even mistyped." : "Nothing is kept here yet. Import a list, or add one."}
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
          onEdit={() => setEditing(true)}
          onClear={() => setChosen(new Set())}
        />
      )}
      {editing && <BulkDialog register={register} ids={[...chosen]} onClose={() => setEditing(false)} />}
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

function BulkDialog({ register, ids, onClose }: { register: Register; ids: string[]; onClose: () => void }) {
  const [field, setField] = useState(register.bulk[0]?.[0] ?? "");
  const [value, setValue] = useState("");
  const [, go] = useLocation();
  const bulk = useBulk();
  const whole = ["grace_days", "warranty_months"].includes(field);
  const submit = () =>
    bulk.mutate(
      { kind: register.kind, ids, changes: { [field]: whole ? Number(value) : value || null } },
      { onSuccess: (made) => go(`/imports/${made.id}`) },
    );
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title={`Change ${ids.length} ${register.plural}`}
      className="p-5"
    >
      <form
        onSubmit={(event) => {
          event.preventDefault();
          submit();
        }}
      >
        <div className="grid gap-3 sm:grid-cols-2">
          <label>
            <span className="mb-1 block text-soft">Field</span>
            <select className="field" value={field} onChange={(event) => setField(event.target.value)}>
              {register.bulk.map(([name, title]) => (
                <option key={name} value={name}>
                  {title}
                </option>
              ))}
            </select>
          </label>
          <div>
            <label htmlFor="becomes" className="mb-1 block text-soft">
              Becomes
            </label>
            {field === "status" ? (
              <select id="becomes" className="field" value={value} onChange={(event) => setValue(event.target.value)}>
                {STATES.map((one) => (
                  <option key={one} value={one}>
                    {state(one)}
                  </option>
                ))}
              </select>
            ) : (
              <input id="becomes" className="field" value={value} onChange={(event) => setValue(event.target.value)} />
            )}
          </div>
        </div>
        <TroubleNote trouble={bulk.error} />
        <div className="mt-4 flex items-center gap-3">
          <Button look="ink" type="submit" disabled={bulk.isPending}>
            Preview
          </Button>
          <span className="text-soft">Nothing is changed before you have seen it.</span>
        </div>
      </form>
    </Dialog>
  );
}
