import type { ReactNode } from "react";
import type { Schemas } from "../api/client";
import { useToday } from "../api/overview";
import type { PacketBrief } from "../api/packets";
import { Badge } from "../components/badge";
import { Mono } from "../components/mono";
import { Nothing } from "../components/nothing";
import { PageTitle } from "../components/page-title";
import { ProblemNote } from "../components/problem-note";
import { Rows } from "../components/rows";
import { Heading, Soft } from "../components/text";
import { Waiting } from "../components/waiting";
import { daysTo, sayDay, sayMoment } from "../format/dates";
import { count } from "../format/numbers";
import { PacketRow } from "./packets/packet-row";
import { Tray } from "./tray";

export function TodayPage() {
  const today = useToday();
  const day = new Date().toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" });
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_340px] gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1">
      <div>
        <PageTitle>{day}</PageTitle>
        {today.data ? <Said today={today.data} /> : <Soft>Looking at what waits…</Soft>}
        <ProblemNote problem={today.error} />
        {today.data && !today.data.worker && <NoWorker seen={today.data.worker_seen_at} />}
        {today.data?.mailbox_trouble && <Trouble>{today.data.mailbox_trouble}</Trouble>}
        {today.data?.desks_away.map((one) => (
          <Trouble key={one.desk}>
            {one.desk} has not been reached since {sayMoment(one.since)}: {one.words} What waits for it is sent as soon
            as it is back.
          </Trouble>
        ))}
        {today.data?.access_overdue.map((one) => (
          <Trouble key={one.id}>
            {one.who} should be out of {one.what} since {sayMoment(one.until_at)}:{" "}
            <a className="link" href={`/packets/${one.packet}/replies`}>
              {one.packet}
            </a>
          </Trouble>
        ))}
        {today.data?.shipments_due.map((one) => (
          <Trouble key={one.id}>
            {one.what} {one.way === "to_vendor" ? "has to go back" : "should be here"} by {sayDay(one.due_on ?? "")}:{" "}
            <a className="link" href={`/packets/${one.packet}/replies`}>
              {one.packet}
            </a>
          </Trouble>
        ))}
        {today.data && (
          <Tray
            items={today.data.tray}
            count={today.data.tray_count}
            packets={[...today.data.ours, ...today.data.theirs]}
          />
        )}
        <Turn title="Our turn" packets={today.data?.ours} empty="Nothing waits for us. Press N to note something." />
        <Turn title="Their turn" packets={today.data?.theirs} empty="No vendor owes us an answer." />
      </div>
      <aside aria-labelledby="ending">
        <Heading level={2} id="ending">
          Ending soon
        </Heading>
        {today.isPending && !today.error && <Waiting label="Loading contracts" lines={3} />}
        {today.data?.ending.map((item) => (
          <Ending key={item.contract} item={item} />
        ))}
        {today.data?.ending.length === 0 && <Nothing>No contract ends within 90 days.</Nothing>}
      </aside>
    </main>
  );
}

/** Something outside that does not work just now. */
function Trouble({ children }: { children: ReactNode }) {
  return (
    <p role="status" className="mt-3 border-l-3 border-ochre px-3 py-1.5">
      {children}
    </p>
  );
}

/** Without the worker nothing moves, and nobody would see why. */
function NoWorker({ seen }: { seen: string | null }) {
  return (
    <div role="alert" className="mt-3 rounded-md border-l-3 border-wax bg-wax-wash px-3 py-2">
      <p>
        The worker is not running: nothing is redacted, sent or followed.
        {seen && ` It was seen last ${sayMoment(seen)}.`}
      </p>
      <Soft>Have it started: sealpacket-service work</Soft>
    </div>
  );
}

function Said({ today }: { today: Schemas["Today"] }) {
  const waiting = today.ours.length;
  const asked = today.ours.filter((packet) => packet.life === "lodged").length;
  return (
    <Soft>
      {waiting ? `${count(waiting, "packet waits", "packets wait")} for us.` : "Nothing waits for us."}
      {asked > 0 && ` ${count(asked, "vendor has", "vendors have")} asked back.`}
      {today.theirs.length > 0 && ` ${count(today.theirs.length, "packet is", "packets are")} with vendors.`}
    </Soft>
  );
}

function Turn({ title, packets, empty }: { title: string; packets: PacketBrief[] | undefined; empty: string }) {
  return (
    <section className="mt-6">
      <Heading level={2}>{title}</Heading>
      {packets ? (
        <Rows label={title}>
          {packets.map((packet) => (
            <PacketRow key={packet.number} packet={packet} beside={<Beside packet={packet} />} />
          ))}
        </Rows>
      ) : (
        <Waiting label={`${title} is being read`} />
      )}
      {packets?.length === 0 && <Nothing>{empty}</Nothing>}
    </section>
  );
}

function Beside({ packet }: { packet: PacketBrief }) {
  if (packet.turn === "vendor") return <Soft as="span">{sayMoment(packet.updated_at)}</Soft>;
  if (packet.life === "lodged") return <Badge tone="wax">asked</Badge>;
  const tones = { refused: "wax", answered: "moss" } as const;
  return <Badge tone={tones[packet.life as keyof typeof tones] ?? "ochre"}>{packet.life}</Badge>;
}

function Ending({ item }: { item: Schemas["Ending"] }) {
  const notice = item.notice_on ? daysTo(item.notice_on) : null;
  return (
    <div className="grid grid-cols-[76px_1fr_auto] items-start gap-x-2 border-b border-line py-3">
      <Mono>{item.contract}</Mono>
      <span className="min-w-0">
        <span className="block truncate">{item.vendor}</span>
        <span className="block truncate text-soft">
          {item.title}
          {item.assets > 0 && `, ${count(item.assets, "asset")}`}
        </span>
      </span>
      <span title={`ends ${sayDay(item.ends_on)}`}>
        {notice === null && `ends in ${item.days} d`}
        {notice !== null && notice > 14 && `notice in ${notice} d`}
        {notice !== null && notice <= 14 && <Badge tone="ochre">notice in {notice} d</Badge>}
      </span>
    </div>
  );
}
