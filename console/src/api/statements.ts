/** Vendor statements beside the register. */

import { keepPreviousData, useInfiniteQuery, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { sendFile } from "./upload";

export type Statement = Schemas["StatementShown"];

export type Difference = Schemas["DifferenceShown"];

export type Sort = Difference["sort"];

export const useStatements = () =>
  useQuery<Statement[], ProblemError>({
    queryKey: ["statements"],
    queryFn: async () => (await taken(api.GET("/api/v1/statements", { params: { query: { limit: 100 } } }))).items,
    refetchInterval: ({ state }) => (state.data?.some((one) => one.state === "reading") ? 1000 : false),
  });

export const useStatement = (ident: string) =>
  useQuery<Statement, ProblemError>({
    queryKey: ["statement", ident],
    queryFn: () => taken(api.GET("/api/v1/statements/{ident}", { params: { path: { ident } } })),
    refetchInterval: ({ state }) => (state.data?.state === "reading" ? 500 : false),
  });

export const useDifferences = (ident: string, sort: Sort | "", undecided: boolean) =>
  useInfiniteQuery<Schemas["Differences"], ProblemError>({
    queryKey: ["differences", ident, sort, undecided],
    placeholderData: keepPreviousData,
    initialPageParam: 0,
    getNextPageParam: (last) => last.next,
    queryFn: ({ pageParam }) => {
      const query = { sort, undecided, above: pageParam as number, limit: 100 };
      return taken(api.GET("/api/v1/statements/{ident}/differences", { params: { path: { ident }, query } }));
    },
  });

type Act =
  | { verb: "decide"; numbers: number[]; verdict: "ours" | "theirs"; reason: string }
  | { verb: "ask"; numbers: number[] };

export function useStatementAct(ident: string) {
  const cache = useQueryClient();
  return useMutation<string | null, ProblemError, Act>({
    mutationFn: async (act) => {
      const params = { path: { ident } };
      if (act.verb === "ask") {
        const body = { numbers: act.numbers };
        return (await taken(api.POST("/api/v1/statements/{ident}/ask", { params, body }))).packet;
      }
      const { numbers, verdict, reason } = act;
      await taken(api.POST("/api/v1/statements/{ident}/decide", { params, body: { numbers, verdict, reason } }));
      return null;
    },
    // Not waited for: while all is read again, the next row can be chosen and decided already.
    onSuccess: () => void cache.invalidateQueries({ predicate: ({ queryKey }) => queryKey[0] !== "me" }),
  });
}

export function useSendStatement() {
  const cache = useQueryClient();
  return useMutation<Statement, ProblemError, { vendor: string; asOf: string; file: File }>({
    mutationFn: ({ vendor, asOf, file }) => {
      const query = new URLSearchParams({ vendor, name: file.name, as_of: asOf });
      return sendFile<Statement>(`/api/v1/statements?${query}`, file);
    },
    onSuccess: () => cache.invalidateQueries({ queryKey: ["statements"] }),
  });
}
