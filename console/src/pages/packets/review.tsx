/** An exhibit as it came and as it goes out, line by line or value by value. */
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Waiting } from "../../components/waiting";
import { Deciding } from "./deciding";
import { FocusBar } from "./focus-bar";
import { FIRST, type LookProps } from "./look";
import { ReviewHead } from "./review-head";
import { Kinds } from "./review-kinds";
import { Lines } from "./review-lines";
import { LINES, useLinesReview } from "./use-lines-review";
import { ByValue } from "./values";

export function Review(props: LookProps) {
  const { packet, exhibit, place, setPlace, mayDecide } = props;
  const looking = useLinesReview(props);
  const { review, found, hasLines, view, all, top, goTo, floor, about, setAbout } = looking;
  return (
    <Sheet>
      <ReviewHead {...props} looking={looking} />
      <Kinds
        exhibit={exhibit}
        doubtful={found?.doubtful ?? 0}
        kind={place.kind}
        choose={(value) => setPlace({ ...place, kind: value, placeholder: "", at: 0, line: 0 })}
      />
      {view === "values" ? (
        <ByValue
          packet={packet}
          exhibit={exhibit}
          kind={place.kind}
          mayDecide={mayDecide}
          floor={floor}
          show={hasLines ? (placeholder, of) => setPlace({ ...FIRST, kind: of, placeholder }) : undefined}
          decide={setAbout}
        />
      ) : (
        <>
          <FocusBar {...props} looking={looking} />
          <ProblemNote problem={review.error} />
          {found ? (
            <>
              {all > LINES && <Whereabouts top={top} all={all} goTo={goTo} />}
              <Lines
                lines={found.lines}
                focus={found.line}
                vendor={packet.vendor ?? "the vendor"}
                onSelect={looking.setSelected}
                onWheel={looking.wheel}
              />
            </>
          ) : (
            <div className="px-3.5">{!review.error && <Waiting label="Loading the exhibit" lines={LINES} />}</div>
          )}
        </>
      )}
      {about && <Deciding packet={packet} about={about} onClose={() => setAbout(undefined)} />}
    </Sheet>
  );
}

/** Where in the file one is: a file of any length is one slider. */
function Whereabouts({ top, all, goTo }: { top: number; all: number; goTo: (line: number) => void }) {
  return (
    <label className="flex items-center gap-3 border-b border-line px-3.5 py-1 text-soft tabular-nums">
      <span className="whitespace-nowrap">
        line {top.toLocaleString("en-GB")} of {all.toLocaleString("en-GB")}
      </span>
      <input
        type="range"
        className="grow accent-ink"
        aria-label="Place in the file"
        aria-valuetext={`line ${top} of ${all}`}
        min={1}
        max={Math.max(all - LINES + 1, 1)}
        value={top}
        onChange={(event) => goTo(Number(event.target.value))}
      />
    </label>
  );
}
