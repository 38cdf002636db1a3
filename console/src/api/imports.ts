/** Imports from files. */

import { keepPreviousData, type QueryClient, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { sendFile } from "./upload";

export type RecordKind = Schemas["ImportShown"]["kind"];

export type Import = Schemas["ImportShown"];

export const useImports = () =>
  useQuery<Import[], ProblemError>({
    queryKey: ["imports"],
    queryFn: async () => (await taken(api.GET("/api/v1/imports", { params: { query: { limit: 50 } } }))).items,
  });

const isBusy = (state: string) => ["reading", "applying", "undoing"].includes(state);

export const useImport = (ident: string) =>
  useQuery<Import, ProblemError>({
    queryKey: ["import", ident],
    queryFn: () => taken(api.GET("/api/v1/imports/{ident}", { params: { path: { ident } } })),
    refetchInterval: ({ state }) => (state.data && isBusy(state.data.state) ? 500 : false),
  });

export type Outcome = "new" | "changed" | "unchanged" | "rejected";

export const useImportRows = (shown: Import, outcome: Outcome) =>
  useQuery<Schemas["ImportRows"], ProblemError>({
    queryKey: ["import-rows", shown.id, shown.state, outcome, shown.counts, shown.mapping, shown.fixed],
    enabled: !isBusy(shown.state),
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/imports/{ident}/rows", {
          params: { path: { ident: shown.id }, query: { outcome, limit: 100 } },
        }),
      ),
  });

/** Keep what an act brought; a look begun before it knows less, and must not come after it. */
export async function keepImport(cache: QueryClient, shown: Import) {
  await cache.cancelQueries({ queryKey: ["import", shown.id] });
  cache.setQueryData(["import", shown.id], shown);
  await cache.invalidateQueries({ queryKey: ["import", shown.id] });
}

export function useImportAct() {
  const cache = useQueryClient();
  return useMutation<Import, ProblemError, { ident: string; act: "apply" | "undo" | "drop" }>({
    mutationFn: ({ ident, act }) => {
      const params = { path: { ident } };
      if (act === "drop") return taken(api.DELETE("/api/v1/imports/{ident}", { params }));
      if (act === "undo") return taken(api.POST("/api/v1/imports/{ident}/undo", { params }));
      return taken(api.POST("/api/v1/imports/{ident}/apply", { params }));
    },
    onSuccess: async (shown) => {
      await keepImport(cache, shown);
      cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" && queryKey[0] !== "import" });
    },
  });
}

export interface FileChoice {
  kind: RecordKind;
  file: File;
  vendor: string;
}

export function useBeginImport() {
  const cache = useQueryClient();
  return useMutation<Import, ProblemError, FileChoice>({
    mutationFn: async ({ kind, file, vendor }) => {
      const query = new URLSearchParams({ kind, name: file.name });
      if (vendor) query.set("fixed", JSON.stringify({ vendor }));
      return sendFile<Import>(`/api/v1/imports?${query}`, file);
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ["imports"] }),
  });
}
