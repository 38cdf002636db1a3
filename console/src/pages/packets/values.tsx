/** What was masked in an exhibit, value by value. */

import { useDeferredValue, useState } from "react";
import type { Schemas } from "../../api/client";
import type { Exhibit } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import { useValues } from "../../api/reviews";
import { TextButton } from "../../components/button";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import type { About } from "./deciding";

interface Props {
  packet: Packet;
  exhibit: Exhibit;
  kind: string;
  mayDecide: boolean;
  /** Kinds that nothing can have kept. */
  floor: string[];
  /** Where it can be shown in its place. */
  show?: ((placeholder: string, kind: string) => void) | undefined;
  decide: (about: About) => void;
}

export function ByValue({ packet, exhibit, kind, mayDecide, floor, show, decide }: Props) {
  const [q, setQ] = useState("");
  const values = useValues(packet.number, exhibit.name, kind === "doubtful" ? "" : kind, useDeferredValue(q.trim()));
  const found = values.data;
  return (
    <div className="min-h-80 pb-2">
      <div className="flex items-baseline gap-3 px-3.5 py-2">
        <input
          className="field max-w-64 py-0.5"
          type="search"
          placeholder="Part of a value"
          aria-label="Part of a value"
          value={q}
          onChange={(event) => setQ(event.target.value)}
        />
        {found && (
          <span className="text-soft tabular-nums" role="status">
            {found.total.toLocaleString("en-GB")} different
            {found.total > found.values.length && `, the first ${found.values.length} shown`}
          </span>
        )}
      </div>
      {mayDecide && kind && kind !== "doubtful" && (
        <WholeKind kind={kind} kept={!floor.includes(kind)} decide={decide} />
      )}
      <ProblemNote problem={values.error} />
      {!found && !values.error && (
        <div className="px-3.5">
          <Waiting label="Loading the values" lines={8} />
        </div>
      )}
      {found?.total === 0 && (
        <div className="px-3.5">
          <Nothing>{q ? `No masked value has “${q}” in it.` : "Nothing was masked."}</Nothing>
        </div>
      )}
      {found && found.total > 0 && (
        <ValueTable values={found.values} mayDecide={mayDecide} floor={floor} show={show} decide={decide} />
      )}
    </div>
  );
}

type TableProps = Pick<Props, "mayDecide" | "floor" | "show" | "decide"> & { values: Schemas["ValueList"]["values"] };

function ValueTable({ values, mayDecide, floor, show, decide }: TableProps) {
  return (
    <div className="max-h-[56vh] overflow-auto">
      <table className="w-full text-left">
        <thead className="sticky top-0 bg-sheet">
          <tr className="text-soft">
            {["Value", "Kind", "Times", "Goes out as", ""].map((head) => (
              <th
                key={head}
                scope="col"
                className={head === "Times" ? "px-3.5 py-1 text-right font-normal" : "px-3.5 py-1 font-normal"}
              >
                {head || <Hidden>Acts</Hidden>}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {values.map((one) => (
            <tr key={`${one.placeholder} ${one.value}`} className="border-t border-line align-baseline">
              <th scope="row" className="max-w-80 px-3.5 py-1 font-normal">
                <Mono className="line-clamp-2 wrap-anywhere">{one.value}</Mono>
              </th>
              <td className="px-3.5 py-1 text-soft">{one.kind}</td>
              <td className="px-3.5 py-1 text-right tabular-nums">{one.times.toLocaleString("en-GB")}</td>
              <td className="px-3.5 py-1">
                <Mono className="text-soft">{one.placeholder}</Mono>
              </td>
              <td className="px-3.5 py-1 text-right whitespace-nowrap">
                {show && <TextButton onClick={() => show(one.placeholder, one.kind)}>Show</TextButton>}
                {mayDecide && floor.includes(one.kind) && <span className="ml-3 text-soft">never goes out</span>}
                {mayDecide && !floor.includes(one.kind) && (
                  <button
                    type="button"
                    className="link ml-3"
                    onClick={() => decide({ action: "keep", kind: one.kind, value: one.value })}
                  >
                    Let it go out
                  </button>
                )}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </div>
  );
}

interface WholeProps {
  kind: string;
  /** Whether it can be let go at all. */
  kept: boolean;
  decide: Props["decide"];
}

/** What can be decided about every value of a kind. */
function WholeKind({ kind, kept, decide }: WholeProps) {
  const act = (action: About["action"], words: string) => (
    <TextButton onClick={() => decide({ action, kind, value: "" })}>{words}</TextButton>
  );
  return (
    <div className="flex flex-wrap gap-x-4 px-3.5 pb-1.5">
      <Soft as="span">Every {kind}:</Soft>
      {kept && act("keep", "let it go out")}
      {act("drop-line", "leave out its lines")}
      {act("drop-file", "leave out its files")}
    </div>
  );
}
