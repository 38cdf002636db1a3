/** One difference between statement and register. */

import type { ReactNode } from "react";
import { Link } from "wouter";
import type { Schemas } from "../../api/client";
import type { Difference } from "../../api/statements";
import { Badge } from "../../components/badge";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { Hidden, Soft } from "../../components/text";
import { sayDay } from "../../format/dates";
import { SORTS } from "./sort-filter";

export function Row({ row, chosen, onToggle }: { row: Difference; chosen: boolean; onToggle: () => void }) {
  const words = SORTS.find(([name]) => name === row.sort)?.[1];
  return (
    <li
      data-row
      data-number={row.number}
      tabIndex={0}
      aria-label={row.sentence}
      className={join(
        "-mx-2 grid grid-cols-[24px_120px_1fr_1fr_170px] gap-x-4 border-b border-line px-2 py-2 max-md:grid-cols-[24px_1fr]",
        chosen && "bg-sheet",
      )}
    >
      <input
        type="checkbox"
        tabIndex={-1}
        aria-label={`Choose ${row.serial}`}
        disabled={row.decision !== null}
        checked={chosen}
        onChange={onToggle}
        className="mt-1 self-start"
      />
      <span className={row.sort === "mistyped" ? "text-ochre" : "text-soft"}>{words}</span>
      <Side line={row.ours} row={row} side="ours" />
      <Side line={row.theirs} row={row} side="theirs" />
      <span className="text-right max-md:col-start-2 max-md:text-left">
        <Decided row={row} />
      </span>
      {row.slips.length > 0 && (
        <p className="col-start-3 -col-end-1 text-ochre max-md:col-start-2">
          {row.slips.map((slip) => slip.words).join("; ")}
        </p>
      )}
    </li>
  );
}

function Decided({ row }: { row: Difference }) {
  if (row.packet) {
    return (
      <Link className="link" href={`/packets/${row.packet}`}>
        asked by <Mono>{row.packet}</Mono>
      </Link>
    );
  }
  if (row.decision) {
    return (
      <>
        <Badge tone="moss">{row.decision === "ours" ? "ours is right" : "the vendor is right"}</Badge>
        <Soft as="span" block>
          {row.decided_by}
          {row.reason && `: ${row.reason}`}
        </Soft>
      </>
    );
  }
  if (!row.before) return null;
  return (
    <Soft as="span">
      before: {row.before.decision === "theirs" ? "theirs" : row.before.packet || "ours"}
      {row.before.reason && `, ${row.before.reason}`}
    </Soft>
  );
}

const NAMES = { contract: "contract", level: "level", starts_on: "from", ends_on: "until", site: "at" } as const;

function Side({ line, row, side }: { line: Schemas["CoverLine"] | null; row: Difference; side: "ours" | "theirs" }) {
  const heading = side === "ours" ? "ours" : "theirs";
  if (!line) {
    return (
      <span className="text-soft italic max-md:col-start-2">{side === "ours" ? "not with us" : "not with them"}</span>
    );
  }
  const differs = (name: string) => row.fields.includes(name);
  const strong = (name: string, value: ReactNode) =>
    differs(name) ? <strong className="rounded-sm bg-ochre-wash px-0.5 font-semibold">{value}</strong> : value;
  const shown = (Object.keys(NAMES) as (keyof typeof NAMES)[]).filter(
    (name) => line[name] && (differs(name) || !["starts_on", "site"].includes(name)),
  );
  return (
    <span className="min-w-0 max-md:col-start-2">
      <Hidden>{heading}: </Hidden>
      <Mono className="font-semibold">
        <Marked serial={line.serial} slips={row.slips} side={side} />
      </Mono>
      <Soft as="span" block>
        {shown.map((name, place) => (
          <span key={name}>
            {place > 0 && " · "}
            {name === "starts_on" || name === "ends_on"
              ? strong(name, `${NAMES[name]} ${sayDay(line[name] as string)}`)
              : strong(name, name === "contract" ? <Mono>{line[name]}</Mono> : `${line[name]}`)}
          </span>
        ))}
      </Soft>
    </span>
  );
}

/** A serial with the characters marked in which the two sides differ. */
function Marked({ serial, slips, side }: { serial: string; slips: Difference["slips"]; side: "ours" | "theirs" }) {
  const marked = new Set<number>();
  let shift = 0;
  for (const slip of slips) {
    const at = slip.at - 1 + (side === "theirs" ? shift : 0);
    const length = slip[side].length;
    for (let place = 0; place < length; place++) marked.add(at + place);
    shift += slip.theirs.length - slip.ours.length;
  }
  return [...serial].map((letter, place) => (
    <span
      // biome-ignore lint/suspicious/noArrayIndexKey: letters have no other name than their place
      key={place}
      className={marked.has(place) ? "bg-ochre-wash text-ochre underline" : undefined}
    >
      {letter}
    </span>
  ));
}
