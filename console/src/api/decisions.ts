/** Redaction decisions. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Decision = Schemas["DecisionShown"];

export const useDecisions = (number: string, wanted: boolean) =>
  useQuery<Schemas["DecisionList"], ProblemError>({
    queryKey: ["decisions", number],
    enabled: wanted,
    queryFn: () => taken(api.GET("/api/v1/packets/{number}/decisions", { params: { path: { number } } })),
  });

/** Kinds that nothing can have kept. */
export function useFloor(wanted: boolean): string[] {
  const plan = useQuery<Schemas["RedactionPlanShown"], ProblemError>({
    queryKey: ["redaction-plan"],
    enabled: wanted,
    staleTime: 60_000,
    queryFn: () => taken(api.GET("/api/v1/redaction-plan")),
  });
  return plan.data?.floor ?? [];
}

export function useDecide(number: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["DecisionList"], ProblemError, { undo: string } | Schemas["Decision"]>({
    mutationFn: (act) =>
      "undo" in act
        ? taken(
            api.DELETE("/api/v1/packets/{number}/decisions/{ident}", {
              params: { path: { number, ident: act.undo } },
            }),
          )
        : taken(api.POST("/api/v1/packets/{number}/decisions", { params: { path: { number } }, body: act })),
    onSuccess: (made) => {
      cache.setQueryData(["decisions", number], made);
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
      cache.invalidateQueries({ queryKey: ["letter", number] });
      cache.invalidateQueries({ queryKey: ["reply-preview", number] });
    },
  });
}
