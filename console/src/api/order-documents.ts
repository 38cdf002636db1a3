/** Order documents. */

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { sendFile } from "./upload";

export type OrderDocument = Schemas["OrderDocumentShown"];

export type Entry = Schemas["OrderDocumentEntry"];

export const useOrderDocuments = () =>
  useQuery<Schemas["OrderDocumentBrief"][], ProblemError>({
    queryKey: ["order-documents"],
    queryFn: async () => (await taken(api.GET("/api/v1/order-documents", { params: { query: { limit: 100 } } }))).items,
    refetchInterval: ({ state }) => (state.data?.some((order) => order.state === "reading") ? 1000 : false),
  });

export const useOrderDocument = (ident: string) =>
  useQuery<OrderDocument, ProblemError>({
    queryKey: ["order-document", ident],
    queryFn: () => taken(api.GET("/api/v1/order-documents/{ident}", { params: { path: { ident } } })),
    refetchInterval: ({ state }) => (state.data?.state === "reading" ? 500 : false),
  });

export const useOrderDocumentPreview = (ident: string, entry: Entry | null) =>
  useQuery<Schemas["EntryPreview"], ProblemError>({
    queryKey: ["order-document-preview", ident, entry],
    enabled: entry !== null,
    retry: false,
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(api.POST("/api/v1/order-documents/{ident}/preview", { params: { path: { ident } }, body: entry as Entry })),
  });

export function useOrderDocumentAct(ident: string) {
  const cache = useQueryClient();
  return useMutation<OrderDocument, ProblemError, { verb: "enter"; entry: Entry } | { verb: "aside" }>({
    mutationFn: (act) => {
      const params = { path: { ident } };
      return act.verb === "enter"
        ? taken(api.POST("/api/v1/order-documents/{ident}/enter", { params, body: act.entry }))
        : taken(api.POST("/api/v1/order-documents/{ident}/aside", { params }));
    },
    onSuccess: (order) => {
      cache.setQueryData(["order-document", ident], order);
      cache.invalidateQueries({
        predicate: ({ queryKey }) => !["me", "order-document"].includes(queryKey[0] as string),
      });
    },
  });
}

/** A passcode that is shown is not kept in any cache. */
export const useOrderDocumentPasscode = (ident: string) =>
  useMutation<string[], ProblemError, void>({
    gcTime: 0,
    mutationFn: async () =>
      (await taken(api.POST("/api/v1/order-documents/{ident}/passcode", { params: { path: { ident } } }))).passcodes,
  });

export function useSendOrderDocument() {
  const cache = useQueryClient();
  return useMutation<OrderDocument, ProblemError, File>({
    mutationFn: (file) =>
      sendFile<OrderDocument>(`/api/v1/order-documents?${new URLSearchParams({ name: file.name })}`, file),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["order-documents"] }),
  });
}
