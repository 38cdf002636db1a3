/** What a packet draws on: prepaid units that it holds, and limits that it asks for. */

import type { Packet } from "../../api/packets";
import { Badge } from "../../components/badge";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayDay } from "../../format/dates";
import { count } from "../../format/numbers";

const TONES = { granted: "moss", partly: "ochre", declined: "wax", asked: "plain" } as const;

export function Drawn({ packet }: { packet: Packet }) {
  if (packet.units.length + packet.limits.length === 0) return null;
  return (
    <Sheet>
      <h2 className="border-b border-line px-4 py-2.5 font-semibold">
        {packet.units.length ? "Prepaid units" : "Limits"}
      </h2>
      <ul>
        {packet.units.map((one, place) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: entries only ever come behind others
          <li key={place} className="border-b border-line px-4 py-2 last:border-0">
            {count(one.units, "unit")} of lot <Mono>{one.lot}</Mono> {one.state}
            <Soft as="span">, lapse after {sayDay(one.lapses_on)}</Soft>
          </li>
        ))}
        {packet.limits.map((one) => (
          <li key={`${one.region} ${one.resource}`} className="border-b border-line px-4 py-2 last:border-0">
            <Row gap={3} lines align="baseline">
              <span>
                {one.region} <Mono>{one.resource}</Mono>
              </span>
              <span className="tabular-nums">
                <Soft as="span">{one.was ?? "?"} </Soft>
                <span aria-hidden>→</span> {one.wanted}
                {one.granted !== null && one.state !== "granted" && (
                  <Soft as="span"> · it is {one.granted.toLocaleString("en-GB")}</Soft>
                )}
              </span>
              <Badge tone={TONES[one.state as keyof typeof TONES] ?? "plain"}>
                {one.state === "partly" ? "granted in part" : one.state}
              </Badge>
            </Row>
            {one.reason && <Soft>{one.reason}</Soft>}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}
