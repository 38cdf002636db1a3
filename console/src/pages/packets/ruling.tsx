/** The ruling in full. */

import { Link, useLocation } from "wouter";
import { useAskForCure } from "../../api/following";
import type { Packet } from "../../api/packets";
import { TextButton } from "../../components/button";
import { Column } from "../../components/layout";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { RouteBadge } from "../../components/route-badge";
import { Sheet } from "../../components/sheet";
import { Heading, Soft } from "../../components/text";
import { sayDay } from "../../format/dates";

/** Asks the vendor for a cure in a packet of its own, or leads to the one that does. */
function Asking({ packet, code }: { packet: Packet; code: string }) {
  const ask = useAskForCure(packet.number);
  const [, go] = useLocation();
  const cure = packet.cures.find((one) => one.code === code);
  if (!cure) return null;
  if (cure.packet) {
    return (
      <Link className="link" href={`/packets/${cure.packet}`}>
        {cure.packet} asks for it, {cure.life}
      </Link>
    );
  }
  return (
    <>
      <TextButton
        disabled={ask.isPending}
        onClick={() => ask.mutate(code, { onSuccess: (made) => go(`/packets/${made.number}`) })}
      >
        Ask in a packet
      </TextButton>
      <ProblemNote problem={ask.error} />
    </>
  );
}

export function RulingPart({ packet }: { packet: Packet }) {
  const ruling = packet.ruling;
  if (!ruling) return <Nothing>Name the asset first; the ruling follows from the register.</Nothing>;
  const facts = [
    ["Contract", ruling.contract],
    ["Entitlement", ruling.entitlement],
    ["Level", ruling.level],
    ["Hours", ruling.hours],
    ["To", ruling.ends_on && sayDay(ruling.ends_on)],
  ].filter(([, value]) => value);
  return (
    <Column gap={4}>
      <Sheet className="p-4">
        <div className="mb-2 flex items-center gap-3">
          <Heading level={2} size="small">
            Ruling for a {ruling.need}
          </Heading>
          <RouteBadge ruling={ruling} />
          <Soft as="span">on {sayDay(ruling.day)}</Soft>
        </div>
        {facts.length > 0 && (
          <dl className="mb-3 grid grid-cols-[100px_1fr] gap-y-1">
            {facts.map(([name, value]) => (
              <div key={name} className="contents">
                <dt className="text-soft">{name}</dt>
                <dd>{value}</dd>
              </div>
            ))}
          </dl>
        )}
        <h3 className="mb-1 text-[14px]">Because</h3>
        <ol className="list-decimal pl-5">
          {ruling.reasons.map((reason) => (
            <li key={reason}>{reason}</li>
          ))}
        </ol>
        {ruling.cures.length > 0 && (
          <>
            <h3 className="mt-3 mb-1 text-[14px]">What would cure it</h3>
            <ul className="list-disc pl-5">
              {ruling.cures.map((cure) => (
                <li key={cure.code + cure.sentence}>
                  {cure.sentence} <Asking packet={packet} code={cure.code} />
                </li>
              ))}
            </ul>
          </>
        )}
      </Sheet>
      <Sheet className="p-4">
        <h2 className="mb-2 text-[16px]">Passed over</h2>
        {ruling.passed_over.length === 0 && <Soft>There was nothing else to choose from.</Soft>}
        <table className="w-full text-left">
          <tbody>
            {ruling.passed_over.map((item) => (
              <tr key={item.contract + item.entitlement} className="border-t border-line first:border-0">
                <th scope="row" className="w-48 py-1.5 pr-4 font-normal whitespace-nowrap">
                  {item.contract ? `${item.contract} · ${item.entitlement}` : "Warranty"}
                </th>
                <td className="py-1.5 text-soft">{item.sentence}</td>
              </tr>
            ))}
          </tbody>
        </table>
      </Sheet>
    </Column>
  );
}
