/** Saved lists. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export const useViews = (plural: string) =>
  useQuery<Schemas["ViewShown"][], ProblemError>({
    queryKey: ["views", plural],
    queryFn: async () => (await taken(api.GET("/api/v1/views", { params: { query: { plural } } }))).items,
  });

export function useKeepView() {
  const cache = useQueryClient();
  return useMutation<Schemas["ViewShown"], ProblemError, Schemas["ViewForm"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/views", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["views"] }),
  });
}

export function useDropView() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (ident) => taken(api.DELETE("/api/v1/views/{ident}", { params: { path: { ident } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["views"] }),
  });
}
