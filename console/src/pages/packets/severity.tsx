/** Who sets the severity, what it comes to, and by what rule it may be raised. */
import type { Packet } from "../../api/packets";

export function SeverityNote({ packet }: { packet: Packet }) {
  const rule = packet.severity;
  if (!rule) return null;
  const level = rule.label || rule.level;
  const told =
    rule.set_by === "desk"
      ? "The desk sets the severity itself."
      : rule.set_by === "computed"
        ? level
          ? `From the answers the severity is ${level}.`
          : "The severity follows from the answers."
        : level
          ? `The severity is ${level}.`
          : "";
  return (
    <div className="border-b border-line px-4 py-2.5 text-soft empty:hidden">
      {told && <p>{told}</p>}
      {/* Where a question asks us for it, its choices say the same. */}
      {rule.set_by !== "us" && rule.levels.length > 0 && (
        <ul className="mt-1 grid gap-x-6 text-[12.5px] sm:grid-cols-2">
          {rule.levels.map((one) => (
            <li key={one.label}>
              <b className="font-semibold text-ink">{one.label}</b> {one.meaning}
              {one.duties.includes("reachable_day_and_night") && " Someone of ours has to be reachable day and night."}
            </li>
          ))}
        </ul>
      )}
      {rule.raising && <p className="mt-1 text-[12.5px]">{rule.raising}</p>}
      {rule.escalation.map((step) => (
        <p key={step.trigger} className="text-[12.5px]">
          If {step.trigger}: {step.action} {step.contact}
        </p>
      ))}
    </div>
  );
}
