/** Today and finding. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export const useToday = (mine: boolean) =>
  useQuery<Schemas["Today"], ProblemError>({
    queryKey: ["today", mine],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/today", { params: { query: { mine } } })),
    refetchInterval: 20_000,
  });

export type FoundKind = Schemas["FoundKind"];

/** To what finding is limited; what is not given limits nothing. */
export interface FindWithin {
  kind?: FoundKind | undefined;
  vendor?: string | undefined;
  since?: string | undefined;
}

/** A few records of each kind, or many of one. */
export const useFind = (query: string, { kind, vendor, since }: FindWithin) =>
  useQuery<Schemas["Found"], ProblemError>({
    queryKey: ["find", query, kind, vendor, since],
    enabled: query.trim().length > 1,
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/find", {
          params: { query: { q: query.trim(), vendor, since, ...(kind && { kind, limit: 50 }) } },
        }),
      ),
  });
