/** What lint found in a sheet. */
import type { SheetPreview } from "../../api/desks";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";

const BARS = { stop: "border-wax", warn: "border-ochre", hint: "border-line" } as const;

interface FindingsProps {
  found: SheetPreview["findings"];
  problem: unknown;
  jump: (line: number) => void;
}

export function Findings({ found, problem, jump }: FindingsProps) {
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
            key={`${one.line} ${one.place} ${one.sentence}`}
            className={join("border-l-3 py-1 pl-3", BARS[one.level])}
          >
            <span className="sr-only">{one.level}: </span>
            {one.sentence}
            <button type="button" className="link block text-left" onClick={() => jump(one.line)}>
              line {one.line} {one.place && <Mono>{one.place}</Mono>}
            </button>
          </li>
        ))}
        {found.length === 0 && <li className="text-soft">No findings.</li>}
      </ul>
    </Sheet>
  );
}
