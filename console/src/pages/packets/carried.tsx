/** What a packet has brought about beside words: a vendor's access to our systems, and parts on their way. */

import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useOver, useReceiveUnit } from "../../api/following";
import type { Packet } from "../../api/packets";
import { Badge } from "../../components/badge";
import { TextButton } from "../../components/button";
import { FormDialog } from "../../components/form-dialog";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";
import { sayMoney } from "../../format/numbers";
import { ActionForm } from "./actions";

interface Props {
  packet: Packet;
  mayWrite: boolean;
  mayKeep: boolean;
}

export function Carried({ packet, mayWrite, mayKeep }: Props) {
  const over = useOver();
  const [swapping, setSwapping] = useState(false);
  const [unit, setUnit] = useState<string>();
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
            {mayKeep && !one.arrived_on && one.way === "to_us" && packet.asset && !packet.asset.retired && (
              <TextButton onClick={() => setUnit(one.id)}>It replaces {packet.asset.serial}</TextButton>
            )}
            {mayKeep && one.arrived_on && one.way === "to_us" && packet.asset && !packet.asset.retired && (
              <TextButton onClick={() => setSwapping(true)}>
                It replaces {packet.asset.serial}: swap the serial
              </TextButton>
            )}
          </li>
        ))}
      </ul>
      <ProblemNote problem={over.error} />
      {unit && <UnitForm packet={packet} shipment={unit} onClose={() => setUnit(undefined)} />}
      {swapping && <ActionForm packet={packet} action="swap" onClose={() => setSwapping(false)} />}
    </Sheet>
  );
}

/** The label of a unit is scanned or typed; what is not the expected unit changes nothing. */
function UnitForm({ packet, shipment, onClose }: { packet: Packet; shipment: string; onClose: () => void }) {
  const receive = useReceiveUnit(shipment);
  const told = packet.told_of_shipment.serial;
  return (
    <FormDialog
      title={`A replacement for ${packet.asset?.serial} has arrived`}
      fields={[{ name: "label", title: "Code on its label, or its serial", kind: "mono", needed: true }]}
      values={{}}
      act="Check and swap it"
      busy={receive.isPending}
      problem={receive.error}
      onSubmit={(values) => receive.mutate(String(values.label ?? ""), { onSuccess: onClose })}
      onClose={onClose}
    >
      <Soft>
        {told ? `The vendor has sent ${told}.` : "The vendor has named no serial."} The cover of {packet.asset?.serial}{" "}
        moves to the new unit.
      </Soft>
    </FormDialog>
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
        {!shipment.arrived_on &&
          shipment.late_cost_minor !== null &&
          `, then ${sayMoney(shipment.late_cost_minor, shipment.currency)}`}
      </Soft>
      {shipment.tracking && <Mono>{shipment.tracking}</Mono>}
      {shipment.late && <Badge tone="wax">late</Badge>}
    </>
  );
}
