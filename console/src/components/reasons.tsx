/** The reasons of a ruling, and the candidates that were passed over. */
import type { Ruling } from "../api/coverage";

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
