/** Signing in and out. */

import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, rememberCsrf, type Schemas, taken } from "./client";

export type Me = Schemas["Me"];

export function useMe() {
  return useQuery<Me, ProblemError>({
    queryKey: ["me"],
    staleTime: Number.POSITIVE_INFINITY,
    retry: false,
    queryFn: async () => {
      const me = await taken(api.GET("/api/v1/me"));
      rememberCsrf(me.csrf);
      return me;
    },
  });
}

export const useSignInWays = () =>
  useQuery<Schemas["SignInWays"], ProblemError>({
    queryKey: ["sign-in"],
    staleTime: Number.POSITIVE_INFINITY,
    queryFn: () => taken(api.GET("/api/v1/sign-in")),
  });

/** Keep who has signed in; what an earlier one has read is forgotten. */
export function useSignedIn() {
  const cache = useQueryClient();
  return (me: Me) => {
    rememberCsrf(me.csrf);
    cache.removeQueries({ predicate: (query) => query.queryKey[0] !== "me" });
    cache.setQueryData(["me"], me);
  };
}

export function useSignIn() {
  return useMutation<Me, ProblemError, { name: string; password: string }>({
    mutationFn: (body) => taken(api.POST("/api/v1/sign-in", { body })),
    onSuccess: useSignedIn(),
  });
}

export function useSignOut() {
  const cache = useQueryClient();
  return useMutation({
    mutationFn: () => taken(api.POST("/api/v1/sign-out")),
    onSettled: (left) => {
      cache.clear();
      sessionStorage.clear();
      window.location.assign(left?.next || "/");
    },
  });
}
