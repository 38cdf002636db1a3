/** Telling it by mail and calendar. */

import { useDigest, useDigestChange, useNewCalendar } from "../../api/ahead";
import type { Schemas } from "../../api/client";
import { Button } from "../../components/button";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";

const OFTEN: [Schemas["DigestForm"]["every"], string][] = [
  ["never", "never"],
  ["daily", "every day"],
  ["weekly", "every Monday"],
  ["monthly", "on the first of the month"],
];

export function DigestSettings() {
  const digest = useDigest();
  const change = useDigestChange();
  const calendar = useNewCalendar();
  return (
    <Sheet className="p-4">
      <h2 className="mb-1 text-[16px]">Notifications</h2>
      <ProblemNote problem={digest.error ?? change.error ?? calendar.error} />
      {digest.data && (
        <>
          <label className="flex items-center gap-2">
            <Soft as="span">By mail</Soft>
            <select
              className="field w-auto"
              value={digest.data.every}
              onChange={(event) =>
                change.mutate({
                  every: event.target.value as Schemas["DigestForm"]["every"],
                  sites: digest.data.sites ?? [],
                  vendors: digest.data.vendors ?? [],
                })
              }
            >
              {OFTEN.map(([value, words]) => (
                <option key={value} value={value}>
                  {words}
                </option>
              ))}
            </select>
          </label>
          {!digest.data.mail_configured && <p className="mt-1 text-ochre">No mail server is configured yet.</p>}
          <p className="mt-3 text-soft">
            {digest.data.calendar
              ? "Your calendar has a private address. A new one ends it."
              : "A private address shows ends and notice days in your calendar."}
          </p>
          <Button className="mt-2" disabled={calendar.isPending} onClick={() => calendar.mutate()}>
            {digest.data.calendar ? "New address" : "Make an address"}
          </Button>
          {calendar.data && (
            <p className="mt-2">
              <Mono className="break-all select-all">{calendar.data.address}</Mono>
              <Soft as="span" block>
                Shown this once. Whoever has it can read it.
              </Soft>
            </p>
          )}
        </>
      )}
    </Sheet>
  );
}
