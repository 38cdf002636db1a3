/** What belongs to a contract. */

import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import { Badge } from "../../components/badge";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";
import { Amend } from "./contract-acts";
import { iso } from "./contract-lanes";

export function OrderDocumentLine({ order, keeper }: { order: Schemas["OrderDocumentBrief"]; keeper: boolean }) {
  return (
    <li className="border-b border-line py-1.5">
      {keeper ? (
        <Link className="link" href={`/order-documents/${order.id}`}>
          {order.name}
        </Link>
      ) : (
        order.name
      )}
      <Soft as="span" block>
        entered {sayMoment(order.entered_at)} by {order.entered_by}
      </Soft>
    </li>
  );
}

export function LoginLine({ login }: { login: Schemas["LoginShown"] }) {
  return (
    <span className="block">
      <span className="break-all">{login.name}</span>
      {login.mailbox_read === false && <span className="text-ochre"> · mailbox not read</span>}
    </span>
  );
}

export function EntitlementLine({ item, keeper }: { item: Schemas["EntitlementShown"]; keeper: boolean }) {
  const listed = [...(item.serials ?? []), ...(item.listings ?? []).map((one) => one.serial)];
  const about = listed.length ? listed.join(", ") : (item.products ?? []).join(", ") || "everything of this vendor's";
  const over = item.replaced_on ? item.replaced_on <= iso(new Date()) : item.ends_on < iso(new Date());
  return (
    <div className="border-b border-line py-2">
      <Row gap={3} lines align="baseline">
        <Mono>{item.reference}</Mono>
        <span className="font-semibold">{item.level}</span>
        <Soft as="span">{item.hours}</Soft>
        {over && <Badge tone="plain">{item.replaced_on ? "replaced" : "ended"}</Badge>}
        <span className="ml-auto text-soft">
          {sayDay(item.starts_on)} to {sayDay(item.ends_on)}
        </span>
        {keeper && !over && <Amend item={item} />}
      </Row>
      <Soft>
        Takes {item.needs.join(", ")}. Covers <Mono className="break-words">{about}</Mono>
        {item.sites?.length ? ` at ${item.sites.join(", ")}` : ""}.
      </Soft>
    </div>
  );
}
