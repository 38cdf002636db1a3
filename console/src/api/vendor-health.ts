/** What vendors report of their services. */
import { useQuery } from "@tanstack/react-query";
import { api, type ProblemError, type Schemas, taken } from "./client";

export type VendorReport = Schemas["VendorReportShown"];

/** All reports that are not over; with `asset` or `packet` only those that may concern or explain it. */
export const useVendorHealth = (about: { asset?: string; packet?: string; over?: boolean } = {}, enabled = true) =>
  useQuery<Schemas["VendorHealth"], ProblemError>({
    enabled,
    queryKey: ["vendor-health", about],
    queryFn: () => taken(api.GET("/api/v1/vendor-health", { params: { query: about } })),
  });
