import { type ReactNode, useState } from "react";
import { Link } from "wouter";
import type { Schemas } from "../api/client";
import type { PacketBrief } from "../api/packets";
import { useMe } from "../api/session";
import { useToday } from "../api/today";
import { Badge, lifeTone } from "../components/badge";
import { Key } from "../components/key";
import { Mono } from "../components/mono";
import { Nothing } from "../components/nothing";
import { PageTitle } from "../components/page-title";
import { ProblemNote } from "../components/problem-note";
import { Rows } from "../components/rows";
import { Heading, Soft } from "../components/text";
import { Waiting } from "../components/waiting";
import { daysTo, sayAtDesk, sayDay, sayDue, sayMoment, sayWait } from "../format/dates";
import { count, sayMoney } from "../format/numbers";
import { useKeys } from "../keyboard/keys";
import { FirstSteps } from "./first/first-steps";
import { Reports } from "./notices/report";
import { type Attention, DUES, HEADINGS, mayEscalate } from "./packets/attention";
import { PacketRow } from "./packets/packet-row";
import { Tray } from "./tray";

/** What is decided about the end of a term. */
const DECIDED = { renew: "renew", cancel: "cancel", let_end: "let it end" } as const;

export function TodayPage() {
  const [withOthers, setWithOthers] = useState(false);
  const today = useToday(!withOthers);
  const me = useMe();
  useKeys("todays", { others: () => setWithOthers(!withOthers) });
  const day = new Date().toLocaleDateString("en-GB", { weekday: "long", day: "numeric", month: "long" });
  return (
    <main className="mx-auto grid w-full max-w-[1180px] grid-cols-[minmax(0,1fr)_340px] gap-x-9 gap-y-6 px-6 py-7 max-lg:grid-cols-1">
      <div>
        <PageTitle title="Today">{day}</PageTitle>
        {today.data ? <Said today={today.data} /> : <Soft>Looking at what waits…</Soft>}
        {today.data && today.data.others > 0 && (
          <label className="mt-1 flex w-fit items-center gap-2 text-soft">
            <input type="checkbox" checked={withOthers} onChange={(event) => setWithOthers(event.target.checked)} />
            with the {count(today.data.others, "packet", "packets")} that others look after <Key>O</Key>
          </label>
        )}
        <ProblemNote problem={today.error} />
        {today.data && !today.data.worker && <NoWorker seen={today.data.worker_seen_at} />}
        {today.data?.mailbox_trouble && <Trouble>{today.data.mailbox_trouble}</Trouble>}
        {today.data?.desks_away.map((one) => (
          <Trouble key={one.desk}>
            {one.desk} has not been reached since {sayMoment(one.since)}: {one.words} What waits for it is sent as soon
            as it is back.
          </Trouble>
        ))}
        <Reports label="Reported by vendors" reports={today.data?.reports} />
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
            {one.what} {one.way === "to_vendor" ? "has to go back" : "should be here"} by {sayDay(one.due_on ?? "")}
            {one.late_cost_minor !== null && `, then ${sayMoney(one.late_cost_minor, one.currency)} are charged`}:{" "}
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
        {today.data && today.data.releases.length > 0 && <Releases items={today.data.releases} />}
        {today.data?.empty && <FirstSteps keeper={me.data?.roles.includes("keeper") ?? false} />}
        <section className="mt-6">
          <Heading level={2}>Our turn</Heading>
          {today.isPending && !today.error && <Waiting label="Our turn is being read" />}
          {today.data &&
            PARTS.map((part) => (
              <Part key={part} title={HEADINGS[part] ?? ""} packets={today.data.ours.filter(isIn(part))} />
            ))}
          {today.data?.ours.length === 0 && <Nothing>Nothing waits for us. Press N to note something.</Nothing>}
          <More
            shown={today.data?.ours.length}
            all={today.data?.ours_count}
            href="/packets?turn=ours&sort=turn_since"
          />
        </section>
        <section className="mt-6">
          <Heading level={2}>Their turn</Heading>
          {today.data && <Waits label="Their turn" packets={today.data.theirs} />}
          {today.data?.theirs.length === 0 && <Nothing>No vendor owes us an answer.</Nothing>}
          <More
            shown={today.data?.theirs.length}
            all={today.data?.theirs_count}
            href="/packets?turn=vendor&sort=turn_since"
          />
        </section>
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

/** Drafts that others have prepared, and that wait for a second person. */
function Releases({ items }: { items: Schemas["ReleaseAsked"][] }) {
  return (
    <section className="mt-6">
      <Heading level={2}>For you to seal</Heading>
      <ul>
        {items.map((one) => (
          <li key={one.number} className="flex flex-wrap items-baseline gap-x-3 border-t border-line py-2">
            <Link className="link" href={`/packets/${one.number}`}>
              {one.number}
            </Link>
            <span>{one.title}</span>
            <Soft>
              {one.vendor_name && `${one.vendor_name}, `}
              {one.asked_by} asks, {sayMoment(one.asked_at)}
            </Soft>
          </li>
        ))}
      </ul>
    </section>
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
  const waiting = today.ours_count;
  const seals = today.releases.length;
  const nothing = seals ? "" : "Nothing waits for us.";
  const asked = today.counts.find((one) => one.attention === "asked")?.packets ?? 0;
  return (
    <Soft aria-live="polite">
      {waiting ? `${count(waiting, "packet waits", "packets wait")} for us.` : nothing}
      {seals > 0 && ` ${count(seals, "packet waits", "packets wait")} for you to seal.`}
      {asked > 0 && ` ${count(asked, "vendor has", "vendors have")} asked back.`}
      {today.theirs_count > 0 && ` ${count(today.theirs_count, "packet is", "packets are")} with vendors.`}
      {waiting > 0 &&
        " In this order: overdue, due soon, questions, refusals, possible questions, entry by hand, the rest; in each the longest wait first."}
    </Soft>
  );
}

/** The parts of what needs us, in the order of the service. */
const PARTS = ["overdue", "due_soon", "asked", "refused", "doubtful", "by_hand", "waiting"] as const;

const isIn = (part: Attention) => (packet: PacketBrief) => packet.attention === part;

function Part({ title, packets }: { title: string; packets: PacketBrief[] }) {
  if (packets.length === 0) return null;
  return (
    <section className="mt-3">
      <h3 className="font-semibold text-soft">{title}</h3>
      <Waits label={title} packets={packets} />
    </section>
  );
}

function Waits({ label, packets }: { label: string; packets: PacketBrief[] }) {
  return (
    <Rows label={label}>
      {packets.map((packet) => (
        <PacketRow key={packet.number} packet={packet} beside={<Beside packet={packet} />} />
      ))}
    </Rows>
  );
}

/** Where the rest is, if there is more than is shown. */
function More({ shown = 0, all = 0, href }: { shown: number | undefined; all: number | undefined; href: string }) {
  if (all <= shown) return null;
  return (
    <p className="mt-2">
      <Link className="link" href={href}>
        {all - shown} more
      </Link>
    </p>
  );
}

/** Who looks after it and how long it has waited; of what waits for us also how far it is. */
function Beside({ packet }: { packet: PacketBrief }) {
  return (
    <span className="flex items-baseline gap-3 text-soft">
      {packet.due_at && (
        <Badge
          tone={packet.attention === "overdue" ? "wax" : "ochre"}
          title={sayAtDesk(packet.due_at, packet.due_zone)}
        >
          {DUES[packet.due_what]} {sayDue(packet.due_at)}
        </Badge>
      )}
      {mayEscalate(packet) && <Badge tone="wax">may be escalated</Badge>}
      {packet.attention === "waiting" && <Badge tone={lifeTone(packet.life)}>{packet.life}</Badge>}
      <span>{packet.owner || <Badge tone="ochre">nobody's</Badge>}</span>
      <span className="w-12 text-right tabular-nums" title={`since ${sayMoment(packet.turn_since)}`}>
        {sayWait(packet.turn_since)}
      </span>
    </span>
  );
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
        {item.decision && <Soft as="span">{DECIDED[item.decision]}, </Soft>}
        {notice === null && `ends in ${item.days} d`}
        {notice !== null && notice > 14 && `notice in ${notice} d`}
        {notice !== null && notice <= 14 && item.decision && `notice in ${notice} d`}
        {notice !== null && notice <= 14 && !item.decision && <Badge tone="ochre">notice in {notice} d</Badge>}
      </span>
    </div>
  );
}
