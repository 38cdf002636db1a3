/** What ends and lapses. */

import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Ahead = Schemas["Ahead"];

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
