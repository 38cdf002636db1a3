/** Rulings. */

import { keepPreviousData, useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type Ruling = Schemas["Ruling"];

export type Need = Ruling["need"];

export const useCoverage = (asset: string, need: Need) =>
  useQuery<Ruling, ProblemError>({
    queryKey: ["coverage", asset, need],
    placeholderData: keepPreviousData,
    queryFn: () => taken(api.GET("/api/v1/coverage", { params: { query: { asset, need } } })),
  });
