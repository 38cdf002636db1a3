/** What the house has written down: articles, and known issues that logs are searched for. */
import { useMutation, useQuery, useQueryClient } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Article = Schemas["ArticleShown"];

export type KnownIssue = Schemas["KnownIssueShown"];

export const useArticles = () =>
  useQuery<Schemas["ArticleBrief"][], ProblemError>({
    queryKey: ["articles"],
    queryFn: async () => (await taken(api.GET("/api/v1/articles"))).items,
  });

export const useArticle = (key: string) =>
  useQuery<Article, ProblemError>({
    queryKey: ["articles", key],
    enabled: key !== "",
    queryFn: () => taken(api.GET("/api/v1/articles/{key}", { params: { path: { key } } })),
  });

export function usePutArticle() {
  const cache = useQueryClient();
  return useMutation<Article, ProblemError, { key: string; body: Schemas["ArticleBody"] }>({
    mutationFn: ({ key, body }) => taken(api.PUT("/api/v1/articles/{key}", { params: { path: { key } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["articles"] }),
  });
}

export function useRemoveArticle() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (key) => taken(api.DELETE("/api/v1/articles/{key}", { params: { path: { key } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["articles"] }),
  });
}

export const useKnownIssues = () =>
  useQuery<KnownIssue[], ProblemError>({
    queryKey: ["known-issues"],
    queryFn: async () => (await taken(api.GET("/api/v1/known-issues"))).items,
  });

export function usePutKnownIssue() {
  const cache = useQueryClient();
  return useMutation<KnownIssue, ProblemError, { key: string; body: Schemas["KnownIssueBody"] }>({
    mutationFn: ({ key, body }) => taken(api.PUT("/api/v1/known-issues/{key}", { params: { path: { key } }, body })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["known-issues"] }),
  });
}

export function useRemoveKnownIssue() {
  const cache = useQueryClient();
  return useMutation<unknown, ProblemError, string>({
    mutationFn: (key) => taken(api.DELETE("/api/v1/known-issues/{key}", { params: { path: { key } } })),
    onSuccess: () => cache.invalidateQueries({ queryKey: ["known-issues"] }),
  });
}
