/** One order document: the page as it came beside what it proposes; nothing enters without a yes. */

import { useState } from "react";
import { type OrderDocument, useOrderDocument } from "../../api/order-documents";
import { Badge } from "../../components/badge";
import { PageTitle } from "../../components/page-title";
import { ProblemPage } from "../../components/problem-page";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { IncomingTabs } from "../incoming-tabs";
import { Entered } from "./effects";
import { EntryForm } from "./entry-form";
import type { Spot } from "./fields";
import { STATE } from "./list";
import { Pages } from "./sheets";

export function OrderDocumentPage({ ident }: { ident: string }) {
  const order = useOrderDocument(ident);
  if (order.error) return <ProblemPage title="Order document" problem={order.error} />;
  if (!order.data || order.data.state === "reading") {
    return (
      <main className="mx-auto w-full max-w-[1280px] px-6 py-7">
        <Waiting label="Loading the order document" lines={8} />
      </main>
    );
  }
  return <Known key={`${order.data.id} ${order.data.state}`} order={order.data} />;
}

function Known({ order }: { order: OrderDocument }) {
  const [shown, setShown] = useState<Spot | null>(null);
  return (
    <main className="mx-auto grid w-full max-w-[1280px] grid-cols-[minmax(0,1.05fr)_minmax(0,1fr)] content-start gap-x-8 px-6 py-6 max-lg:grid-cols-1 max-sm:px-3">
      <div className="col-span-full">
        <IncomingTabs />
      </div>
      <div className="col-span-full mb-4 flex flex-wrap items-baseline gap-x-4">
        <PageTitle className="break-all">{order.name}</PageTitle>
        <Badge tone={STATE[order.state][0]}>{STATE[order.state][1]}</Badge>
        <Soft as="span">
          {order.entered_by
            ? `by ${order.entered_by}, ${sayMoment(order.entered_at)}`
            : `came ${sayMoment(order.at)}, sent by ${order.by}`}
        </Soft>
      </div>
      <Pages order={order} shown={shown} onShow={setShown} />
      <div className="min-w-0 max-lg:mt-6">
        {order.status_text && (
          <p className="mb-3 rounded-md border-l-3 border-ochre bg-ochre-wash px-3 py-2">
            {order.status_text} You can enter its content by hand.
          </p>
        )}
        {order.state === "entered" ? <Entered order={order} /> : <EntryForm order={order} onShow={setShown} />}
      </div>
    </main>
  );
}
