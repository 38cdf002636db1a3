/** Hours of entitlements that clocks cannot read. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type UnreadHours = Schemas["UnreadHours"];

export const useUnreadHours = (enabled: boolean) =>
  useQuery<UnreadHours[], ProblemError>({
    queryKey: ["hours"],
    enabled,
    queryFn: async () => (await taken(api.GET("/api/v1/hours"))).items,
  });

export function useConvertHours() {
  const cache = useQueryClient();
  return useMutation<Schemas["ConvertedHours"], ProblemError, Schemas["ConvertHours"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/hours", { body })),
    onSuccess: () => cache.invalidateQueries(),
  });
}
