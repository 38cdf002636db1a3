/** Original and outgoing copy of a page. */

import { useRef } from "react";
import { type Covered, type DrawnBox, type NewBox, pageAddress, type WaitingBox } from "../../api/exhibit-pages";
import type { Exhibit } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import { join } from "../../components/join";
import { PagePane } from "./page-pane";

interface BothProps {
  packet: Packet;
  exhibit: Exhibit;
  page: number;
  size: { width: number; height: number; covered: Covered[] } | undefined;
  zoom: number;
  chosen: Covered | undefined;
  drawn: DrawnBox[];
  waiting: WaitingBox[];
  picked: WaitingBox | undefined;
  mayDraw: boolean;
  onChoose: (one: Covered) => void;
  onDraw: (box: Omit<NewBox, "page">) => void;
  onPick: (box: WaitingBox) => void;
  onMove: (box: WaitingBox | null) => void;
}

/** Both copies of a page, one beside or above the other; what one shows, the other does. */
export function BothPages({ packet, exhibit, page, size, ...rest }: BothProps) {
  const original = useRef<HTMLDivElement>(null);
  const outgoing = useRef<HTMLDivElement>(null);
  if (!size) return null;
  const wide = size.width > size.height;
  const follow = (from: HTMLDivElement | null, to: HTMLDivElement | null) => {
    if (!from || !to) return;
    to.scrollTop = from.scrollTop;
    to.scrollLeft = from.scrollLeft;
  };
  const pane = {
    ...rest,
    covered: size.covered,
    ratio: size.width / size.height,
    high: wide ? "max-h-[31vh]" : "max-h-[62vh]",
  };
  return (
    <div className={join("grid gap-3 px-3.5 py-2.5", wide ? "grid-cols-1" : "grid-cols-2 max-md:grid-cols-1")}>
      <figure>
        <figcaption className="pb-1">
          <b className="font-semibold">Original</b> <span className="ml-3 text-soft">stays here</span>
        </figcaption>
        <PagePane
          {...pane}
          side="original"
          address={pageAddress(packet.number, exhibit, page, "original")}
          scroll={original}
          onScroll={() => follow(original.current, outgoing.current)}
        />
      </figure>
      <figure>
        <figcaption className="pb-1">
          <b className="font-semibold">Outgoing copy</b>{" "}
          <span className="ml-3 text-soft">goes to {packet.vendor ?? "the vendor"}</span>
        </figcaption>
        <PagePane
          {...pane}
          side="outgoing"
          address={pageAddress(packet.number, exhibit, page, "outgoing")}
          scroll={outgoing}
          onScroll={() => follow(outgoing.current, original.current)}
        />
      </figure>
    </div>
  );
}
