/** The levels of service that a contract offers, compared from a day on. */

import { useState } from "react";
import { Link } from "wouter";
import { useLevels } from "../../api/agreed";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Soft } from "../../components/text";
import { sayDay } from "../../format/dates";
import { count, sayMoney } from "../../format/numbers";
import { sayMinutes } from "./agreed";

const HEADS = ["Level", "Hours", "First answer", "Repair", "A month", "Until the end", "More than now"];

export function Levels({ handle, number }: { handle: string; number: string }) {
  const [from, setFrom] = useState("");
  const levels = useLevels(handle, from);
  if (levels.error) return <ProblemNote problem={levels.error} />;
  if (!levels.data?.levels.length) return null;
  const { entitlements, open_packets: open } = levels.data;
  return (
    <section className="mt-6">
      <Heading level={2}>Levels of service</Heading>
      <label className="mb-2 flex items-center gap-2">
        <Soft as="span">Compared from</Soft>
        <input
          className="field w-40"
          type="date"
          value={from || levels.data.from_on}
          onChange={(e) => setFrom(e.target.value)}
        />
        <Soft as="span">until {sayDay(levels.data.ends_on)}</Soft>
      </label>
      <PlainTable heads={HEADS} right={HEADS.slice(2)}>
        {levels.data.levels.map((one) => (
          <tr key={one.id} className="border-t border-line align-baseline">
            <td className="px-4 py-1.5">
              {one.name} {one.is_now && <Soft as="span">now</Soft>}
              {one.gains.length > 0 && (
                <Soft as="span" block>
                  also takes {one.gains.join(", ")}
                </Soft>
              )}
              {one.rulings
                .filter((ruling) => ruling.route === "none" || ruling.route === "paid")
                .map((ruling) => (
                  <span key={ruling.need + ruling.route} className="block text-wax">
                    not covered for {ruling.need}: {count(ruling.assets, "asset")}
                  </span>
                ))}
              {one.loses.length > 0 && <span className="block text-wax">without {one.loses.join(", ")}</span>}
            </td>
            <td className="px-4">{one.hours}</td>
            <td className="px-4 text-right">{sayMinutes(one.answer_minutes)}</td>
            <td className="px-4 text-right">{sayMinutes(one.repair_minutes)}</td>
            <td className="px-4 text-right whitespace-nowrap tabular-nums">{sayMoney(one.cost_minor, one.currency)}</td>
            <td className="px-4 text-right whitespace-nowrap tabular-nums">
              {sayMoney(one.cost_until_end_minor, one.currency)}
            </td>
            <td className="px-4 text-right whitespace-nowrap tabular-nums">
              {one.is_now ? null : sayMoney(one.more_minor, one.currency)}
            </td>
          </tr>
        ))}
      </PlainTable>
      <p className="mt-1">
        <Soft as="span">On the level depend </Soft>
        {entitlements.map((one) => one.reference).join(", ") || "no entitlement"}
        <Soft as="span"> and </Soft>
        <Link className="link" href={`/packets?open=true&contract=${encodeURIComponent(number)}`}>
          {count(open, "open packet")}
        </Link>
        .
      </p>
    </section>
  );
}
