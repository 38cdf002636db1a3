/** Reviews of exhibits: findings, values, the legend. */
import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

/** Which findings of an exhibit one looks at: those of a kind, or of one value. */
export interface Looking {
  at: number;
  kind: string;
  placeholder: string;
  /** Or from this line on; 0 for around the finding. */
  line: number;
}

export const useReview = (
  number: string,
  name: string,
  { at, kind, placeholder, line }: Looking,
  lines: number,
  wanted: boolean,
) =>
  useQuery<Schemas["Review"], ProblemError>({
    enabled: wanted,
    queryKey: ["review", number, name, at, kind, placeholder, line, lines],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/review", {
          params: { path: { number, name }, query: { at, kind, lines, placeholder, line } },
        }),
      ),
  });

export const useValues = (number: string, name: string, kind: string, q: string) =>
  useQuery<Schemas["ValueList"], ProblemError>({
    queryKey: ["review", number, name, "values", kind, q],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/values", {
          params: { path: { number, name }, query: { kind, q } },
        }),
      ),
  });

/** The legend, once it was opened with a reason: kept only as long as the page stays. */
export const useLegend = (number: string) =>
  useMutation<Schemas["LegendShown"], ProblemError, string>({
    mutationFn: (reason) =>
      taken(api.POST("/api/v1/packets/{number}/legend", { params: { path: { number } }, body: { reason } })),
  });
