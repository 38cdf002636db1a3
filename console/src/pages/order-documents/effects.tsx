/** What entering does, or did, to each record. */

import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import type { OrderDocument } from "../../api/order-documents";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";

const FIELD_NAMES: Record<string, string> = {
  starts_on: "starts",
  ends_on: "ends",
  notice_on: "notice by",
  cost_minor: "cost, minor units",
  co_term: "ends with its contract",
};

export function Effects({ items }: { items: Schemas["EntryEffect"][] }) {
  return (
    <ul aria-label="Effect">
      {items.map((item) => (
        <li key={`${item.kind} ${item.called}`} className="border-b border-line py-1.5">
          <Row as="span" gap={2} align="baseline">
            <span className={join("w-20 shrink-0", item.outcome === "unchanged" ? "text-soft" : "font-semibold")}>
              {item.outcome}
            </span>
            <Soft as="span">{item.kind}</Soft> <Mono>{item.called}</Mono>
          </Row>
          {item.outcome !== "new" &&
            item.changes.map((change) => (
              <span key={change.field} className="block pl-22 text-soft">
                {FIELD_NAMES[change.field] ?? change.field.replaceAll("_", " ")}: {say(change.old)} →{" "}
                <span className="text-ink">{say(change.new)}</span>
              </span>
            ))}
        </li>
      ))}
    </ul>
  );
}

function say(value: unknown): string {
  if (Array.isArray(value)) return value.join(", ") || "none";
  if (value === null || value === "" || value === undefined) return "none";
  return String(value);
}

export function Entered({ order }: { order: OrderDocument }) {
  return (
    <>
      <h2 className="mb-2 text-[18px] leading-6">Entered records</h2>
      <ul aria-label="Entered records">
        {order.entered.map((item) => {
          const page = { asset: "assets", contract: "contracts" }[item.kind];
          return (
            <li key={item.record_id} className="flex items-baseline gap-2 border-b border-line py-1.5">
              <span className="w-20 text-soft">{item.outcome}</span>
              <Soft as="span">{item.kind}</Soft>
              {page ? (
                <Link className="link" href={`/${page}/${item.record_id}`}>
                  <Mono>{item.called}</Mono>
                </Link>
              ) : (
                <Mono>{item.called}</Mono>
              )}
            </li>
          );
        })}
      </ul>
    </>
  );
}
