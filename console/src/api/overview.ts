/** The overview: how packets went, in numbers. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Overview = Schemas["Overview"];
export type OverviewTable = Schemas["OverviewTable"];
export type OverviewPart = Schemas["OverviewPart"];

/** Of which days, vendor and site; what is not given limits nothing. */
export interface OverviewWithin {
  since?: string | undefined;
  until?: string | undefined;
  vendor?: string | undefined;
  site?: string | undefined;
}

export const useOverview = (within: OverviewWithin) =>
  useQuery<Overview, ProblemError>({
    queryKey: ["overview", within],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/overview", { params: { query: within } })),
  });
