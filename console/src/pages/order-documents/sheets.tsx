/** The pages of an order document as they came, with what was read from them marked. */

import { useEffect, useRef } from "react";
import type { OrderDocument } from "../../api/order-documents";
import { join } from "../../components/join";
import { Nothing } from "../../components/nothing";
import { Soft } from "../../components/text";
import type { Spot } from "./fields";

/** The pages as they came; what was read is marked, what the hand is on is marked in ink. */
export function Pages({
  order,
  shown,
  onShow,
}: {
  order: OrderDocument;
  shown: Spot | null;
  onShow: (place: Spot | null) => void;
}) {
  const box = useRef<HTMLDivElement>(null);
  useEffect(() => {
    box.current?.querySelector("[data-shown]")?.scrollIntoView({ block: "nearest" });
  });
  const marks: [Spot, string][] = [
    ...order.proposals.map((one): [Spot, string] => [one.place, one.field]),
    ...order.bought.flatMap((item) =>
      [item.serial, item.product, item.site].flatMap((one): [Spot, string][] => (one ? [[one.place, one.field]] : [])),
    ),
  ];
  return (
    <section
      ref={box}
      aria-label="The original order document"
      tabIndex={0}
      className="sticky top-16 flex max-h-[calc(100dvh-90px)] flex-col gap-3 self-start overflow-auto max-lg:static max-lg:max-h-[60dvh]"
    >
      {order.pages.map((page, number) => (
        <figure
          // biome-ignore lint/suspicious/noArrayIndexKey: pages never change places
          key={number}
          className="relative border border-line bg-white text-black"
          style={page.kind === "picture" ? { aspectRatio: page.width / page.height } : undefined}
        >
          {page.kind === "picture" ? (
            <img
              src={`/api/v1/order-documents/${order.id}/pages/${number}`}
              alt={`Page ${number + 1}${page.source ? ` of ${page.source}` : ""}`}
              className="block w-full"
            />
          ) : (
            <div className="overflow-x-auto p-4 font-mono text-[12px] leading-5">
              <pre className="relative w-max" style={{ width: `${page.width}ch` }}>
                {page.lines.map((line) => line || " ").join("\n")}
                <Marks marks={marks} page={number} shown={shown} onShow={onShow} />
              </pre>
            </div>
          )}
          {page.kind === "picture" && <Marks marks={marks} page={number} shown={shown} onShow={onShow} />}
        </figure>
      ))}
      {order.pages.length === 0 && <Nothing>There is no page to show.</Nothing>}
      <p>
        <a className="link" href={`/api/v1/order-documents/${order.id}/file`} download>
          Save the original file
        </a>
        <Soft as="span">, passcode and all; the custody log keeps that you did</Soft>
      </p>
    </section>
  );
}

function Marks(props: {
  marks: [Spot, string][];
  page: number;
  shown: Spot | null;
  onShow: (place: Spot | null) => void;
}) {
  const same = (one: Spot) => props.shown !== null && JSON.stringify(one) === JSON.stringify(props.shown);
  return props.marks
    .filter(([place]) => place.page === props.page)
    .map(([place, field]) => (
      <span
        key={`${field} ${place.left} ${place.top}`}
        aria-hidden
        data-shown={same(place) || undefined}
        className={join(
          "absolute rounded-sm border",
          same(place) ? "border-2 border-[#211f1b] bg-[#8f5d0a]/20" : "border-[#8f5d0a]/50 bg-[#8f5d0a]/8",
        )}
        style={{
          left: `${place.left * 100}%`,
          top: `${place.top * 100}%`,
          width: `${(place.right - place.left) * 100}%`,
          height: `${(place.bottom - place.top) * 100}%`,
        }}
      />
    ));
}
