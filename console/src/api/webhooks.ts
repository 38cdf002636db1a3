/** Webhooks: addresses to which events are posted. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Webhook = Schemas["WebhookShown"];
export type RefusedEvent = Schemas["RefusedShown"];

export const useWebhooks = () =>
  useQuery<Webhook[], ProblemError>({
    queryKey: ["webhooks"],
    queryFn: async () => (await taken(api.GET("/api/v1/webhooks"))).items,
  });

export function useAddWebhook() {
  const cache = useQueryClient();
  return useMutation<Schemas["NewWebhook"], ProblemError, Schemas["WebhookBody"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/webhooks", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["webhooks"] }),
  });
}

export function useRemoveWebhook() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (name) => taken(api.DELETE("/api/v1/webhooks/{name}", { params: { path: { name } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["webhooks"] }),
  });
}

export const useRefusedEvents = (name: string) =>
  useQuery<RefusedEvent[], ProblemError>({
    queryKey: ["webhooks", name, "refused"],
    queryFn: async () =>
      (await taken(api.GET("/api/v1/webhooks/{name}/refused", { params: { path: { name } } }))).items,
  });

export function useResendEvent(name: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, number>({
    mutationFn: (seq) =>
      taken(api.POST("/api/v1/webhooks/{name}/refused/{seq}/resend", { params: { path: { name, seq } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["webhooks"] }),
  });
}
