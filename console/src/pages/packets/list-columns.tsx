/** The columns that a list of packets can have. */

import type { PacketBrief } from "../../api/packets";
import { Badge, lifeTone } from "../../components/badge";
import { Mono } from "../../components/mono";
import type { Column } from "../../components/table";
import { sayAtDesk, sayDay, sayDue, sayMoment, sayWait } from "../../format/dates";
import { attentionTone, DUES, REASONS } from "./attention";

type Row = PacketBrief & { id: string };

const sayDueThere = (at: string, zone: string) => [sayMoment(at), sayAtDesk(at, zone)].filter(Boolean).join(", ");
const mono = (value: string | null) => (value ? <Mono>{value}</Mono> : null);
const TURNS = { ours: "ours", vendor: "theirs", none: "" };

export const COLUMNS: Column<Row>[] = [
  { key: "number", title: "Packet", sort: "number", show: (one) => mono(one.number) },
  {
    key: "title",
    title: "Title",
    sort: "title",
    show: (one) => (
      <span className="block min-w-48">
        <span className="block truncate">{one.title}</span>
        <span className="block truncate text-soft">{one.status_text}</span>
      </span>
    ),
  },
  { key: "vendor_name", title: "Vendor", sort: "vendor_name", show: (one) => one.vendor },
  { key: "product", title: "About", sort: "product", show: (one) => one.asset?.product },
  { key: "serial", title: "Serial", show: (one) => mono(one.asset?.serial ?? null) },
  { key: "site_name", title: "Site", sort: "site_name", show: (one) => one.asset?.site },
  { key: "need", title: "Need", sort: "need", show: (one) => one.need },
  { key: "severity", title: "Severity", sort: "severity", show: (one) => one.severity },
  { key: "owner", title: "Looked after by", sort: "owner", show: (one) => one.owner || <i>nobody</i> },
  {
    key: "attention",
    title: "Needs us",
    show: (one) => one.turn === "ours" && <Badge tone={attentionTone(one.attention)}>{REASONS[one.attention]}</Badge>,
  },
  { key: "turn", title: "Turn", show: (one) => TURNS[one.turn] },
  {
    key: "turn_since",
    title: "Since",
    sort: "turn_since",
    right: true,
    show: (one) => <span title={sayMoment(one.turn_since)}>{sayWait(one.turn_since)}</span>,
  },
  {
    key: "life",
    title: "State",
    sort: "life",
    show: (one) => <Badge tone={lifeTone(one.life)}>{one.life}</Badge>,
  },
  {
    key: "due_at",
    title: "Due",
    sort: "due_at",
    show: (one) =>
      one.due_at && (
        <span
          title={sayDueThere(one.due_at, one.due_zone)}
          className={one.attention === "overdue" ? "text-wax" : undefined}
        >
          {DUES[one.due_what]} {sayDue(one.due_at)}
        </span>
      ),
  },
  { key: "reference", title: "Reference", sort: "reference", show: (one) => mono(one.reference) },
  { key: "ticket", title: "Our ticket", show: (one) => mono(one.ticket) },
  { key: "our_reference", title: "Our reference", show: (one) => mono(one.our_reference) },
  { key: "contract", title: "Contract", show: (one) => mono(one.contract) },
  { key: "exhibits", title: "Exhibits", right: true, show: (one) => one.exhibits || null },
  { key: "messages", title: "Messages", right: true, show: (one) => one.messages || null },
  {
    key: "last_word",
    title: "Last word",
    show: (one) =>
      one.last_word && <span title={`${one.last_word_from}, ${sayMoment(one.last_word_at)}`}>{one.last_word}</span>,
  },
  { key: "created_at", title: "Noted", sort: "created_at", show: (one) => sayDay(one.created_at) },
  { key: "updated_at", title: "Changed", sort: "updated_at", show: (one) => sayMoment(one.updated_at) },
];

/** The columns that are shown until somebody chooses others. */
export const USUAL = ["number", "title", "vendor_name", "site_name", "severity", "owner", "turn", "turn_since", "life"];
