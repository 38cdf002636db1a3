/** Accounts, tokens and one's own password, as hooks over the typed client. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Account = Schemas["AccountShown"];

export type Token = Schemas["TokenShown"];

export const useAccounts = () =>
  useQuery<Account[], ProblemError>({
    queryKey: ["accounts"],
    queryFn: async () => (await taken(api.GET("/api/v1/accounts"))).items,
  });

export function useAddAccount() {
  const cache = useQueryClient();
  return useMutation<Account, ProblemError, Schemas["NewAccount"]>({
    mutationFn: (body) => taken(api.POST("/api/v1/accounts", { body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["accounts"] }),
  });
}

export function useChangeAccount() {
  const cache = useQueryClient();
  return useMutation<Account, ProblemError, { name: string; change: Schemas["AccountChange"] }>({
    mutationFn: ({ name, change }) =>
      taken(api.PATCH("/api/v1/accounts/{name}", { params: { path: { name } }, body: change })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["accounts"] }),
  });
}

export function useSignOutEverywhere() {
  const cache = useQueryClient();
  return useMutation<Account, ProblemError, string>({
    mutationFn: (name) => taken(api.POST("/api/v1/accounts/{name}/sign-out", { params: { path: { name } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["accounts"] }),
  });
}

export const useTokens = () =>
  useQuery<Token[], ProblemError>({
    queryKey: ["tokens"],
    queryFn: async () => (await taken(api.GET("/api/v1/tokens"))).items,
  });

export function useAddToken(account: string) {
  const cache = useQueryClient();
  return useMutation<Schemas["Token"], ProblemError, Schemas["TokenWish"]>({
    mutationFn: (body) =>
      taken(api.POST("/api/v1/accounts/{name}/tokens", { params: { path: { name: account } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["tokens"] }),
  });
}

export function useRevokeToken() {
  const cache = useQueryClient();
  return useMutation<Schemas["Done"], ProblemError, string>({
    mutationFn: (ident) => taken(api.DELETE("/api/v1/tokens/{ident}", { params: { path: { ident } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["tokens"] }),
  });
}

export function useChangePassword() {
  return useMutation<Schemas["Done"], ProblemError, { current: string; new: string }>({
    mutationFn: (body) => taken(api.PUT("/api/v1/me/password", { body })),
    onSuccess: () => window.location.assign("/"),
  });
}
