/** What is agreed besides cover: limits, levels of service, prepaid units, prices, licences and releases. */

import { useLicenceKey } from "../../api/agreed";
import { TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { sayMoney } from "../../format/numbers";
import { changed, day, list, mono, type Register, state } from "./columns";

/** Minutes as people say them: 30 min, 4 h, 2 d. */
export function sayMinutes(minutes: number | null | undefined) {
  if (!minutes) return null;
  if (minutes % 1440 === 0) return `${minutes / 1440} d`;
  return minutes % 60 === 0 ? `${minutes / 60} h` : `${minutes} min`;
}

/** The key of a licence, shown to whoever asks and may; the custody log keeps it. */
function LicenceKey({ handle }: { handle: string }) {
  const reveal = useLicenceKey();
  if (reveal.data) return <Mono>{reveal.data}</Mono>;
  if (reveal.error) return <>{reveal.error.detail}</>;
  return (
    <>
      kept ·{" "}
      <TextButton onClick={() => reveal.mutate(handle)} title="The custody log keeps that you asked">
        show
      </TextButton>
    </>
  );
}

export const AGREED: Register[] = [
  {
    kind: "limit",
    plural: "limits",
    title: "Limits",
    usual: ["resource", "region", "vendor", "granted", "used", "free", "unit", "as_of_on"],
    bulk: [],
    columns: [
      { key: "resource", title: "Resource", sort: "resource", show: (r) => mono(r.resource) },
      { key: "region", title: "Region", sort: "region", show: (r) => r.region },
      { key: "provider", title: "Account", sort: "provider", show: (r) => mono(r.provider) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "granted", title: "Granted", sort: "granted", right: true, show: (r) => r.granted },
      { key: "used", title: "Used", sort: "used", right: true, show: (r) => r.used },
      { key: "free", title: "Free", right: true, show: (r) => Math.max(0, r.granted - r.used) },
      { key: "unit", title: "Unit", show: (r) => r.unit },
      { key: "as_of_on", title: "Read on", sort: "as_of_on", show: (r) => day(r.as_of_on) },
      changed,
    ],
  },
  {
    kind: "level",
    plural: "levels",
    title: "Levels",
    usual: ["name", "contract", "needs", "hours", "answer_minutes", "repair_minutes", "cost"],
    bulk: [["hours", "Hours"]],
    columns: [
      { key: "name", title: "Level", sort: "name", show: (r) => r.name },
      { key: "contract", title: "Contract", show: (r) => mono(r.contract) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "rank", title: "Rank", sort: "rank", right: true, show: (r) => r.rank },
      { key: "needs", title: "Takes", show: (r) => list(r.needs) },
      { key: "hours", title: "Hours", show: (r) => r.hours },
      {
        key: "answer_minutes",
        title: "First answer within",
        sort: "answer_minutes",
        right: true,
        show: (r) => sayMinutes(r.answer_minutes),
      },
      {
        key: "repair_minutes",
        title: "Repair within",
        sort: "repair_minutes",
        right: true,
        show: (r) => sayMinutes(r.repair_minutes),
      },
      {
        key: "cost",
        title: "Cost a month",
        sort: "cost_minor",
        right: true,
        show: (r) => sayMoney(r.cost_minor, r.currency),
      },
      changed,
    ],
  },
  {
    kind: "lot",
    plural: "lots",
    title: "Units",
    usual: ["reference", "contract", "units", "used", "held", "left", "bought_on", "lapses_on"],
    bulk: [],
    columns: [
      { key: "reference", title: "Lot", sort: "reference", show: (r) => mono(r.reference) },
      { key: "contract", title: "Contract", show: (r) => mono(r.contract) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "units", title: "Bought", sort: "units", right: true, show: (r) => r.units },
      { key: "used", title: "Used", right: true, show: (r) => r.used },
      { key: "held", title: "Held", right: true, show: (r) => r.held },
      { key: "left", title: "Left", right: true, show: (r) => r.left },
      { key: "bought_on", title: "Bought on", sort: "bought_on", show: (r) => day(r.bought_on) },
      { key: "lapses_on", title: "Lapses after", sort: "lapses_on", show: (r) => day(r.lapses_on) },
      changed,
    ],
  },
  {
    kind: "price",
    plural: "prices",
    title: "Prices",
    usual: ["item", "name", "vendor", "units", "during", "notice_days", "most"],
    bulk: [],
    columns: [
      { key: "item", title: "Item", sort: "item", show: (r) => mono(r.item) },
      { key: "name", title: "Name", sort: "name", show: (r) => r.name },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "units", title: "Units each", sort: "units", right: true, show: (r) => r.units },
      { key: "countries", title: "Countries", show: (r) => list(r.countries) || "all" },
      { key: "during", title: "At what times", show: (r) => (r.during === "any" ? null : state(r.during)) },
      { key: "hours", title: "Hours", show: (r) => r.hours },
      {
        key: "notice_days",
        title: "Days of notice",
        sort: "notice_days",
        right: true,
        show: (r) => r.notice_days || null,
      },
      { key: "most", title: "At most", right: true, show: (r) => r.most },
      changed,
    ],
  },
  {
    kind: "licence",
    plural: "licences",
    title: "Licences",
    usual: ["name", "asset", "vendor", "sort", "has_key", "starts_on", "ends_on"],
    bulk: [["ends_on", "Ends (2027-03-31)"]],
    columns: [
      { key: "name", title: "Licence", sort: "name", show: (r) => r.name },
      { key: "asset", title: "Asset", show: (r) => mono(r.asset) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "sort", title: "Sort", sort: "sort", show: (r) => state(r.sort) },
      { key: "activation_code", title: "Activation code", show: (r) => mono(r.activation_code) },
      { key: "has_key", title: "Key", show: (r) => (r.has_key ? <LicenceKey handle={r.id} /> : "none") },
      { key: "starts_on", title: "Starts", sort: "starts_on", show: (r) => day(r.starts_on) },
      { key: "ends_on", title: "Ends", sort: "ends_on", show: (r) => day(r.ends_on) },
      changed,
    ],
  },
  {
    kind: "release",
    plural: "releases",
    title: "Versions",
    usual: ["number", "product_name", "status", "released_on", "mends"],
    bulk: [["status", "State"]],
    columns: [
      { key: "number", title: "Version", sort: "number", show: (r) => mono(r.number) },
      { key: "product_name", title: "Product", show: (r) => r.product_name },
      { key: "product", title: "Part number", show: (r) => mono(r.product) },
      { key: "vendor", title: "Vendor", show: (r) => r.vendor },
      { key: "status", title: "State", sort: "status", show: (r) => state(r.status) },
      { key: "released_on", title: "Released", sort: "released_on", show: (r) => day(r.released_on) },
      { key: "mends", title: "Mends", show: (r) => mono(list(r.mends)) },
      { key: "file_name", title: "File", show: (r) => mono(r.file_name) },
      changed,
    ],
  },
];
