/** The end of a contract's term: its cost beside the term before, what was used of it, and what is decided. */

import { useState } from "react";
import { Link, useLocation } from "wouter";
import { type Renewal, useAskRenewal, useDecideRenewal, useRenewal } from "../../api/renewals";
import { Button } from "../../components/button";
import type { FieldSpec } from "../../components/field-values";
import { FormDialog } from "../../components/form-dialog";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Heading, Soft } from "../../components/text";
import { sayDay, sayMoment } from "../../format/dates";
import { NEED_WORDS } from "../../format/needs";
import { count, sayMoney } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";

const DECIDED = { renew: "to renew it", cancel: "to cancel it", let_end: "to let it end" } as const;
const HEADS = ["", "Term", "Cost", "A month"];
const FIELDS: FieldSpec[] = [
  { name: "decision", title: "Decision", kind: ["renew", "cancel", "let_end"], first: "renew", needed: true },
  { name: "quote_minor", title: "Quoted cost", kind: "money" },
  { name: "currency", title: "Currency of the quote", kind: "mono" },
  { name: "reason", title: "Why", kind: "long" },
];

export function RenewalSection({ handle, roles }: { handle: string; roles: string[] }) {
  const renewal = useRenewal(handle);
  const [deciding, setDeciding] = useState(false);
  const [, go] = useLocation();
  const decide = useDecideRenewal(handle);
  const ask = useAskRenewal(handle);
  const keeper = roles.includes("keeper");
  useKeys("contract", { decide: keeper && (() => setDeciding(true)) });
  const found = renewal.data;
  if (renewal.error) return <ProblemNote problem={renewal.error} />;
  if (!found) return null;
  const noteOne = (wanted: "quote" | "cancellation") =>
    ask.mutate(wanted, { onSuccess: (packet) => go(`/packets/${packet.number}`) });
  return (
    <section className="mt-6" aria-label="End of the term">
      <Heading level={2}>End of the term</Heading>
      <PlainTable heads={HEADS} right={HEADS.slice(2)}>
        {(
          [
            ["This term", found.term],
            ["Before", found.former],
          ] as const
        ).map(
          ([name, term]) =>
            term && (
              <tr key={name} className="border-t border-line">
                <td className="px-4 py-1.5">{name}</td>
                <td className="px-4 whitespace-nowrap">
                  {sayDay(term.starts_on)} to {sayDay(term.ends_on)}
                </td>
                <td className="px-4 text-right tabular-nums">{sayMoney(term.cost_minor, term.currency)}</td>
                <td className="px-4 text-right tabular-nums">{sayMoney(term.a_month_minor, term.currency)}</td>
              </tr>
            ),
        )}
      </PlainTable>
      <p className="mt-2">{used(found)}</p>
      <p>{covered(found)}</p>
      {found.notice_on && found.days_to_notice !== null && (
        <p className={found.days_to_notice < 0 ? "text-wax" : ""}>
          Notice by {sayDay(found.notice_on)},{" "}
          {found.days_to_notice < 0
            ? `${count(-found.days_to_notice, "day")} ago`
            : `in ${count(found.days_to_notice, "day")}`}
          .
        </p>
      )}
      <p className="mt-2">{decided(found)}</p>
      {found.asked.map((one) => (
        <p key={one.packet}>
          {one.wanted === "quote" ? "A quote is asked for in " : "It is cancelled in "}
          <Link className="link" href={`/packets/${one.packet}`}>
            {one.packet}
          </Link>
          <Soft as="span">
            {one.lodged_at ? `, with the vendor since ${sayMoment(one.lodged_at)}` : `, ${one.life}`}
            {one.reference && ` as ${one.reference}`}
          </Soft>
        </p>
      ))}
      <ProblemNote problem={ask.error} />
      <div className="mt-2 flex flex-wrap gap-3">
        {keeper && (
          <Button letter="e" onClick={() => setDeciding(true)}>
            Decide
          </Button>
        )}
        {roles.includes("preparer") && (
          <>
            <Button disabled={ask.isPending} onClick={() => noteOne("quote")}>
              Ask for a quote
            </Button>
            <Button disabled={ask.isPending} onClick={() => noteOne("cancellation")}>
              Cancel it in a packet
            </Button>
          </>
        )}
      </div>
      {deciding && (
        <FormDialog
          title="Decide about the end of the term"
          fields={FIELDS}
          values={{ ...(found.decision ?? {}), currency: found.decision?.currency ?? found.term.currency }}
          act="Keep it"
          busy={decide.isPending}
          problem={decide.error}
          onSubmit={({ decision, quote_minor, currency, reason }) =>
            decide.mutate(
              {
                decision: decision as "renew",
                quote_minor: quote_minor as number | null,
                currency: quote_minor === null ? null : (currency as string | null),
                reason: String(reason ?? ""),
              },
              { onSuccess: () => setDeciding(false) },
            )
          }
          onClose={() => setDeciding(false)}
        />
      )}
    </section>
  );
}

function used(found: Renewal): string {
  const needs = found.packets.map((one) => `${NEED_WORDS[one.need]} ${one.packets}`).join(", ");
  const units =
    found.units_used + found.units_left > 0 ? ` ${found.units_used} units used, ${found.units_left} left.` : "";
  return `Packets in this term: ${needs || "none"}.${units}`;
}

function covered(found: Renewal): string {
  const gaps = found.gap_days > 0 ? ` ${count(found.gap_days, "day")} without cover between its terms.` : "";
  const retired = found.retired.length > 0 ? ` Retired, and still listed: ${found.retired.join(", ")}.` : "";
  const assets = `${count(found.assets, "asset")}, of which ${found.assets_asked} had a packet`;
  return `${assets}; after its end nothing else covers ${found.uncovered || "none"}.${retired}${gaps}`;
}

function decided(found: Renewal): string {
  const one = found.decision;
  if (!one) return "Nothing is decided yet.";
  const quote = sayMoney(one.quote_minor, one.currency);
  const percent = found.quote_percent;
  const more = percent === null ? "" : ` (${percent > 0 ? "+" : ""}${percent} %)`;
  const words = `Decided ${DECIDED[one.decision]} by ${one.by}, ${sayMoment(one.at)}`;
  return `${words}${quote && `; the quote is ${quote}${more}`}. ${one.reason}`;
}
