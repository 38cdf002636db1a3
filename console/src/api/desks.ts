/** Desks and their sheets. */

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Desk = Schemas["DeskShown"];

export type SheetPreview = Schemas["SheetPreview"];

export const useDesks = () =>
  useQuery<Desk[], ProblemError>({
    queryKey: ["desks"],
    queryFn: async () => (await taken(api.GET("/api/v1/desks"))).items,
  });

export const useDesk = (key: string) =>
  useQuery<Schemas["DeskWithSheet"], ProblemError>({
    queryKey: ["desk", key],
    queryFn: () => taken(api.GET("/api/v1/desks/{key}", { params: { path: { key } } })),
  });

/** What is found in a sheet as it is typed, and a sample of what it makes. */
export const useSheetPreview = (yaml: string, seed: number, need: string) =>
  useQuery<SheetPreview, ProblemError>({
    queryKey: ["sheet-preview", yaml, seed, need],
    enabled: yaml.trim() !== "",
    placeholderData: keepPreviousData,
    staleTime: Number.POSITIVE_INFINITY,
    gcTime: 10_000,
    queryFn: () => taken(api.POST("/api/v1/desks/preview", { body: { yaml, seed, need } })),
  });

export function usePutSheet() {
  const cache = useQueryClient();
  return useMutation<Desk, ProblemError, string>({
    mutationFn: (yaml) => taken(api.POST("/api/v1/desks", { body: { yaml } })),
    onSuccess: (desk) => {
      cache.invalidateQueries({ queryKey: ["desks"] });
      cache.invalidateQueries({ queryKey: ["desk", desk.key] });
    },
  });
}

export type ReplyRead = Schemas["ReadReply"];

/** What replies of a desk would do, by the sheet. */
export const useReadReplies = () =>
  useMutation<ReplyRead[], ProblemError, { yaml: string; replies: { name: string; text: string }[] }>({
    mutationFn: async (body) => (await taken(api.POST("/api/v1/desks/read", { body }))).items,
  });

/** A sheet, begun from what a vendor has. */
export const useBeginSheet = () =>
  useMutation<string, ProblemError, File>({
    mutationFn: async (file) => {
      const bytes = new Uint8Array(await file.arrayBuffer());
      let content = "";
      for (let at = 0; at < bytes.length; at += 0x8000) {
        content += String.fromCharCode(...bytes.subarray(at, at + 0x8000));
      }
      const body = { name: file.name, content: btoa(content), operation: "", root: "" };
      return (await taken(api.POST("/api/v1/desks/begin", { body }))).yaml;
    },
  });

export function useTrySheet() {
  return useMutation<Schemas["TrialShown"], ProblemError, Schemas["SheetTried"]>({
    mutationFn: async (body) => {
      let trial = await taken(api.POST("/api/v1/desks/trials", { body }));
      while (!trial.done) {
        await new Promise((ready) => setTimeout(ready, 400));
        trial = await taken(api.GET("/api/v1/desks/trials/{ident}", { params: { path: { ident: trial.id } } }));
      }
      return trial;
    },
  });
}

/** Put a question that a desk asks back into its sheet, so that drafts ask it first. */
export function useAskFirst(key: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["DeskShown"], ProblemError, Schemas["AskFirst"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/desks/{key}/asked-back", { params: { path: { key } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["desks"] }),
  });
}
