/** The kinds of record: what of each is shown in columns, and what may be changed for many at once. */

import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import type { RecordKind } from "../../api/imports";
import { Mono } from "../../components/mono";
import type { Column } from "../../components/table";
import { sayMoney } from "../../format/numbers";
import { AGREED } from "./agreed";
import { changed, day, list, mono, type Register, type Row, state } from "./columns";

export type { Register, Row } from "./columns";
export { state } from "./columns";

const COUNTED: Partial<Record<RecordKind, [by: Schemas["CountedBy"], handle: (row: Row) => string]>> = {
  vendor: ["vendor", (row) => row.key],
  site: ["site", (row) => row.key],
  product: ["product", (row) => row.id],
  asset: ["asset", (row) => row.id],
  contract: ["contract", (row) => row.id],
  login: ["login", (row) => row.id],
};

/** By what the open packets about a kind of record are counted; nothing, if none are about it. */
export const countedBy = (kind: RecordKind) => COUNTED[kind]?.[0];

/** How many packets about a record are open; it leads to their list. */
export function openPackets(kind: RecordKind, counts: Map<string, number> | undefined): Column<Row>[] {
  const counted = COUNTED[kind];
  if (!counted) return [];
  const [by, handle] = counted;
  const show = (row: Row) => {
    const open = counts?.get(handle(row));
    return (
      open && (
        <Link className="link" href={`/packets?open=true&${by}=${encodeURIComponent(handle(row))}`}>
          {open}
        </Link>
      )
    );
  };
  return [{ key: "packets", title: "Open packets", right: true, show }];
}

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
      { key: "software_version", title: "Software", sort: "software_version", show: (r) => mono(r.software_version) },
      { key: "host_names", title: "Host names", show: (r) => mono(list(r.host_names)) },
      { key: "addresses", title: "Addresses", show: (r) => mono(list(r.addresses)) },
      { key: "carrier", title: "Sits in", show: (r) => mono(r.carrier) },
      { key: "shipped_on", title: "Shipped", sort: "shipped_on", show: (r) => day(r.shipped_on) },
      { key: "installed_on", title: "Installed", sort: "installed_on", show: (r) => day(r.installed_on) },
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
      { key: "notice_on", title: "Notice by", sort: "notice_on", show: (r) => day(r.notice_on) },
      { key: "grace_days", title: "Grace", sort: "grace_days", right: true, show: (r) => r.grace_days || null },
      { key: "cost", title: "Cost", sort: "cost_minor", right: true, show: (r) => sayMoney(r.cost_minor, r.currency) },
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
      { key: "hours", title: "Hours", sort: "hours", show: (r) => r.hours },
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
      { key: "sort", title: "Sort", sort: "sort", show: (r) => r.sort },
      {
        key: "warranty_months",
        title: "Warranty, months",
        sort: "warranty_months",
        right: true,
        show: (r) => r.warranty_months,
      },
      { key: "warranty_needs", title: "Warranty takes", show: (r) => list(r.warranty_needs) },
      changed,
    ],
  },
  {
    kind: "site",
    plural: "sites",
    title: "Sites",
    usual: ["key", "name", "address", "postcode", "town", "country", "contact"],
    bulk: [["contact", "Contact (their key)"]],
    columns: [
      { key: "key", title: "Key", sort: "key", show: (r) => mono(r.key) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "address", title: "Address", show: (r) => r.address },
      { key: "postcode", title: "Postcode", show: (r) => r.postcode },
      { key: "town", title: "Town", show: (r) => r.town },
      { key: "state", title: "State or province", show: (r) => r.state },
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
    usual: ["key", "name", "customer_number", "notes", "updated_at"],
    bulk: [["notes", "Notes"]],
    columns: [
      { key: "key", title: "Key", sort: "key", show: (r) => mono(r.key) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "customer_number", title: "Our customer number", show: (r) => mono(r.customer_number) },
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
  ...AGREED,
];

function covers(row: Schemas["EntitlementShown"]) {
  const listed = (row.serials?.length ?? 0) + (row.listings?.length ?? 0);
  if (listed === 1) return mono(row.serials?.[0] ?? row.listings?.[0]?.serial);
  if (listed) return `${listed} serials`;
  return row.products?.length ? mono(list(row.products)) : "everything of the vendor's";
}

export const STATES = ["", "ordered", "in_use", "spare", "repair", "retired"];
