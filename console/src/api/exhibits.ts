/** Acts on exhibits. */

import { useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Exhibit = Schemas["ExhibitShown"];

export function useExhibitAct(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { act: "remove" | "redact" | "release"; name: string; reason?: string }>({
    mutationFn: ({ act, name, reason }) => {
      const params = { params: { path: { number, name } } };
      if (act === "remove") return taken(api.DELETE("/api/v1/packets/{number}/exhibits/{name}", params));
      if (act === "redact") return taken(api.POST("/api/v1/packets/{number}/exhibits/{name}/redact", params));
      return taken(
        api.POST("/api/v1/packets/{number}/exhibits/{name}/release", { ...params, body: { reason: reason ?? "" } }),
      );
    },
    onSettled: () => {
      cache.invalidateQueries({ queryKey: ["packet", number] });
      cache.invalidateQueries({ queryKey: ["review", number] });
    },
  });
}

export function useAttach(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { packet: string; name: string }>({
    mutationFn: (body) => taken(api.POST("/api/v1/packets/{number}/attached", { params: { path: { number } }, body })),
    onSettled: () => cache.invalidateQueries({ queryKey: ["packet", number] }),
  });
}

export function useDeleteOriginals(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (reason) =>
      taken(api.POST("/api/v1/packets/{number}/originals/delete", { params: { path: { number } }, body: { reason } })),
    onSettled: () => cache.invalidateQueries({ queryKey: ["packet", number] }),
  });
}
