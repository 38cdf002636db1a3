/** Diagnostic kits, the safe, and how devices are reached. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type KitOffered = Schemas["KitOffered"];

export type KitRun = Schemas["KitRunShown"];

export type Reach = Schemas["ReachShown"];

export const useKits = () =>
  useQuery<Schemas["KitBrief"][], ProblemError>({
    queryKey: ["kits"],
    queryFn: async () => (await taken(api.GET("/api/v1/kits"))).items,
  });

export const useKit = (name: string) =>
  useQuery<Schemas["KitShown"], ProblemError>({
    queryKey: ["kits", name],
    enabled: name !== "",
    queryFn: () => taken(api.GET("/api/v1/kits/{name}", { params: { path: { name } } })),
  });

export function usePutKit() {
  const cache = useQueryClient();
  return useMutation<Schemas["KitShown"], ProblemError, string>({
    mutationFn: (yaml) => taken(api.POST("/api/v1/kits", { body: { yaml } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["kits"] }),
  });
}

export function useRetireKit() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (name) => taken(api.DELETE("/api/v1/kits/{name}", { params: { path: { name } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["kits"] }),
  });
}

export const useOffered = (number: string, asset: string) =>
  useQuery<KitOffered[], ProblemError>({
    queryKey: ["offered", number, asset],
    enabled: asset !== "",
    queryFn: async () =>
      (await taken(api.GET("/api/v1/packets/{number}/kits", { params: { path: { number } } }))).items,
  });

export function useCollect(number: string) {
  const cache = useQueryClient();
  return useMutation<KitRun, ProblemError, { kit: string; seen: number }>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/kits", { params: { path: { number } }, body })),
    onSettled: () => {
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["offered", number] });
    },
  });
}

export const useSecrets = () =>
  useQuery<Schemas["SecretShown"][], ProblemError>({
    queryKey: ["safe"],
    queryFn: async () => (await taken(api.GET("/api/v1/safe"))).items,
  });

export function useKeepSecret() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { name: string; value: string; what: string }>({
    mutationFn: ({ name, ...body }) => taken(api.PUT("/api/v1/safe/{name}", { params: { path: { name } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["safe"] }),
  });
}

export function useRemoveSecret() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (name) => taken(api.DELETE("/api/v1/safe/{name}", { params: { path: { name } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["safe"] }),
  });
}

/** How a device is reached; null where nobody has said so. */
export const useReach = (handle: string) =>
  useQuery<Reach | null, ProblemError>({
    queryKey: ["reach", handle],
    queryFn: async () => {
      try {
        return await taken(api.GET("/api/v1/assets/{handle}/reach", { params: { path: { handle } } }));
      } catch (error) {
        if ((error as ProblemError).code === "no-reach") return null;
        throw error;
      }
    },
  });

export function usePutReach(handle: string) {
  const cache = useQueryClient();
  return useMutation<Reach, ProblemError, Schemas["ReachBody"]>({
    mutationFn: (body) => taken(api.PUT("/api/v1/assets/{handle}/reach", { params: { path: { handle } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["reach", handle] }),
  });
}

export function useRemoveReach(handle: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, void>({
    mutationFn: () => taken(api.DELETE("/api/v1/assets/{handle}/reach", { params: { path: { handle } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["reach", handle] }),
  });
}
