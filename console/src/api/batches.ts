/** Many packets from one table or selection. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Batch = Schemas["BatchShown"];
export type BatchRow = Schemas["BatchRowForm"];
export type RowPreview = Schemas["RowPreview"];

export const usePreviewBatch = () =>
  useMutation<RowPreview[], ProblemError, BatchRow[]>({
    mutationFn: async (rows) => (await taken(api.POST("/api/v1/batches/preview", { body: { rows } }))).items,
  });

export function useNoteBatch() {
  const cache = useQueryClient();
  return useMutation<Batch, ProblemError, { title: string; rows: BatchRow[] }>({
    mutationFn: (body) => taken(api.POST("/api/v1/batches", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["batches"] }),
  });
}

export const useBatches = () =>
  useQuery<Schemas["BatchBrief"][], ProblemError>({
    queryKey: ["batches"],
    queryFn: async () => (await taken(api.GET("/api/v1/batches"))).items,
  });

export const useBatch = (ident: string) =>
  useQuery<Batch, ProblemError>({
    queryKey: ["batches", ident],
    queryFn: () => taken(api.GET("/api/v1/batches/{ident}", { params: { path: { ident } } })),
    refetchInterval: (query) => (query.state.data?.waiting ? 1000 : false),
  });

export function useRetryBatch(ident: string) {
  const cache = useQueryClient();
  return useMutation<Batch, ProblemError, Schemas["CorrectedRow"][]>({
    mutationFn: (rows) =>
      taken(api.POST("/api/v1/batches/{ident}/retry", { params: { path: { ident } }, body: { rows } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["batches", ident] }),
  });
}
