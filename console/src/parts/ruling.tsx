/** A ruling in plain sentences: reasons first, then who was passed over and why. */
import type { Ruling } from "../api/data";
import { Badge } from "./basics";

export function RouteBadge({ ruling }: { ruling: Ruling }) {
  if (!ruling.holds)
    return <Badge tone="wax">{ruling.route === "none" ? "no cover" : `${ruling.route}, not yet`}</Badge>;
  return <Badge tone={ruling.route === "paid" ? "ochre" : "moss"}>{ruling.route}</Badge>;
}

export function Reasons({ ruling, cures = true }: { ruling: Ruling; cures?: boolean }) {
  return (
    <>
      <p>{ruling.reasons.join(" ")}</p>
      {ruling.warnings?.map((warning) => (
        <p key={warning} className="mt-1 text-ochre">
          {warning}
        </p>
      ))}
      {cures &&
        ruling.cures.map((cure) => (
          <p key={cure.code + cure.sentence} className="mt-1 font-semibold text-ochre">
            {cure.sentence}
          </p>
        ))}
      {ruling.passed_over.length > 0 && (
        <ul className="mt-2 text-soft">
          {ruling.passed_over.map((item) => (
            <li key={item.contract + item.entitlement + item.sentence}>
              {item.contract ? `Passed over: ${item.contract} ${item.entitlement}. ${item.sentence}` : item.sentence}
            </li>
          ))}
        </ul>
      )}
    </>
  );
}
