/** Exactly what a kit would do, step by step, and what is to be minded. */

import type { Schemas } from "../../api/client";
import { Row } from "../../components/layout";
import { saySize } from "../../format/numbers";

export function KitSteps({ steps }: { steps: Schemas["KitStepShown"][] }) {
  return (
    <ol aria-label="Steps" className="rounded-sheet border border-line">
      {steps.map((step) => (
        <li key={step.id} className="border-b border-line px-3 py-1.5 last:border-0">
          <Row gap={3} align="baseline">
            <span>{step.what}</span>
            <span className="ml-auto text-[12.5px] whitespace-nowrap text-soft">
              {step.seconds} s · {saySize(step.octets)}
              {step.secret && ` · secret ${step.secret}`}
            </span>
          </Row>
          <code className="block font-mono text-[12.5px] break-all">{step.does}</code>
          {step.here && (
            <span className="text-[12.5px] text-ochre">Runs only on the machine itself: sealpacket kit run</span>
          )}
        </li>
      ))}
    </ol>
  );
}

export function KitFindings({ findings }: { findings: Schemas["KitFinding"][] }) {
  return findings.map((one) => (
    <p key={one.sentence} className={one.level === "stop" ? "mt-2 text-wax" : "mt-2 text-ochre"}>
      {one.sentence} {one.remedy}.
    </p>
  ));
}
