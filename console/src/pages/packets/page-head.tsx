/** The bar above the pages of an exhibit: by page or by value, and which page. */

import { Button } from "../../components/button";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { Hidden, Soft } from "../../components/text";
import type { LookProps } from "./look";

import { kindWords } from "./review-kinds";
import type { PagesReviewState } from "./use-pages-review";

export function PageHead({ exhibit, place, setPlace, review }: LookProps & { review: PagesReviewState }) {
  const { byValue, last, page, goTo } = review;
  return (
    <div className="flex flex-wrap items-center gap-x-3 gap-y-1 border-b border-line px-3.5 py-2">
      <Mono>{exhibit.name}</Mono>
      <Soft as="span">{kindWords(exhibit)}</Soft>
      <span className="ml-auto flex items-center gap-2 text-soft tabular-nums">
        <Button className="px-1.5 py-0" onClick={() => setPlace({ ...place, view: byValue ? "lines" : "values" })}>
          <Key>V</Key> by {byValue ? "page" : "value"}
        </Button>
        {last > 1 && !byValue && (
          <>
            page {page} of {last}
            <Button className="px-1.5 py-0" disabled={page === 1} onClick={() => goTo(page - 1)}>
              <span aria-hidden>←</span>
              <Hidden>Page before</Hidden>
            </Button>
            <Button className="px-1.5 py-0" disabled={page === last} onClick={() => goTo(page + 1)}>
              <span aria-hidden>→</span>
              <Hidden>Next page</Hidden>
            </Button>
          </>
        )}
      </span>
    </div>
  );
}
