/** The custody log and the organisation's redaction plan, as hooks over the typed client. */

import { useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type CustodyEntry = Schemas["CustodyEntryShown"];

export const PAGE = 100;

/** Entries about a subject, or all; the newest first, and older ones as they are asked for. */
export const useCustody = (subject: string) =>
  useInfiniteQuery<CustodyEntry[], ProblemError, CustodyEntry[], string[], number | undefined>({
    queryKey: ["custody", subject],
    initialPageParam: undefined,
    queryFn: async ({ pageParam }) =>
      (await taken(api.GET("/api/v1/custody", { params: { query: { subject, limit: PAGE, before: pageParam } } })))
        .items,
    getNextPageParam: (last) => (last.length < PAGE ? undefined : last.at(-1)?.seq),
    select: (read) => read.pages.flat(),
  });

export const useVerifyCustody = () =>
  useMutation<Schemas["Chain"], ProblemError>({ mutationFn: () => taken(api.GET("/api/v1/custody/chain")) });

export const usePlan = () =>
  useQuery<Schemas["RedactionPlanShown"], ProblemError>({
    queryKey: ["redaction-plan"],
    queryFn: () => taken(api.GET("/api/v1/redaction-plan")),
  });

export function usePutPlan() {
  const cache = useQueryClient();
  return useMutation<Schemas["RedactionPlanShown"], ProblemError, Schemas["PlanText"]>({
    mutationFn: (body) => taken(api.PUT("/api/v1/redaction-plan", { body })),
    onSuccess: (plan) => cache.setQueryData(["redaction-plan"], plan),
  });
}

export type RuleTried = Schemas["RuleTried"];

export const useTryRules = () =>
  useMutation<Schemas["RulesTried"], ProblemError, Schemas["RulesText"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/redaction-plan/try", { body })),
  });
