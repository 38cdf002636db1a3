/** The route of a ruling. */
import type { Ruling } from "../api/coverage";
import { Badge } from "./badge";

export function RouteBadge({ ruling }: { ruling: Ruling }) {
  if (!ruling.holds)
    return <Badge tone="wax">{ruling.route === "none" ? "no cover" : `${ruling.route}, not yet`}</Badge>;
  return <Badge tone={ruling.route === "paid" ? "ochre" : "moss"}>{ruling.route}</Badge>;
}
