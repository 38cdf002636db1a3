/** Order papers. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { sendFile } from "./upload";

export type Paper = Schemas["PaperShown"];
export type Entry = Schemas["PaperEntry"];

export const usePapers = () =>
  useQuery<Schemas["PaperBrief"][], ProblemError>({
    queryKey: ["papers"],
    queryFn: async () => (await taken(api.GET("/api/v1/papers", { params: { query: { limit: 100 } } }))).items,
    refetchInterval: ({ state }) => (state.data?.some((paper) => paper.state === "reading") ? 1000 : false),
  });

export const usePaper = (ident: string) =>
  useQuery<Paper, ProblemError>({
    queryKey: ["paper", ident],
    queryFn: () => taken(api.GET("/api/v1/papers/{ident}", { params: { path: { ident } } })),
    refetchInterval: ({ state }) => (state.data?.state === "reading" ? 500 : false),
  });

export const usePaperPreview = (ident: string, entry: Entry | null) =>
  useQuery<Schemas["EntryPreview"], ProblemError>({
    queryKey: ["paper-preview", ident, entry],
    enabled: entry !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(api.POST("/api/v1/papers/{ident}/preview", { params: { path: { ident } }, body: entry as Entry })),
  });

export function usePaperAct(ident: string) {
  const cache = useQueryClient();
  return useMutation<Paper, ProblemError, { verb: "enter"; entry: Entry } | { verb: "aside" }>({
    mutationFn: (act) => {
      const params = { path: { ident } };
      return act.verb === "enter"
        ? taken(api.POST("/api/v1/papers/{ident}/enter", { params, body: act.entry }))
        : taken(api.POST("/api/v1/papers/{ident}/aside", { params }));
    },
    onSuccess: (paper) => {
      cache.setQueryData(["paper", ident], paper);
      cache.invalidateQueries({ predicate: ({ queryKey }) => !["me", "paper"].includes(queryKey[0] as string) });
    },
  });
}

/** A passcode that is shown is not kept in any cache. */
export const usePaperPasscode = (ident: string) =>
  useMutation<string[], ProblemError, void>({
    gcTime: 0,
    mutationFn: async () =>
      (await taken(api.POST("/api/v1/papers/{ident}/passcode", { params: { path: { ident } } }))).passcodes,
  });

export const useContractPasscode = (handle: string) =>
  useMutation<string, ProblemError, void>({
    gcTime: 0,
    mutationFn: async () =>
      (await taken(api.POST("/api/v1/contracts/{handle}/passcode", { params: { path: { handle } } }))).passcodes[0] ??
      "",
  });

export function useSendPaper() {
  const cache = useQueryClient();
  return useMutation<Paper, ProblemError, File>({
    mutationFn: (file) => sendFile<Paper>(`/api/v1/papers?${new URLSearchParams({ name: file.name })}`, file),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["papers"] }),
  });
}
