/** The bar above a review of lines. */

import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import type { LookProps } from "./look";
import { kindWords } from "./review-kinds";
import { Steps } from "./steps";
import type { LinesReview } from "./use-lines-review";

export function ReviewHead({ exhibit, place, setPlace, looking }: LookProps & { looking: LinesReview }) {
  const { hasLines, view, other, found, at, last, move } = looking;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-2">
      <Mono>{exhibit.name}</Mono>
      <Soft as="span">{kindWords(exhibit)}</Soft>
      <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
        {hasLines && (
          <Button className="px-1.5 py-0" onClick={() => setPlace({ ...place, view: other })}>
            <Key>V</Key> by {other === "values" ? "value" : "line"}
          </Button>
        )}
        {view === "lines" && (
          <>
            {found && found.findings > 0
              ? `finding ${at + 1} of ${found.findings.toLocaleString("en-GB")}`
              : "nothing masked"}
            <Steps what="Finding" first={at === 0} last={at >= last} step={move} />
          </>
        )}
      </span>
    </div>
  );
}
