/** The cover of an asset, now and over the years. */

import type { Asset } from "../../api/assets";
import { type Need, useCoverage } from "../../api/coverage";
import { useTimeline } from "../../api/records";
import { type Bar, DayLanes, type Lane, sayDays } from "../../components/day-lanes";
import { ProblemNote } from "../../components/problem-note";
import { Reasons } from "../../components/reasons";
import { RouteBadge } from "../../components/route-badge";
import { Sheet } from "../../components/sheet";
import { Heading, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { NEEDS } from "../../format/needs";

/** Two years back and two ahead, whole years. */
function years(): [string, string] {
  const year = new Date().getUTCFullYear();
  return [`${year - 2}-01-01`, `${year + 2}-12-31`];
}

export function OverTime({ asset, need }: { asset: Asset; need: Need }) {
  const [since, until] = years();
  const timeline = useTimeline(asset.id, need, since, until);
  const spans: Bar[] = (timeline.data?.spans ?? []).map((span) => {
    const bare = span.route === "none" || span.route === "paid";
    const what = bare ? "Not covered" : [span.contract ?? span.route, span.level].filter(Boolean).join(", ");
    const also = span.also?.length ? `; also ${span.also.join(", ")}` : "";
    const words = `${what}: ${sayDays(span.starts_on, span.ends_on)}${also}`;
    return { from: span.starts_on, to: span.ends_on, tone: bare ? "gap" : "moss", words };
  });
  const byEntitlement = new Map<string, Lane>();
  for (const bar of timeline.data?.bars ?? []) {
    const key = `${bar.contract} ${bar.entitlement}`;
    const lane = byEntitlement.get(key) ?? { name: bar.contract, beside: bar.level, bars: [] };
    const words = `${bar.entitlement}, ${bar.level}: ${sayDays(bar.starts_on, bar.ends_on)}`;
    lane.bars.push({ from: bar.starts_on, to: bar.ends_on, tone: "ink", words });
    byEntitlement.set(key, lane);
  }
  return (
    <section className="mt-5">
      <h2 className="mb-2 text-[18px] leading-6">Cover over time</h2>
      <ProblemNote problem={timeline.error} />
      {timeline.isPending && !timeline.error && <Waiting label="Cover is being ruled on" lines={3} />}
      {timeline.data && (
        <DayLanes
          label={`Cover for a ${need}, day by day`}
          since={since}
          until={until}
          lanes={[{ name: "cover", beside: `for a ${need}`, bars: spans }, ...byEntitlement.values()]}
        />
      )}
    </section>
  );
}

export function Cover({ asset, need, setNeed }: { asset: Asset; need: Need; setNeed: (need: Need) => void }) {
  const ruling = useCoverage(asset.id, need);
  return (
    <Sheet className="p-4">
      <div className="mb-2 flex items-center justify-between gap-3">
        <Heading level={2} size="small">
          Cover today
        </Heading>
        {ruling.data && <RouteBadge ruling={ruling.data} />}
      </div>
      <label className="mb-3 flex items-center gap-2">
        <Soft as="span">for a</Soft>
        <select className="field w-auto" value={need} onChange={(event) => setNeed(event.target.value as Need)}>
          {NEEDS.map((value) => (
            <option key={value}>{value}</option>
          ))}
        </select>
      </label>
      <ProblemNote problem={ruling.error} />
      {ruling.data ? <Reasons ruling={ruling.data} /> : !ruling.error && <Waiting label="Cover is being ruled on" />}
    </Sheet>
  );
}
