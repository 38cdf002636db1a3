/** The bar below the pages: drawing boxes, covering what they hide, and zooming. */

import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Row } from "../../components/layout";
import { Hidden } from "../../components/text";
import { count } from "../../format/numbers";
import { MIDDLE, type PagesReviewState, ZOOMS } from "./use-pages-review";

interface Props {
  review: PagesReviewState;
  zoom: number;
  mayDecide: boolean;
}

export function BoxBar({ review, zoom, mayDecide }: Props) {
  const { waiting, page, add, setAsks, setWaiting } = review;
  const elsewhere = waiting.filter((box) => box.page !== page).length;
  return (
    <div className="flex min-h-11 flex-wrap items-center gap-x-3 gap-y-1 border-t border-line px-3.5 py-1.5 text-soft">
      {mayDecide &&
        (waiting.length === 0 ? (
          <span>Drag over a page to draw a box, or</span>
        ) : (
          <span>
            {count(waiting.length, "box", "boxes")} drawn, not covered yet
            {elsewhere > 0 && `, ${elsewhere} on other pages`}
          </span>
        ))}
      {mayDecide && (
        <Button className="px-1.5 py-0" onClick={() => add(MIDDLE)}>
          <Key>B</Key> {waiting.length ? "Another" : "put one in the middle"}
        </Button>
      )}
      {waiting.length > 0 && (
        <>
          <Button className="px-1.5 py-0" look="ink" onClick={() => setAsks(true)}>
            <Key>M</Key> Cover them
          </Button>
          <Button className="px-1.5 py-0" onClick={() => setWaiting([])}>
            Rub out
          </Button>
        </>
      )}
      <Row as="span" gap={2} align="center" push>
        <Button className="px-1.5 py-0" disabled={zoom === 1} onClick={() => review.zoom(-1)}>
          <Key>-</Key>
          <Hidden>Smaller</Hidden>
        </Button>
        <span className="w-10 text-center tabular-nums">{zoom * 100} %</span>
        <Button className="px-1.5 py-0" disabled={zoom === ZOOMS.at(-1)} onClick={() => review.zoom(1)}>
          <Key>+</Key>
          <Hidden>Larger</Hidden>
        </Button>
      </Row>
    </div>
  );
}
