/** Answers to vendors. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";
import { keep, type Packet } from "./packets";

/** What would leave of an answer; asked for when a person wants to look it over. */
export const useReplyPreview = (number: string, text: string) =>
  useQuery<Schemas["TypedShown"], ProblemError>({
    queryKey: ["reply-preview", number, text],
    enabled: text.trim() !== "",
    queryFn: () =>
      taken(api.POST("/api/v1/packets/{number}/messages/preview", { params: { path: { number } }, body: { text } })),
  });

export function useReply(number: string) {
  const cache = useQueryClient();
  return useMutation<Packet, ProblemError, { text: string; key: string }>({
    mutationFn: ({ text, key }) =>
      taken(
        api.POST("/api/v1/packets/{number}/messages", {
          params: { path: { number } },
          body: { text },
          headers: { "Idempotency-Key": key },
        }),
      ),
    onSuccess: (packet) => keep(cache, packet),
  });
}
