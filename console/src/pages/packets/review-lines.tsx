/** Original and outgoing copy, line by line. */

import { useEffect, useRef } from "react";
import type { Schemas } from "../../api/client";
import { join } from "../../components/join";
import { Hidden } from "../../components/text";

interface LinesProps {
  lines: Schemas["ReviewLine"][];
  focus: number;
  vendor: string;
  /** What the mouse or keyboard has selected, on one line. */
  onSelect: (text: string) => void;
  /** The wheel was turned, by so many lines; whether there was anything to move. */
  onWheel: (steps: number) => boolean;
}

/** Both copies, line beside line: a long line is folded alike on both sides. */
export function Lines({ lines, focus, vendor, onSelect, onWheel }: LinesProps) {
  const cell = "border-line px-3.5 align-top font-mono text-[12.5px] leading-5 wrap-anywhere whitespace-pre-wrap";
  const table = useRef<HTMLTableElement>(null);
  const turned = useRef(onWheel);
  turned.current = onWheel;
  useEffect(() => {
    // Inside the lines the wheel moves them, not the page; React's own listener could not keep the page still.
    const turn = (event: WheelEvent) => {
      if (event.shiftKey || event.ctrlKey || event.deltaY === 0) return;
      if (turned.current(Math.sign(event.deltaY) * 3)) event.preventDefault();
    };
    const element = table.current;
    element?.addEventListener("wheel", turn, { passive: false });
    return () => element?.removeEventListener("wheel", turn);
  }, []);
  useEffect(() => {
    const look = () => {
      const text = document.getSelection()?.toString().trim() ?? "";
      onSelect(text.includes("\n") || text.length > 400 ? "" : text);
    };
    document.addEventListener("selectionchange", look);
    return () => document.removeEventListener("selectionchange", look);
  }, [onSelect]);
  return (
    <table
      className="w-full table-fixed border-separate border-spacing-0 text-left max-md:block max-md:overflow-x-auto"
      ref={table}
    >
      <thead>
        <tr>
          <th scope="col" className="w-14">
            <Hidden>Line</Hidden>
          </th>
          <th scope="col" className="px-3.5 py-2 font-normal">
            <b className="font-semibold">Original</b> <span className="ml-3 text-soft">stays here</span>
          </th>
          <th scope="col" className="border-l border-line px-3.5 py-2 font-normal">
            <b className="font-semibold">Outgoing copy</b> <span className="ml-3 text-soft">goes to {vendor}</span>
          </th>
        </tr>
      </thead>
      <tbody>
        {lines.map((line) => (
          <tr key={line.number} className={join(line.number === focus && "bg-paper")}>
            <td className="pr-1 text-right align-top font-mono text-[12.5px] leading-5 text-soft select-none">
              {line.number}
            </td>
            <td className={cell}>
              <Spans spans={line.spans} side="original" />
            </td>
            <td className={join(cell, "border-l")}>
              <Spans spans={line.spans} side="outgoing" />
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

type Side = "original" | "outgoing";

function Spans({ spans, side }: { spans: Schemas["Span"][]; side: Side }) {
  // biome-ignore lint/suspicious/noArrayIndexKey: spans have no other name than their place
  return spans.map((span, place) => <Span key={place} span={span} side={side} />);
}

function Span({ span, side }: { span: Schemas["Span"]; side: Side }) {
  if (!span.placeholder) return side === "outgoing" ? (span.goes ?? span.text) : span.text;
  if (side === "original") {
    const [first, ...more] = span.text.split("\n");
    return (
      <mark title={span.kind ?? ""} className="rounded-xs bg-ochre-wash text-ink">
        {first}
        {more.length > 0 && ` … ${more.length + 1} lines`}
      </mark>
    );
  }
  return <span className="rounded-sm bg-ink px-1 text-paper">{span.placeholder}</span>;
}
