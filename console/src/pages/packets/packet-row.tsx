/** A packet in a list. */

import type { ReactNode } from "react";
import { Link } from "wouter";
import type { PacketBrief } from "../../api/packets";
import { Badge, lifeTone } from "../../components/badge";
import { Mono } from "../../components/mono";

export function PacketRow({ packet, beside }: { packet: PacketBrief; beside?: ReactNode }) {
  return (
    <li className="border-b border-line">
      <Link
        data-row
        href={`/packets/${packet.number}`}
        className="-mx-2 grid grid-cols-[72px_1fr_auto] items-start gap-x-2.5 px-2 py-2.5 hover:bg-sheet max-sm:grid-cols-[1fr_auto]"
      >
        <Mono className="pt-px max-sm:col-span-2">{packet.number}</Mono>
        <span className="min-w-0">
          <span className="block truncate font-semibold">{packet.title}</span>
          <span className="block truncate text-soft">{packet.status_text}</span>
        </span>
        {beside ?? <Badge tone={lifeTone(packet.life)}>{packet.life}</Badge>}
      </Link>
    </li>
  );
}
