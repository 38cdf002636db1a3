/** Merging two records. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, taken } from "./client";
import { refetchAll } from "./records";

interface Merge {
  stays: Record<string, unknown> & { version: number };
  goes: Record<string, unknown>;
  takes: Record<string, unknown>;
  moving: Record<string, number>;
}

export const useMergePreview = (plural: string, stays: string, other: string) =>
  useQuery<Merge, ProblemError>({
    queryKey: ["merge", plural, stays, other],
    retry: false,
    queryFn: async () =>
      (await taken(
        api.GET(`/api/v1/${plural}/{handle}/merge` as "/api/v1/assets/{handle}/merge", {
          params: { path: { handle: stays }, query: { other } },
        }),
      )) as unknown as Merge,
  });

export function useMerge(plural: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { id: string; version: number; other: string }>({
    mutationFn: ({ id, version, other }) =>
      taken(
        api.POST(`/api/v1/${plural}/{handle}/merge` as "/api/v1/assets/{handle}/merge", {
          params: { path: { handle: id }, header: { "If-Match": `"${version}"` } },
          body: { other },
        }),
      ),
    onSuccess: () => refetchAll(cache),
  });
}
