/** The entry that a person makes of an order document. */
import type { Entry, OrderDocument } from "../../api/order-documents";
import { orText, toMajor, toMinor } from "../../format/numbers";
import type { Draft, Item } from "./fields";

export function first(order: OrderDocument): Draft {
  const draft: Draft = {};
  for (const { field, value } of order.proposals) draft[field] ??= value;
  const [minor, currency] = (draft.cost ?? "").split(" ");
  draft.cost = minor && currency ? toMajor(Number(minor), currency) : "";
  draft.currency = currency ?? "";
  return draft;
}

export const itemsOf = (order: OrderDocument): Item[] =>
  order.bought.map((item) => ({
    serial: item.serial.value,
    product: item.product?.value ?? "",
    name: item.name?.value ?? "",
    site: item.site?.value ?? "",
    take: true,
  }));

/** The entry as it stands, or null while what it needs is missing. */
export function entryOf(draft: Draft, items: Item[], keepPasscode: boolean): Entry | null {
  const { vendor, contract, starts_on, ends_on } = draft;
  if (!vendor || !contract || !starts_on || !ends_on) return null;
  const minor = draft.cost ? toMinor(draft.cost, draft.currency ?? "") : null;
  return {
    vendor,
    contract,
    starts_on,
    ends_on,
    title: draft.title ?? "",
    notice_on: draft.notice_on || null,
    cost_minor: minor === null ? null : (orText(minor, draft.cost ?? "") as number),
    currency: minor !== null ? draft.currency || null : null,
    reference: draft.reference || null,
    level: draft.level || null,
    hours: draft.hours ?? "",
    keep_passcode: keepPasscode,
    everything: draft.everything === "yes",
    items: items
      .filter((item) => item.take)
      .map(({ serial, product, name, site }) => ({ serial, product: product || null, name, site: site || null })),
  };
}
