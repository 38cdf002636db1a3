/** Rules by which two people release a packet, as hooks over the typed client. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type ReleaseRule = Schemas["ReleaseRuleShown"];

export const useReleaseRules = () =>
  useQuery<ReleaseRule[], ProblemError>({
    queryKey: ["release-rules"],
    queryFn: async () => (await taken(api.GET("/api/v1/release-rules"))).items,
  });

export function useAddReleaseRule() {
  const cache = useQueryClient();
  return useMutation<ReleaseRule, ProblemError, Schemas["NewReleaseRule"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/release-rules", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["release-rules"] }),
  });
}

export function useRemoveReleaseRule() {
  const cache = useQueryClient();
  return useMutation<Schemas["Done"], ProblemError, string>({
    mutationFn: (ident) => taken(api.DELETE("/api/v1/release-rules/{ident}", { params: { path: { ident } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["release-rules"] }),
  });
}
