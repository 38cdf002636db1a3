/** Records of the register. */
import {
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import type { Need } from "./coverage";
import { type Import, keepImport, type RecordKind } from "./imports";

export interface Narrow {
  q: string;
  vendor: string;
  site: string;
  status: string;
  sort: string;
}

type Page = { items: { id: string }[]; next: string | null };

export const useRecords = (plural: string, narrow: Narrow) =>
  useInfiniteQuery<Page, ProblemError>({
    queryKey: ["records", plural, narrow],
    placeholderData: keepPreviousData,
    initialPageParam: "",
    getNextPageParam: (last) => last.next,
    queryFn: async ({ pageParam }) => {
      const given = Object.fromEntries(Object.entries(narrow).filter(([, value]) => value));
      const query = { ...given, limit: 100, cursor: pageParam as string };
      return (await taken(api.GET(`/api/v1/${plural}` as "/api/v1/vendors", { params: { query } }))) as Page;
    },
  });

export const useVendors = () =>
  useQuery<Schemas["VendorShown"][], ProblemError>({
    queryKey: ["vendors"],
    staleTime: 60_000,
    queryFn: async () => (await taken(api.GET("/api/v1/vendors", { params: { query: { limit: 200 } } }))).items,
  });

export const useProducts = (vendor: string) =>
  useQuery<Schemas["ProductShown"][], ProblemError>({
    queryKey: ["products", vendor],
    staleTime: 60_000,
    queryFn: async () =>
      (await taken(api.GET("/api/v1/products", { params: { query: { limit: 200, vendor } } }))).items,
  });

export const useSites = () =>
  useQuery<Schemas["SiteShown"][], ProblemError>({
    queryKey: ["sites"],
    staleTime: 60_000,
    queryFn: async () => (await taken(api.GET("/api/v1/sites", { params: { query: { limit: 200 } } }))).items,
  });

export const usePeople = () =>
  useQuery<Schemas["PersonShown"][], ProblemError>({
    queryKey: ["people"],
    staleTime: 60_000,
    queryFn: async () => (await taken(api.GET("/api/v1/people", { params: { query: { limit: 200 } } }))).items,
  });

/** Everything that was read may be different after an act on the register. */
export const refetchAll = (cache: QueryClient) =>
  cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" });

/** Add a record, or change the version of it that was read. */
export function useKeepRecord(plural: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { id?: string; version?: number; values: Record<string, unknown> }>({
    mutationFn: ({ id, version, values }) => {
      if (!id) return taken(api.POST(`/api/v1/${plural}` as "/api/v1/vendors", { body: values as never }));
      return taken(
        api.PATCH(`/api/v1/${plural}/{handle}` as "/api/v1/vendors/{handle}", {
          params: { path: { handle: id }, header: { "If-Match": `"${version}"` } },
          body: values as never,
        }),
      );
    },
    onSuccess: () => refetchAll(cache),
  });
}

export type Act = "renew" | "amend" | "move" | "transfer";

/** An act on a record that counts from a day on. */
export function useDatedAct(plural: string, act: Act) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { id: string; version: number; values: Record<string, unknown> }>({
    mutationFn: ({ id, version, values }) =>
      taken(
        api.POST(`/api/v1/${plural}/{handle}/${act}` as "/api/v1/contracts/{handle}/renew", {
          params: { path: { handle: id }, header: { "If-Match": `"${version}"` } },
          body: values as never,
        }),
      ),
    onSuccess: () => refetchAll(cache),
  });
}

export const useTimeline = (asset: string, need: Need, since: string, until: string) =>
  useQuery<Schemas["Timeline"], ProblemError>({
    queryKey: ["timeline", asset, need, since, until],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/coverage/timeline", { params: { query: { asset, need, since, until } } })),
  });

export const useHistory = (plural: "assets" | "contracts", handle: string) =>
  useQuery<Schemas["History"], ProblemError>({
    queryKey: ["history", plural, handle],
    queryFn: () =>
      taken(
        api.GET(`/api/v1/${plural}/{handle}/history` as "/api/v1/assets/{handle}/history", {
          params: { path: { handle } },
        }),
      ),
  });

export function useColumns(ident: string) {
  const cache = useQueryClient();
  return useMutation<Import, ProblemError, Schemas["ColumnChoice"]>({
    mutationFn: (body) => taken(api.PUT("/api/v1/imports/{ident}/columns", { params: { path: { ident } }, body })),
    onSuccess: (shown) => keepImport(cache, shown),
  });
}

export function useBulk() {
  return useMutation<Import, ProblemError, { kind: RecordKind; ids: string[]; changes: Record<string, unknown> }>({
    mutationFn: (body) => taken(api.POST("/api/v1/imports/bulk", { body })),
  });
}
