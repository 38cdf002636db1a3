/** The organisation's redaction plan: what is kept and masked in every packet, as YAML; its floor cannot be kept. */

import { useState } from "react";
import { usePlan, usePutPlan } from "../../api/custody";
import { Button } from "../../components/button";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { RuleTrial } from "./rule-trial";

export function PlanPage({ roles }: { roles: string[] }) {
  const plan = usePlan();
  const put = usePutPlan();
  const [text, setText] = useState<string | null>(null);
  const mayWrite = roles.includes("keeper");
  const shown = text ?? plan.data?.yaml ?? "";
  const changed = plan.data !== undefined && shown !== plan.data.yaml;
  const keep = () =>
    plan.data && put.mutate({ yaml: shown, number: plan.data.number }, { onSuccess: () => setText(null) });
  return (
    <PageMain width="text">
      <div className="mb-3 flex flex-wrap items-baseline gap-3">
        <PageTitle>Redaction plan</PageTitle>
        {plan.data && (
          <Soft as="span">
            {plan.data.number
              ? `version ${plan.data.number}, ${plan.data.by}, ${sayMoment(plan.data.at)}`
              : "the one that every house begins with"}
          </Soft>
        )}
        {mayWrite && (
          <Button look="ink" className="ml-auto" disabled={!changed || put.isPending} onClick={keep}>
            Save as version {(plan.data?.number ?? 0) + 1}
          </Button>
        )}
      </div>
      <ProblemNote problem={plan.error ?? put.error} />
      {plan.isPending && !plan.error && <Waiting label="Loading the plan" lines={10} />}
      {plan.data && (
        <Sheet>
          <label className="flex flex-col gap-1 px-4 py-3">
            <Soft as="span">
              It counts for every packet that is redacted from then on; a desk’s sheet may say otherwise within it.
            </Soft>
            <textarea
              aria-label="The plan, as YAML"
              className="field min-h-96 font-mono text-[12.5px] leading-5"
              spellCheck={false}
              readOnly={!mayWrite}
              value={shown}
              onChange={(event) => setText(event.target.value)}
            />
          </label>
          <p className="border-t border-line px-4 py-3 text-soft">
            Whatever a plan says, these are always masked: {plan.data.floor.join(", ")}.
          </p>
        </Sheet>
      )}
      <RuleTrial />
    </PageMain>
  );
}
