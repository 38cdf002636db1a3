/** What lint found in a sheet: each with its place, what to do, and the right word where one is near. */

import type { SheetPreview } from "../../api/desks";
import { TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Hidden, Soft } from "../../components/text";

const BARS = { stop: "border-wax", warn: "border-ochre", hint: "border-line" } as const;

type Finding = SheetPreview["findings"][number];

interface FindingsProps {
  found: Finding[];
  problem: unknown;
  jump: (line: number, column: number) => void;
  fix: (finding: Finding) => void;
}

export function Findings({ found, problem, jump, fix }: FindingsProps) {
  return (
    <Sheet title="Findings">
      <ProblemNote problem={problem} />
      <ul
        tabIndex={0}
        aria-label="Findings"
        aria-live="polite"
        className="flex max-h-64 flex-col gap-1.5 overflow-auto px-4 pt-2 pb-3.5"
      >
        {found.map((one) => (
          <li
            key={`${one.line} ${one.column} ${one.place} ${one.sentence}`}
            className={join("border-l-3 py-1 pl-3", BARS[one.level])}
          >
            <Hidden>{one.level}: </Hidden>
            {one.sentence} <Soft as="span">{one.remedy}</Soft>
            <Row as="span" gap={3} lines>
              <button type="button" className="link text-left" onClick={() => jump(one.line, one.column)}>
                line {one.line} {(one.question || one.place) && <Mono>{one.question || one.place}</Mono>}
              </button>
              {one.fix && (
                <TextButton onClick={() => fix(one)}>
                  Write <Mono>{one.fix}</Mono>
                </TextButton>
              )}
            </Row>
          </li>
        ))}
        {found.length === 0 && <Soft as="li">No findings.</Soft>}
      </ul>
    </Sheet>
  );
}
