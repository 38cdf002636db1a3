/** Assets. */

import { keepPreviousData, useMutation, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Asset = Schemas["AssetShown"];

export const useAssets = (query: string) =>
  useQuery<Asset[], ProblemError>({
    queryKey: ["assets", query],
    placeholderData: keepPreviousData,
    queryFn: async () =>
      (await taken(api.GET("/api/v1/assets", { params: { query: { q: query, limit: 100 } } }))).items,
  });

export const useAsset = (handle: string) =>
  useQuery<Asset, ProblemError>({
    queryKey: ["asset", handle],
    queryFn: () => taken(api.GET("/api/v1/assets/{handle}", { params: { path: { handle } } })),
  });

/** Read an asset at once, such as one that was chosen from a list without its fields. */
export const useReadAsset = () =>
  useMutation<Asset, ProblemError, string>({
    mutationFn: (handle) => taken(api.GET("/api/v1/assets/{handle}", { params: { path: { handle } } })),
  });
