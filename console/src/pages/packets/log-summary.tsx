/** What a log among the exhibits says: its hours, what is new in those that matter, and what is known about it. */

import { useState } from "react";
import type { Exhibit } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import { type Hours, type Summary, useCut, useSummary } from "../../api/summaries";
import { Button } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { count, saySize } from "../../format/numbers";
import { momentAt, placeOf, type Window } from "./brush";
import { LogMessages } from "./log-messages";
import { LogTimeline } from "./log-timeline";

interface Props {
  packet: Packet;
  exhibit: Exhibit;
  mayCut: boolean;
}

export function LogSummary({ packet, exhibit, mayCut }: Props) {
  const [window, setWindow] = useState<Window>();
  const [hours, setHours] = useState<Hours>();
  const found = useSummary(packet.number, exhibit.name, hours);
  const cut = useCut(packet.number);
  const summary = found.data;
  if (!summary) {
    return (
      <Sheet className="p-4">
        <ProblemNote problem={found.error} />
        {!found.error && <Waiting label="Loading the summary" lines={12} />}
      </Sheet>
    );
  }
  const choose = (next: Window | undefined) => {
    setWindow(next);
    setHours(
      next && {
        start: momentAt(summary.first, summary.last, next.from),
        end: momentAt(summary.first, summary.last, next.to),
      },
    );
  };
  const told = summary.window ? asWindow(summary) : undefined;
  return (
    <>
      <Sheet>
        <Head summary={summary} />
        <LogTimeline summary={summary} began={packet.began_at} chosen={window ?? told} choose={choose} />
        <div className="flex min-h-11 flex-wrap items-center gap-3 border-t border-line px-4 py-1.5">
          {hours ? (
            <>
              <span className="tabular-nums">
                {sayMoment(hours.start)} to {sayMoment(hours.end)}
              </span>
              {mayCut && (
                <Button disabled={cut.isPending} onClick={() => cut.mutate({ name: exhibit.name, hours })}>
                  Keep only these hours
                </Button>
              )}
              <Button look="bare" onClick={() => choose(undefined)}>
                Clear
              </Button>
            </>
          ) : (
            <Soft as="span">
              {told
                ? "Around the moment when it began. Drag over the hours that matter, or use the arrow keys."
                : "Drag over the hours that matter, or use the arrow keys."}
            </Soft>
          )}
        </div>
        <ProblemNote problem={cut.error} />
      </Sheet>
      <Issues summary={summary} />
      <LogMessages summary={summary} />
    </>
  );
}

/** The window that the service chose. */
function asWindow(summary: Summary): Window | undefined {
  if (!summary.window) return undefined;
  const from = placeOf(summary.first, summary.last, summary.window.start);
  const to = placeOf(summary.first, summary.last, summary.window.end);
  return to < 0 || from > 1 ? undefined : { from: Math.max(0, from), to: Math.min(1, to) };
}

const minutes = (seconds: number) => {
  const whole = Math.round(seconds);
  if (whole < 90) return count(whole, "second");
  return whole < 5400 ? count(Math.round(whole / 60), "minute") : `${(whole / 3600).toFixed(1)} hours`;
};

function Head({ summary }: { summary: Summary }) {
  const [first, ...others] = summary.writers;
  const apart = others.filter((one) => Math.abs(one.ahead) >= 1);
  return (
    <div className="px-4 pt-3 pb-2">
      <p className="tabular-nums">
        {sayMoment(summary.first)} to {sayMoment(summary.last)}
        <Soft as="span">
          {" · "}
          {saySize(summary.octets)}, {count(summary.lines, "line")}, {count(summary.kinds, "different message")}
        </Soft>
      </p>
      {apart.map((one) => (
        <p key={one.name} className="text-ochre">
          The clock of {one.name} is {minutes(Math.abs(one.ahead))} {one.ahead > 0 ? "ahead of" : "behind"} that of{" "}
          {first?.name}.
        </p>
      ))}
      {apart.length === 0 && summary.notes.map((note) => <Soft key={note}>{note}</Soft>)}
      {summary.facts.length > 0 && (
        <Soft>
          {summary.facts.slice(0, 6).map((fact, place) => (
            <span key={fact.name}>
              {place > 0 && " · "}
              {fact.name} <span className="text-ink">{fact.value}</span>
            </span>
          ))}
        </Soft>
      )}
      {summary.gaps.slice(0, 3).map((gap) => (
        <Soft key={gap.line}>
          Nothing for {minutes((Date.parse(gap.end) - Date.parse(gap.start)) / 1000)} from {sayMoment(gap.start)}.
        </Soft>
      ))}
    </div>
  );
}

function Issues({ summary }: { summary: Summary }) {
  return summary.issues.map((issue) => (
    <Sheet key={issue.key} title={`Known issue: ${issue.title}`} className="pb-3">
      <div className="px-4 pt-1">
        <p className="text-soft tabular-nums">
          {count(issue.count, "line")}, {sayMoment(issue.first)} to {sayMoment(issue.last)}
        </p>
        {issue.meaning && <p>{issue.meaning}</p>}
        {issue.advice && <p className="font-semibold">{issue.advice}</p>}
        {issue.fixed_in && <p>Fixed in {issue.fixed_in}.</p>}
        {issue.link?.startsWith("https://") && (
          <a className="link" href={issue.link} rel="noreferrer noopener" target="_blank">
            Our note
          </a>
        )}
        <p className="truncate pt-1 font-mono text-[12.5px] text-soft" title={issue.example}>
          {issue.example}
        </p>
      </div>
    </Sheet>
  ));
}
