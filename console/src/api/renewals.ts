/** What is known and decided about the end of a contract's term. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Renewal = Schemas["RenewalCompared"];

export const useRenewal = (handle: string) =>
  useQuery<Renewal, ProblemError>({
    queryKey: ["contracts", handle, "renewal"],
    queryFn: () => taken(api.GET("/api/v1/contracts/{handle}/renewal", { params: { path: { handle } } })),
  });

export function useDecideRenewal(handle: string) {
  const cache = useQueryClient();
  return useMutation<Renewal, ProblemError, Schemas["RenewalDecisionForm"]>({
    mutationFn: (body) =>
      taken(api.POST("/api/v1/contracts/{handle}/renewal/decide", { params: { path: { handle } }, body })),
    onSuccess: (renewal) => {
      cache.setQueryData(["contracts", handle, "renewal"], renewal);
      cache.invalidateQueries({ queryKey: ["today"] });
    },
  });
}

/** Notes a packet that asks for a quote, or that cancels the contract. */
export function useAskRenewal(handle: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["PacketShown"], ProblemError, "quote" | "cancellation">({
    mutationFn: (wanted) =>
      taken(api.POST("/api/v1/contracts/{handle}/renewal/ask", { params: { path: { handle } }, body: { wanted } })),
    onSuccess: () => cache.invalidateQueries(),
  });
}
