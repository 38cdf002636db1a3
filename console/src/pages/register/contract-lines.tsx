/** What belongs to a contract. */

import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import { useContractPasscode } from "../../api/contracts";
import { Badge } from "../../components/badge";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { sayDay, sayMoment } from "../../format/dates";
import { Amend } from "./contract-acts";
import { iso } from "./contract-lanes";

export function Passcode({ handle, roles }: { handle: string; roles: string[] }) {
  const reveal = useContractPasscode(handle);
  if (reveal.data) return <Mono>{reveal.data}</Mono>;
  if (!roles.includes("keeper") && !roles.includes("preparer")) return "kept, encrypted";
  return (
    <>
      kept, encrypted ·{" "}
      <button
        type="button"
        className="link"
        onClick={() => reveal.mutate()}
        title="The custody log keeps that you asked"
      >
        show
      </button>
      <ProblemNote problem={reveal.error} />
    </>
  );
}

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
      <span className="block text-soft">
        entered {sayMoment(order.entered_at)} by {order.entered_by}
      </span>
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
      <div className="flex flex-wrap items-baseline gap-x-3">
        <Mono>{item.reference}</Mono>
        <span className="font-semibold">{item.level}</span>
        <span className="text-soft">{item.hours}</span>
        {over && <Badge tone="plain">{item.replaced_on ? "replaced" : "ended"}</Badge>}
        <span className="ml-auto text-soft">
          {sayDay(item.starts_on)} to {sayDay(item.ends_on)}
        </span>
        {keeper && !over && <Amend item={item} />}
      </div>
      <p className="text-soft">
        Takes {item.needs.join(", ")}. Covers <Mono className="break-words">{about}</Mono>
        {item.sites?.length ? ` at ${item.sites.join(", ")}` : ""}.
      </p>
    </div>
  );
}
