/** Pictures and PDFs of a packet, page by page, and the boxes that are drawn on them. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import type { Exhibit } from "./exhibits";

export type Pages = Schemas["PageList"];

export type Covered = Schemas["CoveredShown"];

export type DrawnBox = Schemas["DrawnBoxShown"];

export type NewBox = Required<Schemas["NewBox"]>;

/** A box that waits to be covered; its number tells it from the others. */
export type WaitingBox = NewBox & { id: number };

export type Side = "original" | "outgoing";

export const usePages = (number: string, exhibit: Exhibit) =>
  useQuery<Pages, ProblemError>({
    queryKey: ["review", number, exhibit.name, "pages", exhibit.outgoing_sha256],
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/pages", {
          params: { path: { number, name: exhibit.name } },
        }),
      ),
  });

/** Where a page is found as a picture; the copy's sum in it tells a new copy from the one before. */
export const pageAddress = (number: string, exhibit: Exhibit, page: number, side: Side) =>
  `/api/v1/packets/${number}/exhibits/${encodeURIComponent(exhibit.name)}/pages/${page}/${side}?of=${exhibit.outgoing_sha256}`;

export function useBoxes(number: string, name: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["DrawnBoxes"], ProblemError, { draw: WaitingBox[]; reason: string } | { rubOut: string }>({
    mutationFn: (act) =>
      "rubOut" in act
        ? taken(
            api.DELETE("/api/v1/packets/{number}/exhibits/{name}/boxes/{ident}", {
              params: { path: { number, name, ident: act.rubOut } },
            }),
          )
        : taken(
            api.POST("/api/v1/packets/{number}/exhibits/{name}/boxes", {
              params: { path: { number, name } },
              body: { boxes: act.draw.map(({ id: _, ...box }) => box), reason: act.reason },
            }),
          ),
    onSuccess: () => {
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
    },
  });
}
