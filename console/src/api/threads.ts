/** The thread of a packet: all that happened, in one order. */
import { useInfiniteQuery, useMutation, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type ThreadEntry = Schemas["ThreadEntry"];
export type ThreadSort = Schemas["ThreadSort"];
type Thread = Schemas["Thread"];

export const useThread = (number: string, sorts: ThreadSort[], version: number) =>
  useInfiniteQuery<Thread, ProblemError>({
    queryKey: ["thread", number, sorts, version],
    initialPageParam: "",
    placeholderData: (before) => before,
    getNextPageParam: (page) => page.next,
    queryFn: ({ pageParam }) =>
      taken(
        api.GET("/api/v1/packets/{number}/thread", {
          params: { path: { number }, query: { sort: sorts, cursor: String(pageParam) } },
        }),
      ),
  });

export function useLook(number: string) {
  const cache = useQueryClient();
  return useMutation<Thread, ProblemError, void>({
    mutationFn: () => taken(api.PUT("/api/v1/packets/{number}/looked", { params: { path: { number } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["thread", number] }),
  });
}
