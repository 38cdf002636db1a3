/** Collecting evidence by kits: offered for the model, confirmed here, run by the worker. */

import { useState } from "react";
import { type KitOffered, type KitRun, useCollect, useOffered } from "../../api/kits";
import type { Packet } from "../../api/packets";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";
import { saySize } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { KitFindings, KitSteps } from "./kit-steps";

const TONES: Record<string, string> = { got: "text-moss", failed: "text-wax" };

export function Kits({ packet, mayCollect }: { packet: Packet; mayCollect: boolean }) {
  const offered = useOffered(packet.number, packet.asset?.id ?? "");
  const [look, setLook] = useState<KitOffered | null>(null);
  const kits = offered.data ?? [];
  useKeys("kits", { collect: mayCollect && kits[0] !== undefined && (() => setLook(kits[0] ?? null)) });
  const seen = look && (kits.find((one) => one.name === look.name) ?? look);
  if (kits.length === 0 && packet.kit_runs.length === 0) return null;
  return (
    <Sheet title="Diagnostic kits" className="pb-3">
      <ProblemNote problem={offered.error} />
      {mayCollect && (
        <ul className="px-4 pt-1">
          {kits.map((one, place) => (
            <li key={one.name} className="flex flex-wrap items-center gap-x-3 py-1">
              <span>{one.title}</span>
              {one.target && <Mono className="text-soft">{one.target}</Mono>}
              <Row as="span" gap={3} align="center" push>
                {one.hindrance && <span className="text-[12.5px] text-ochre">{one.hindrance}</span>}
                <Button letter={place === 0 ? "k" : undefined} onClick={() => setLook(one)}>
                  See what it runs
                </Button>
              </Row>
            </li>
          ))}
        </ul>
      )}
      {packet.kit_runs.map((run) => (
        <Run key={run.id} run={run} />
      ))}
      {seen && <Confirm packet={packet} kit={seen} onClose={() => setLook(null)} />}
    </Sheet>
  );
}

function Confirm({ packet, kit, onClose }: { packet: Packet; kit: KitOffered; onClose: () => void }) {
  const collect = useCollect(packet.number);
  return (
    <Dialog open onChange={(open) => !open && onClose()} title={kit.title} className="w-[min(96vw,760px)] p-5">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          collect.mutate({ kit: kit.name, seen: kit.number }, { onSuccess: onClose });
        }}
      >
        <p className="mb-2 text-soft">
          Version {kit.number}. It only reads; the worker runs exactly this
          {kit.target && (
            <>
              {" at "}
              <Mono>{kit.target}</Mono>
            </>
          )}
          , and adds what it brings.
        </p>
        <KitSteps steps={kit.does} />
        <KitFindings findings={kit.findings} />
        {kit.hindrance && <p className="mt-2 text-ochre">{kit.hindrance}</p>}
        <div className="mt-3 empty:hidden">
          <ProblemNote problem={collect.error} />
        </div>
        <div className="mt-4 flex gap-3">
          <Button look="ink" type="submit" autoFocus disabled={collect.isPending || kit.hindrance !== ""}>
            Run it
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

/** A kit that was run, and how each step ended. */
function Run({ run }: { run: KitRun }) {
  const under = run.state === "waiting" || run.state === "running";
  return (
    <section aria-label={`${run.title}, ${run.state}`} className="mt-2 border-t border-line px-4 pt-2">
      <Soft>
        {run.title}, confirmed by {run.confirmed_by}, {sayMoment(run.confirmed_at)}
        {under && ` · ${run.outcomes.length} of ${run.steps} steps`}
      </Soft>
      {run.reason && <p className="text-wax">{run.reason}</p>}
      <ul>
        {run.outcomes.map((one) => (
          <li key={one.step} className="grid grid-cols-[64px_1fr_auto] gap-x-3 py-0.5">
            <span className={TONES[one.state] ?? "text-ochre"}>{one.state}</span>
            <span>
              {one.what}
              {one.why && <Soft as="span">: {one.why}</Soft>}
              {Object.entries(one.answers).map(([question, text]) => (
                <span key={question} className="block text-[12.5px] text-soft">
                  It answers {question}: {text}
                </span>
              ))}
            </span>
            <span className="text-soft tabular-nums">{one.octets > 0 && saySize(one.octets)}</span>
          </li>
        ))}
      </ul>
    </section>
  );
}
