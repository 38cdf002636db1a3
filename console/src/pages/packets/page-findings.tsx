/** One finding on a page. */

import type { Covered } from "../../api/exhibit-pages";
import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { count } from "../../format/numbers";
import { Steps } from "./steps";

interface FindingProps {
  chosen: Covered | undefined;
  total: number;
  at: number;
  step: (by: number) => void;
  mayDecide: boolean;
  floor: string[];
  letGo: () => void;
}

/** What lies beneath the box that is looked at. */
export function Finding({ chosen, total, at, step, mayDecide, floor, letGo }: FindingProps) {
  return (
    <div className="flex min-h-9 flex-wrap items-center gap-x-3 border-b border-line px-3.5 py-1" aria-live="polite">
      {chosen ? (
        <>
          <Soft as="span">{chosen.kind}</Soft>
          <Mono className="max-w-72 truncate">{chosen.value || "a code that says nothing"}</Mono>
          {!chosen.sure && <span className="text-ochre">not certain</span>}
          <Mono className="text-soft">{chosen.placeholder}</Mono>
        </>
      ) : (
        <Soft as="span">{total ? "No box is chosen" : "Nothing was found"}</Soft>
      )}
      <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
        {mayDecide && chosen?.value && (
          <Button className="px-1.5 py-0" disabled={floor.includes(chosen.kind)} onClick={letGo}>
            <Key>U</Key> {floor.includes(chosen.kind) ? "Never goes out" : "Let it go out"}
          </Button>
        )}
        {total > 0 && (
          <>
            {chosen ? `box ${at + 1} of ${total}` : count(total, "box", "boxes")}
            <Steps
              what="Box"
              first={chosen !== undefined && at === 0}
              last={chosen !== undefined && at >= total - 1}
              step={step}
            />
          </>
        )}
      </span>
    </div>
  );
}
