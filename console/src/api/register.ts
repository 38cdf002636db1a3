/** The register, imports and the time ahead, as hooks over the typed client. */
import {
  keepPreviousData,
  type QueryClient,
  useInfiniteQuery,
  useMutation,
  useQuery,
  useQueryClient,
} from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import type { Need } from "./data";
import { sendFile } from "./upload";

export type RecordKind = Schemas["ImportShown"]["kind"];
export type Import = Schemas["ImportShown"];
export type Ahead = Schemas["Ahead"];

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
const readAnew = (cache: QueryClient) => cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" });

/** Add a record, or change the version of it that was read. */
export function useKeepRecord(plural: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { id?: string; version?: number; values: Record<string, unknown> }>({
    mutationFn: ({ id, version, values }) => {
      if (!id) return taken(api.POST(`/api/v1/${plural}` as "/api/v1/vendors", { body: values as never }));
      return taken(
        api.PATCH(`/api/v1/${plural}/{handle}` as "/api/v1/vendors/{handle}", {
          params: { path: { handle: id } },
          headers: { "If-Match": `"${version}"` },
          body: values as never,
        }),
      );
    },
    onSuccess: () => readAnew(cache),
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
          params: { path: { handle: id } },
          headers: { "If-Match": `"${version}"` },
          body: values as never,
        }),
      ),
    onSuccess: () => readAnew(cache),
  });
}

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
          params: { path: { handle: id } },
          headers: { "If-Match": `"${version}"` },
          body: { other },
        }),
      ),
    onSuccess: () => readAnew(cache),
  });
}

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

export const useReadLabel = () =>
  useMutation<Schemas["CodeRead"][], ProblemError, File>({
    mutationFn: async (file) => (await sendFile<Schemas["CodesRead"]>("/api/v1/labels/read", file)).items,
  });

/** The labels of things, saved as a PDF. */
export const usePrintLabels = () =>
  useMutation<void, ProblemError, string[]>({
    mutationFn: async (assets) => {
      const sheet = await taken(api.POST("/api/v1/labels/sheet", { body: { assets }, parseAs: "blob" }));
      const link = document.createElement("a");
      link.href = URL.createObjectURL(sheet as unknown as Blob);
      link.download = "labels.pdf";
      link.click();
      URL.revokeObjectURL(link.href);
    },
  });

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

export const useWholeContract = (handle: string) =>
  useQuery<Schemas["WholeContract"], ProblemError>({
    queryKey: ["contract", handle],
    queryFn: () => taken(api.GET("/api/v1/contracts/{handle}/whole", { params: { path: { handle } } })),
  });

export const useAhead = (vendor: string, days: number) =>
  useQuery<Ahead, ProblemError>({
    queryKey: ["ahead", vendor, days],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/ahead", { params: { query: { vendor, days } } })),
    refetchInterval: ({ state }) => (state.data && !state.data.fresh ? 3000 : false),
  });

export const useAligned = (vendor: string) =>
  useQuery<Schemas["Aligned"], ProblemError>({
    queryKey: ["aligned", vendor],
    enabled: vendor !== "",
    retry: false,
    queryFn: () => taken(api.GET("/api/v1/ahead/aligned", { params: { query: { vendor } } })),
  });

export const useDigest = () =>
  useQuery<Schemas["DigestShown"], ProblemError>({
    queryKey: ["digest"],
    queryFn: () => taken(api.GET("/api/v1/digest")),
  });

export function useDigestChange() {
  const cache = useQueryClient();
  return useMutation<Schemas["DigestShown"], ProblemError, Schemas["DigestForm"]>({
    mutationFn: (body) => taken(api.PUT("/api/v1/digest", { body })),
    onSuccess: (digest) => cache.setQueryData(["digest"], digest),
  });
}

export function useNewCalendar() {
  const cache = useQueryClient();
  return useMutation<Schemas["CalendarAddress"], ProblemError, void>({
    mutationFn: () => taken(api.POST("/api/v1/digest/calendar")),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["digest"] }),
  });
}

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
async function keepImport(cache: QueryClient, shown: Import) {
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
