/** The pages of an exhibit, as they came and as they go out: findings are looked at, boxes drawn. */
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Waiting } from "../../components/waiting";
import { BoxBar } from "./box-bar";
import { Deciding } from "./deciding";
import { Drawn, WhyCover } from "./drawn-boxes";
import type { LookProps } from "./look";
import { Finding } from "./page-findings";
import { PageHead } from "./page-head";
import { BothPages } from "./page-pair";

import { usePagesReview } from "./use-pages-review";
import { ByValue } from "./values";

export function PagesReview(props: LookProps) {
  const { packet, exhibit, place, mayDecide } = props;
  const review = usePagesReview(props);
  const { pages, act, floor, found, all, page, chosen, waiting } = review;
  return (
    <Sheet>
      <PageHead {...props} review={review} />
      <ProblemNote problem={pages.error ?? act.error} />
      {review.byValue ? (
        <ByValue
          packet={packet}
          exhibit={exhibit}
          kind=""
          mayDecide={mayDecide}
          floor={floor}
          show={review.show}
          decide={review.setAbout}
        />
      ) : (
        <>
          <Finding
            chosen={chosen}
            total={all.length}
            at={place.at}
            step={review.step}
            mayDecide={mayDecide}
            floor={floor}
            letGo={review.letGo}
          />
          {found ? (
            <BothPages
              packet={packet}
              exhibit={exhibit}
              page={page}
              size={found.pages[page - 1]}
              zoom={place.zoom}
              chosen={chosen}
              drawn={found.drawn.filter((box) => box.page === page)}
              waiting={waiting.filter((box) => box.page === page)}
              picked={waiting.find((box) => box.id === review.picked)}
              mayDraw={mayDecide}
              onChoose={(one) => review.choose(all.findIndex((other) => other.covered === one))}
              onDraw={review.add}
              onPick={(box) => review.setPicked(box.id)}
              onMove={review.move}
            />
          ) : (
            <div className="px-3.5">{!pages.error && <Waiting label="Loading the pages" lines={8} />}</div>
          )}
          <BoxBar review={review} zoom={place.zoom} mayDecide={mayDecide} />
        </>
      )}
      <Drawn
        drawn={found?.drawn ?? []}
        mayDecide={mayDecide}
        busy={act.isPending}
        rubOut={(ident) => act.mutate({ rubOut: ident })}
      />
      {review.about && <Deciding packet={packet} about={review.about} onClose={() => review.setAbout(undefined)} />}
      {review.asks && (
        <WhyCover
          boxes={waiting.length}
          busy={act.isPending}
          problem={act.error}
          onClose={() => review.setAsks(false)}
          onCover={review.cover}
        />
      )}
    </Sheet>
  );
}
