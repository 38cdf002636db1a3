/** Try rules out: what they would find in a sample and in the frozen files, before they go into the plan. */

import { useState } from "react";
import { type RuleTried, useTryRules } from "../../api/custody";
import { Button } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";

const EXAMPLE = `[[rule]]
id = "reader-card"
kind = "reader"
match = ["card: «Q1234567» was read"]
leave = ["card: none"]

  [[rule.shape]]
  pattern = '(?i:card[ :]+)(Q[0-9]{7})'
`;

export function RuleTrial() {
  const [rules, setRules] = useState(EXAMPLE);
  const [sample, setSample] = useState("");
  const tried = useTryRules();
  return (
    <Sheet className="mt-4">
      <div className="flex items-baseline gap-3 px-4 pt-3">
        <h2 className="font-semibold">Try rules</h2>
        <Soft as="span">Nothing is kept. Put a rule into the plan under own, in YAML.</Soft>
        <Button className="ml-auto" disabled={tried.isPending} onClick={() => tried.mutate({ rules, sample })}>
          {tried.isPending ? "Trying" : "Try"}
        </Button>
      </div>
      <div className="grid gap-3 px-4 py-3 md:grid-cols-2">
        <Text label="Rules, in TOML" value={rules} onChange={setRules} />
        <Text label="Sample to search" value={sample} onChange={setSample} />
      </div>
      <ProblemNote problem={tried.error} />
      {tried.data?.rules.map((one) => (
        <Tried key={one.rule} rule={one} />
      ))}
    </Sheet>
  );
}

function Text({ label, value, onChange }: { label: string; value: string; onChange: (text: string) => void }) {
  return (
    <label className="flex flex-col gap-1">
      <Soft as="span">{label}</Soft>
      <textarea
        className="field min-h-56 font-mono text-[12.5px] leading-5"
        spellCheck={false}
        value={value}
        onChange={(event) => onChange(event.target.value)}
      />
    </label>
  );
}

function Tried({ rule }: { rule: RuleTried }) {
  return (
    <section className="border-t border-line px-4 py-3" aria-label={rule.rule}>
      <Mono>{rule.rule}</Mono>
      {rule.faults.map((fault) => (
        <p key={fault} className="text-wax">
          {fault}
        </p>
      ))}
      {rule.faults.length === 0 && (
        <p>
          Finds what its match shows, and nothing in its leave. {rule.values} found in the sample; in the frozen files{" "}
          {rule.frozen_values} marked values and {rule.frozen_others} other places.
        </p>
      )}
      <ul className="mt-1 overflow-auto font-mono text-[12.5px]">
        {rule.lines.map((line) => (
          <li key={line.number} className="whitespace-pre">
            <span className="text-soft">{line.number}</span> {line.text}
          </li>
        ))}
      </ul>
    </section>
  );
}
