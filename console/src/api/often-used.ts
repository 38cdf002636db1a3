/** Records that you use often. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type UsedItem = Schemas["UsedItem"];

const KEY = ["often-used"];

export const useOftenUsed = (enabled = true) =>
  useQuery<UsedItem[], ProblemError>({
    queryKey: KEY,
    enabled,
    queryFn: async () => (await taken(api.GET("/api/v1/often-used"))).items,
  });

/** Pin a record, or unpin one that is pinned. */
export function usePin() {
  const cache = useQueryClient();
  return useMutation<UsedItem[], ProblemError, Pick<UsedItem, "kind" | "handle" | "pinned">>({
    mutationFn: async ({ kind, handle, pinned }) => {
      const params = { path: { kind, handle } };
      const done = pinned
        ? api.DELETE("/api/v1/pins/{kind}/{handle}", { params })
        : api.PUT("/api/v1/pins/{kind}/{handle}", { params });
      return (await taken(done)).items;
    },
    onSuccess: (items) => cache.setQueryData(KEY, items),
  });
}
