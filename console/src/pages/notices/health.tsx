/** Trouble and maintenance that vendors report. */
import { useState } from "react";
import { useVendorHealth } from "../../api/vendor-health";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { Report } from "./report";
import { NoticeTabs } from "./tabs";

export function VendorHealthPage() {
  const [over, setOver] = useState(false);
  const health = useVendorHealth({ over });
  return (
    <PageMain width="text">
      <NoticeTabs />
      <PageTitle>Vendor health</PageTitle>
      <Soft>Trouble and maintenance that vendors report of their services.</Soft>
      <label className="mt-2 flex w-fit items-center gap-2 text-soft">
        <input type="checkbox" checked={over} onChange={(event) => setOver(event.target.checked)} />
        with those that are over
      </label>
      <ProblemNote problem={health.error} />
      {health.isPending && !health.error && <Waiting label="Loading reports" />}
      {health.data?.feeds
        .filter((one) => one.trouble)
        .map((one) => (
          <p key={one.vendor} role="status" className="mt-3 border-l-3 border-ochre px-3 py-1.5">
            The feed of {one.vendor} could not be read: {one.trouble}
          </p>
        ))}
      {health.data?.items.map((one) => (
        <article key={one.id} aria-label={one.title} className="border-b border-line py-3">
          <Report report={one} whole />
        </article>
      ))}
      {health.data?.items.length === 0 && (
        <Nothing>
          {health.data.feeds.length
            ? "No vendor reports trouble or maintenance."
            : "No feeds are configured: SEALPACKET_HEALTH_FEEDS names one for each vendor."}
        </Nothing>
      )}
    </PageMain>
  );
}
