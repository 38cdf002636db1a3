/** A program of somebody else's: it has to compile with what openapi-typescript makes by itself, without a cast. */

import createClient from "openapi-fetch";
import type { paths } from "../src/api/schema";

export async function raise(baseUrl: string, token: string, log: Blob): Promise<string> {
  const api = createClient<paths>({ baseUrl, headers: { Authorization: `Bearer ${token}` } });
  const noted = await api.POST("/api/v1/packets", {
    params: { header: { "Idempotency-Key": "alert-77120" } },
    body: { title: "The array loses a drive shelf", our_reference: "alert-77120" },
  });
  if (noted.error) throw new Error(`${noted.error.detail} ${noted.error.remedy}`);
  const number = noted.data.number;
  await api.POST("/api/v1/packets/{number}/exhibits", {
    params: { path: { number } },
    body: { name: "array.log", size: log.size },
  });
  await api.PUT("/api/v1/packets/{number}/exhibits/{name}/content", {
    params: { path: { number, name: "array.log" } },
    body: log,
    bodySerializer: (file) => file,
  });
  const read = await api.GET("/api/v1/packets/{number}", { params: { path: { number } } });
  const changed = await api.PATCH("/api/v1/packets/{number}", {
    params: { path: { number }, header: { "If-Match": read.response.headers.get("ETag") ?? "*" } },
    body: { title: "The array has lost a drive shelf" },
  });
  const ours = await api.GET("/api/v1/packets", { params: { query: { life: "drafting", turn: "ours" } } });
  const numbers: string[] = (ours.data?.items ?? []).map((one) => one.number);
  return changed.data?.life === "drafting" ? numbers.join(" ") : number;
}
