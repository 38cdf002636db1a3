/** What ends, lapses or is paid twice. */

import { useState } from "react";
import { type Ahead, useAhead } from "../../api/ahead";
import { useVendors } from "../../api/records";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { DigestSettings } from "./digest";
import { OneEnd, Parts } from "./parts";

const DAYS = [30, 60, 90, 365];

export function AheadPage() {
  const [vendor, setVendor] = useState("");
  const [days, setDays] = useState(90);
  const ahead = useAhead(vendor, days);
  const vendors = useVendors();
  return (
    <PageMain width="wide" aside>
      <div className="min-w-0">
        <PageTitle>Looking ahead</PageTitle>
        <Soft>{ahead.data ? <Said ahead={ahead.data} days={days} /> : "Working it out…"}</Soft>
        <div className="my-3 flex flex-wrap gap-2.5">
          <select
            aria-label="Vendor"
            className="field w-auto"
            value={vendor}
            onChange={(event) => setVendor(event.target.value)}
          >
            <option value="">Vendor: all</option>
            {vendors.data?.map((one) => (
              <option key={one.key} value={one.key}>
                {one.name}
              </option>
            ))}
          </select>
          <select
            aria-label="Ends within"
            className="field w-auto"
            value={days}
            onChange={(event) => setDays(Number(event.target.value))}
          >
            {DAYS.map((one) => (
              <option key={one} value={one}>
                ends within {one} days
              </option>
            ))}
          </select>
        </div>
        <ProblemNote problem={ahead.error} />
        {ahead.isPending && !ahead.error && <Waiting label="The time ahead is being worked out" lines={10} />}
        {ahead.data && !ahead.data.fresh && (
          <p role="status" className="text-ochre">
            The register has changed since; this is being worked out anew.
          </p>
        )}
        {ahead.data && <Parts ahead={ahead.data} vendor={vendor} days={days} />}
      </div>
      <aside className="flex flex-col gap-4">
        <OneEnd vendor={vendor} />
        <DigestSettings />
      </aside>
    </PageMain>
  );
}

function Said({ ahead, days }: { ahead: Ahead; days: number }) {
  const { counts, ending } = ahead;
  return (
    <>
      {count(ending.length, "contract ends", "contracts end")} within {days} days
      {`, ${count(counts.uncovered, "thing is", "things are")} not covered`}
      {counts.twice > 0 && `, ${count(counts.twice, "is", "are")} paid for twice`}.
    </>
  );
}
