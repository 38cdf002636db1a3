/** What a packet has brought about beside words: a vendor's access to our systems, and parts on their way. */

import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useOver } from "../../api/following";
import type { Packet } from "../../api/packets";
import { Badge } from "../../components/badge";
import { TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";
import { ActionForm } from "./actions";

export function Carried({ packet, mayWrite }: { packet: Packet; mayWrite: boolean }) {
  const over = useOver();
  const [swapping, setSwapping] = useState(false);
  if (packet.access.length + packet.shipments.length === 0) return null;
  return (
    <Sheet title="Access and parts" className="pb-3">
      <ul className="px-4 pt-1">
        {packet.access.map((one) => (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <AccessWords access={one} />
            {mayWrite && !one.ended_at && (
              <TextButton disabled={over.isPending} onClick={() => over.mutate({ access: one.id })}>
                It has ended
              </TextButton>
            )}
          </li>
        ))}
        {packet.shipments.map((one) => (
          <li key={one.id} className="flex flex-wrap items-baseline gap-x-3 py-1">
            <ShipmentWords shipment={one} />
            {mayWrite && !one.arrived_on && (
              <TextButton disabled={over.isPending} onClick={() => over.mutate({ shipment: one.id })}>
                It has arrived
              </TextButton>
            )}
            {mayWrite && one.arrived_on && one.way === "to_us" && packet.asset && !packet.asset.retired && (
              <TextButton onClick={() => setSwapping(true)}>
                It replaces {packet.asset.serial}: swap the serial
              </TextButton>
            )}
          </li>
        ))}
      </ul>
      <ProblemNote problem={over.error} />
      {swapping && <ActionForm packet={packet} action="swap" onClose={() => setSwapping(false)} />}
    </Sheet>
  );
}

export function AccessWords({ access }: { access: Schemas["AccessShown"] }) {
  return (
    <>
      <span>
        {access.who}, {access.what}
      </span>
      <Soft as="span">
        {access.ended_at
          ? `ended ${sayMoment(access.ended_at)} by ${access.ended_by}`
          : `until ${sayMoment(access.until_at)}, granted by ${access.granted_by}`}
        {access.asked && `; ${access.asked}`}
      </Soft>
      {access.overdue && <Badge tone="wax">should have ended</Badge>}
    </>
  );
}

export function ShipmentWords({ shipment }: { shipment: Schemas["ShipmentShown"] }) {
  return (
    <>
      <span>{shipment.what}</span>
      <Soft as="span">
        {shipment.way === "to_us" ? "to us" : "to the vendor"}
        {shipment.carrier && `, ${shipment.carrier}`}
        {shipment.arrived_on
          ? `, arrived ${sayDay(shipment.arrived_on)}`
          : shipment.due_on && `, until ${sayDay(shipment.due_on)}`}
      </Soft>
      {shipment.tracking && <Mono>{shipment.tracking}</Mono>}
      {shipment.late && <Badge tone="wax">late</Badge>}
    </>
  );
}
