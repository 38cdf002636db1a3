/** What is agreed besides cover: capacity, levels of service, prepaid units, licence keys, versions. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Plan = Schemas["CapacityPlan"];

export const usePlanCapacity = () =>
  useMutation<Plan, ProblemError, Schemas["PlanForm"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/capacity/plan", { body })),
  });

export function useAskCapacity() {
  const cache = useQueryClient();
  return useMutation<Schemas["PacketShown"], ProblemError, Schemas["CapacityForm"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/capacity/ask", { body })),
    onSuccess: () => cache.invalidateQueries(),
  });
}

export const useLimitRequests = (handle: string) =>
  useQuery<Schemas["LimitRequestShown"][], ProblemError>({
    queryKey: ["limits", handle, "requests"],
    queryFn: async () =>
      (await taken(api.GET("/api/v1/limits/{handle}/requests", { params: { path: { handle } } }))).items,
  });

export const useLevels = (handle: string, from_on: string) =>
  useQuery<Schemas["LevelsCompared"], ProblemError>({
    queryKey: ["contracts", handle, "levels", from_on],
    placeholderData: (before) => before,
    queryFn: () =>
      taken(
        api.GET("/api/v1/contracts/{handle}/levels", {
          params: { path: { handle }, query: from_on ? { from_on } : {} },
        }),
      ),
  });

export const useUnitBalance = (vendor: string) =>
  useQuery<Schemas["UnitBalance"], ProblemError>({
    queryKey: ["lots", "balance", vendor],
    queryFn: () => taken(api.GET("/api/v1/units/balance", { params: { query: { vendor } } })),
  });

export function useLicenceKey() {
  return useMutation<string, ProblemError, string>({
    mutationFn: async (handle) =>
      (await taken(api.POST("/api/v1/licences/{handle}/key", { params: { path: { handle } } }))).key,
  });
}

export const useAssetsBehind = (vendor: string) =>
  useQuery<Schemas["AssetBehind"][], ProblemError>({
    queryKey: ["releases", "behind", vendor],
    queryFn: async () => (await taken(api.GET("/api/v1/versions/behind", { params: { query: { vendor } } }))).items,
  });

export const useExpiring = (vendor: string, days: number) =>
  useQuery<Schemas["ExpiringSoon"][], ProblemError>({
    queryKey: ["ahead", "expiring", vendor, days],
    queryFn: async () => (await taken(api.GET("/api/v1/expiring", { params: { query: { vendor, days } } }))).items,
  });
