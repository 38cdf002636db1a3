/** What is known already that is like a note, and ending a draft that it made needless. */
import { keepPreviousData, useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Similar = Schemas["Similar"];

export const useSimilar = (title: string, note: string, asset: string | undefined, number = "") =>
  useQuery<Similar, ProblemError>({
    enabled: title.trim().length > 4 || number !== "",
    queryKey: ["similar", title, note, asset ?? "", number],
    placeholderData: keepPreviousData,
    queryFn: () =>
      taken(api.GET("/api/v1/similar", { params: { query: { title, note: note.slice(0, 4000), asset, number } } })),
  });

export function useSolved(number: string) {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, { packet?: string; article?: string }>({
    mutationFn: ({ packet = "", article = "" }) =>
      taken(
        api.POST("/api/v1/packets/{number}/solved", {
          params: { path: { number } },
          body: { packet, article },
        }),
      ),
    onSettled: () => cache.invalidateQueries({ queryKey: ["packet", number] }),
  });
}
