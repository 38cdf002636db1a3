/** Summaries of logs among the exhibits, and keeping only some hours of one. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Summary = Schemas["Summary"];

export type MessageFound = Schemas["MessageFound"];

/** A part of a log's time, as RFC 3339. */
export interface Hours {
  start: string;
  end: string;
}

export const useSummary = (number: string, name: string, hours: Hours | undefined) =>
  useQuery<Summary, ProblemError>({
    queryKey: ["summary", number, name, hours?.start ?? "", hours?.end ?? ""],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(
        api.GET("/api/v1/packets/{number}/exhibits/{name}/summary", {
          params: { path: { number, name }, query: hours ?? {} },
        }),
      ),
  });

export function useCut(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { name: string; hours: Hours }>({
    mutationFn: ({ name, hours }) =>
      taken(
        api.POST("/api/v1/packets/{number}/exhibits/{name}/cut", {
          params: { path: { number, name } },
          body: hours,
        }),
      ),
    onSettled: () => {
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["summary", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
    },
  });
}
