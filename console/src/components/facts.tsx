/** Facts of a thing, name beside value. */
import type { ReactNode } from "react";
import { join } from "./join";

/** What is known of a thing, name beside value. */
export function Facts({ facts, narrow }: { facts: [string, ReactNode][]; narrow?: boolean }) {
  return (
    <dl className={join("grid gap-y-1.5", narrow ? "grid-cols-[90px_1fr]" : "grid-cols-[120px_1fr]")}>
      {facts.map(([name, value]) => (
        <div key={name} className="contents">
          <dt className="text-soft">{name}</dt>
          <dd className="min-w-0 break-words">{value}</dd>
        </div>
      ))}
    </dl>
  );
}
