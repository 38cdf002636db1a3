/** What is known around a thing, and what was tried on it. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type ThingContext = Schemas["ThingContext"];

export const useAround = (handle: string) =>
  useQuery<ThingContext, ProblemError>({
    queryKey: ["around", handle],
    enabled: handle !== "",
    queryFn: () => taken(api.GET("/api/v1/assets/{handle}/context", { params: { path: { handle } } })),
  });

function useChanged(number: string) {
  const cache = useQueryClient();
  return async () => {
    // a first look that is still under way knows less, and would be taken as the newest
    await cache.cancelQueries({ queryKey: ["around"] });
    cache.invalidateQueries({ queryKey: ["around"] });
    cache.invalidateQueries({ queryKey: ["packet", number] });
  };
}

export function useTried(number: string) {
  const onSuccess = useChanged(number);
  return useMutation<unknown, ProblemError, { step: string; result: string }>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/tried", { params: { path: { number } }, body })),
    onSuccess,
  });
}

export function useUntry(number: string) {
  const onSuccess = useChanged(number);
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (ident) => taken(api.DELETE("/api/v1/tried/{ident}", { params: { path: { ident } } })),
    onSuccess,
  });
}
