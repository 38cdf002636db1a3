/** Contracts. */
import { useMutation, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export const useContractPasscode = (handle: string) =>
  useMutation<string, ProblemError, void>({
    gcTime: 0,
    mutationFn: async () =>
      (await taken(api.POST("/api/v1/contracts/{handle}/passcode", { params: { path: { handle } } }))).passcodes[0] ??
      "",
  });

export const useWholeContract = (handle: string) =>
  useQuery<Schemas["WholeContract"], ProblemError>({
    queryKey: ["contract", handle],
    queryFn: () => taken(api.GET("/api/v1/contracts/{handle}/whole", { params: { path: { handle } } })),
  });
