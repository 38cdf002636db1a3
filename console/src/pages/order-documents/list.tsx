/** Order documents: what came, and what waits for a word. */

import { useLocation } from "wouter";
import { type OrderDocument, useOrderDocuments, useSendOrderDocument } from "../../api/order-documents";
import { Badge } from "../../components/badge";
import { FileDrop } from "../../components/file-drop";
import { ListLink } from "../../components/list-link";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { count, saySize } from "../../format/numbers";
import { moveInRows } from "../../keyboard/rows";
import { IncomingTabs } from "../incoming-tabs";

export const STATE: Record<OrderDocument["state"], [tone: "wax" | "ochre" | "moss" | "plain", words: string]> = {
  reading: ["plain", "being read"],
  read: ["ochre", "to confirm"],
  entered: ["moss", "entered"],
  aside: ["plain", "set aside"],
  failed: ["wax", "cannot be read"],
};

export function OrderDocumentsPage() {
  const orders = useOrderDocuments();
  const send = useSendOrderDocument();
  const [, go] = useLocation();
  return (
    <main className="mx-auto w-full max-w-[980px] px-6 py-7 max-sm:px-3">
      <IncomingTabs />
      <PageTitle>Order documents</PageTitle>
      <p className="mb-4 max-w-[70ch] text-soft">
        Order confirmations as they came. Contract number, term, passcode and serials are read from them; nothing enters
        the register before you say so.
      </p>
      <FileDrop
        label="Read an order confirmation: PDF, or a mail saved as .eml"
        accept=".pdf,.eml,application/pdf,message/rfc822"
        busy={send.isPending}
        problem={send.error}
        onFile={(file) => send.mutate(file, { onSuccess: (order) => go(`/order-documents/${order.id}`) })}
      />
      <ProblemNote problem={orders.error} />
      {orders.isPending && !orders.error && <Waiting label="Loading order documents" />}
      <ul aria-label="Order documents" onKeyDown={moveInRows} className="mt-4">
        {orders.data?.map((order) => (
          <ListLink
            key={order.id}
            href={`/order-documents/${order.id}`}
            columns="grid-cols-[1.4fr_1fr_80px_150px] max-md:grid-cols-[1fr_auto]"
          >
            <span className="min-w-0">
              <span className="block truncate font-semibold">{order.name}</span>
              <span className="block truncate text-soft">
                {sayMoment(order.at)} by {order.by}, {saySize(order.size)}
              </span>
            </span>
            <span className="min-w-0 truncate max-md:hidden">
              {order.vendor ?? "vendor not found"}
              {order.contract && (
                <>
                  {" "}
                  · <Mono>{order.contract}</Mono>
                </>
              )}
            </span>
            <span className="text-soft max-md:hidden">{count(order.items, "serial")}</span>
            <span className="text-right">
              <Badge tone={STATE[order.state][0]}>{STATE[order.state][1]}</Badge>
            </span>
          </ListLink>
        ))}
      </ul>
      {orders.data?.length === 0 && <Nothing>No order documents yet.</Nothing>}
    </main>
  );
}
