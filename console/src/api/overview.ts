/** Today and finding. */
import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export const useToday = (mine: boolean) =>
  useQuery<Schemas["Today"], ProblemError>({
    queryKey: ["today", mine],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/today", { params: { query: { mine } } })),
    refetchInterval: 20_000,
  });

export const useFind = (query: string) =>
  useQuery<Schemas["Found"], ProblemError>({
    queryKey: ["find", query],
    enabled: query.trim().length > 1,
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/find", { params: { query: { q: query.trim() } } })),
  });
