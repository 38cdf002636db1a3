/** A vendor's report of trouble or maintenance. */
import type { VendorReport } from "../../api/vendor-health";
import { Badge } from "../../components/badge";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";

const SAYS = { ongoing: "goes on", planned: "planned", over: "over" } as const;

export function Report({ report, whole = false }: { report: VendorReport; whole?: boolean }) {
  const ours = [...report.products, ...report.regions, ...report.sites];
  return (
    <div>
      <p>
        {report.vendor_name}:{" "}
        {report.link ? (
          <a className="link" href={report.link} target="_blank" rel="noreferrer">
            {report.title}
          </a>
        ) : (
          report.title
        )}{" "}
        <Badge tone={report.state === "ongoing" ? "ochre" : "plain"}>
          {report.sort === "maintenance" ? `maintenance, ${SAYS[report.state]}` : SAYS[report.state]}
        </Badge>
      </p>
      <Soft>{[ours.join(", ") || "names nothing of ours", times(report)].filter(Boolean).join(" · ")}</Soft>
      {whole && report.summary && <p className="mt-1 line-clamp-4">{report.summary}</p>}
    </div>
  );
}

function times(report: VendorReport): string {
  if (report.begins_at && report.ends_at) return `${sayMoment(report.begins_at)} to ${sayMoment(report.ends_at)}`;
  if (report.begins_at) return `${report.state === "planned" ? "from" : "since"} ${sayMoment(report.begins_at)}`;
  return "";
}

/** Reports in a list with a name; nothing if there are none. */
export function Reports({ label, reports }: { label: string; reports: VendorReport[] | undefined }) {
  if (!reports?.length) return null;
  return (
    <ul aria-label={label}>
      {reports.map((one) => (
        <li key={one.id} className="mt-3 border-l-3 border-ochre px-3 py-1.5">
          <Report report={one} />
        </li>
      ))}
    </ul>
  );
}
