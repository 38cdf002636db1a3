/** A plan, or the message of a failed start, against the limits of a vendor; what is missing becomes a packet. */

import { useState } from "react";
import { useLocation } from "wouter";
import { type Plan, useAskCapacity, usePlanCapacity } from "../../api/agreed";
import { Button } from "../../components/button";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { PlainTable } from "../../components/plain-table";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { VendorFilter } from "./vendor-filter";

const EXAMPLE = "count,size,resource,region,when\n4,8,general cores,north-1,\n6,16,general cores,north-2,north-1 lost";

export function CapacityPlan({ vendor, mayAsk }: { vendor: string; mayAsk: boolean }) {
  const [open, setOpen] = useState(false);
  const [text, setText] = useState("");
  const [of, setOf] = useState(vendor);
  const [headroom, setHeadroom] = useState("20");
  const plan = usePlanCapacity();
  return (
    <details className="mb-3 rounded-md border border-line px-3 py-2" onToggle={(e) => setOpen(e.currentTarget.open)}>
      <summary className="cursor-pointer">Does it fit? Compare a plan, or the message of a failed start</summary>
      {open && (
        <form
          className="mt-2 grid gap-2"
          onSubmit={(event) => {
            event.preventDefault();
            plan.mutate({ vendor: of, text, headroom: Number(headroom) || 0, regions: [] });
          }}
        >
          <label className="grid gap-1">
            <Soft as="span">A table with the columns count, size, resource, region and when; or the whole message</Soft>
            <textarea
              className="field min-h-28 font-mono"
              value={text}
              placeholder={EXAMPLE}
              onChange={(event) => setText(event.target.value)}
            />
          </label>
          <Row gap={3} lines align="center">
            <VendorFilter value={of} onChange={setOf} />
            <label className="flex items-center gap-2">
              <Soft as="span">Headroom, percent</Soft>
              <input
                className="field w-20"
                inputMode="numeric"
                value={headroom}
                onChange={(event) => setHeadroom(event.target.value)}
              />
            </label>
            <Button type="submit" look="ink" disabled={plan.isPending || !of || !text.trim()}>
              Compare
            </Button>
          </Row>
          <ProblemNote problem={plan.error} />
          {plan.data && <Found plan={plan.data} mayAsk={mayAsk} />}
        </form>
      )}
    </details>
  );
}

const HEADS = ["Resource", "Region", "Needed", "Used", "Granted", "Missing", "Ask for", "If"];

function Found({ plan, mayAsk }: { plan: Plan; mayAsk: boolean }) {
  return (
    <>
      <PlainTable heads={HEADS} right={HEADS.slice(2, 7)}>
        {plan.lines.map((one) => (
          <tr key={`${one.region} ${one.resource}`} className="border-t border-line">
            <td className="px-4 py-1.5">
              <Mono>{one.resource}</Mono>
            </td>
            <td className="px-4">{one.region}</td>
            <td className="px-4 text-right tabular-nums">{one.need}</td>
            <td className="px-4 text-right tabular-nums">{one.used}</td>
            <td className="px-4 text-right tabular-nums">{one.granted ?? "unknown"}</td>
            <td className="px-4 text-right text-wax tabular-nums">{one.missing || null}</td>
            <td className="px-4 text-right font-semibold tabular-nums">{one.ask || null}</td>
            <td className="px-4 text-soft">{one.when}</td>
          </tr>
        ))}
      </PlainTable>
      {plan.said.map((said) => (
        <p key={said} className="text-wax">
          {said}
        </p>
      ))}
      {plan.fits ? <p>Everything fits.</p> : mayAsk && <Ask plan={plan} />}
    </>
  );
}

function Ask({ plan }: { plan: Plan }) {
  const [asset, setAsset] = useState("");
  const [purpose, setPurpose] = useState(plan.purpose);
  const ask = useAskCapacity();
  const [, go] = useLocation();
  const wanted = plan.lines
    .filter((one) => one.ask > 0)
    .map((one) => ({ region: one.region, resource: one.resource, wanted: one.ask }));
  return (
    <div className="grid gap-2">
      <label className="grid gap-1">
        <Soft as="span">What it is for, as the desk will read it</Soft>
        <textarea className="field" value={purpose} onChange={(event) => setPurpose(event.target.value)} />
      </label>
      <Row gap={3} lines align="center">
        <label className="flex items-center gap-2">
          <Soft as="span">Account</Soft>
          <input
            className="field w-56 font-mono"
            value={asset}
            placeholder="its serial"
            onChange={(event) => setAsset(event.target.value)}
          />
        </label>
        <Button
          look="ink"
          disabled={ask.isPending || !asset.trim() || !purpose.trim()}
          onClick={() =>
            ask.mutate(
              { asset: asset.trim(), wanted, purpose, title: "" },
              { onSuccess: (packet) => go(`/packets/${packet.number}`) },
            )
          }
        >
          Ask for {wanted.length === 1 ? "it" : `these ${wanted.length}`} in a packet
        </Button>
      </Row>
      <ProblemNote problem={ask.error} />
    </div>
  );
}
