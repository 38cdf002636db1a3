/** What was typed beside what goes out, and what a person decides about its values. */

import { type KeyboardEvent, useState } from "react";
import type { Schemas } from "../../api/client";
import { useFloor } from "../../api/decisions";
import type { Packet } from "../../api/packets";
import { TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Key } from "../../components/key";
import { Mono } from "../../components/mono";
import { Hidden, Soft } from "../../components/text";
import { moveInRows } from "../../keyboard/rows";
import { type About, Deciding } from "./deciding";

type Text = Schemas["TypedShown"];

type Part = Schemas["TextPart"];

type Masked = Schemas["MaskedValue"];

interface Props {
  packet: Packet;
  text: Text;
  mayDecide: boolean;
}

/** Whether anything of a text is masked, or kept for a reason. */
export const isTouched = (text: Text) => text.kept.length > 0 || text.parts.some((part) => part.masked.length > 0);

export function TypedText({ packet, text, mayDecide }: Props) {
  const floor = useFloor(mayDecide);
  const [about, setAbout] = useState<About>();
  const cell = "px-4 py-2 whitespace-pre-wrap wrap-anywhere";
  return (
    <section aria-label={text.ask} className="border-t border-line pb-2">
      <h3 className="flex flex-wrap items-baseline gap-x-3 px-4 pt-3 text-[14px]">
        {text.ask}
        {text.in_clear && <span className="font-sans font-normal text-soft">{text.in_clear}</span>}
      </h3>
      <div className="grid grid-cols-2 max-md:grid-cols-1">
        <p className={cell}>
          <Hidden>As it was typed: </Hidden>
          {text.parts.map((part, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other name than their place
            <Typed key={place} part={part} />
          ))}
        </p>
        <p className={join(cell, "border-line md:border-l")}>
          <Hidden>As it goes out: </Hidden>
          {text.parts.map((part, place) => (
            // biome-ignore lint/suspicious/noArrayIndexKey: parts have no other name than their place
            <Outgoing key={place} part={part} />
          ))}
        </p>
      </div>
      <Values text={text} floor={floor} mayDecide={mayDecide} decide={setAbout} />
      {about && <Deciding packet={packet} about={about} onClose={() => setAbout(undefined)} />}
    </section>
  );
}

function Typed({ part }: { part: Part }) {
  if (part.masked.length === 0) return part.text;
  return <mark className={join("rounded-xs text-ink", part.stops ? "bg-wax-wash" : "bg-ochre-wash")}>{part.text}</mark>;
}

function Outgoing({ part }: { part: Part }) {
  if (part.masked.length === 0) return part.goes;
  return <span className="rounded-sm bg-ink px-1 font-mono text-[12.5px] text-paper">{part.goes}</span>;
}

interface ValuesProps {
  text: Text;
  floor: string[];
  mayDecide: boolean;
  decide: (about: About) => void;
}

/** Each value that is masked, and each that is not, with why; and what can be decided. */
function Values({ text, floor, mayDecide, decide }: ValuesProps) {
  const rows = text.parts.flatMap((part) => part.masked.map((value) => ({ part, value })));
  return (
    <table className="w-full table-fixed text-left" onKeyDown={moveInRows}>
      <colgroup>
        {["w-[32%]", "w-[10%]", "w-[26%]", "w-[13%]", "w-[19%]"].map((width) => (
          <col key={width} className={width} />
        ))}
      </colgroup>
      <thead className="sr-only">
        <tr>
          {["Value", "Kind", "Goes out as", "State", "Acts"].map((head) => (
            <th key={head} scope="col">
              {head}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map(({ part, value }, place) => (
          <Row
            // biome-ignore lint/suspicious/noArrayIndexKey: the same value may stand there twice
            key={place}
            part={part}
            value={value}
            kept={!floor.includes(value.kind)}
            mayDecide={mayDecide}
            decide={decide}
          />
        ))}
        {text.kept.map((one) => (
          <tr key={one.value} className="align-baseline">
            <td className="px-4 py-0.5">
              <Mono className="wrap-anywhere">{one.value}</Mono>
            </td>
            <td className="pr-4 text-soft" colSpan={4}>
              goes out: {one.reason}
            </td>
          </tr>
        ))}
      </tbody>
    </table>
  );
}

interface RowProps {
  part: Part;
  value: Masked;
  /** Whether it can be let go at all. */
  kept: boolean;
  mayDecide: boolean;
  decide: (about: About) => void;
}

function Row({ part, value, kept, mayDecide, decide }: RowProps) {
  const about = (action: About["action"]) => decide({ action, kind: value.kind, value: value.original });
  const press = (event: KeyboardEvent) => {
    if (!mayDecide || event.ctrlKey || event.metaKey || event.altKey) return;
    if (event.key === "m" && part.stops) about("mask");
    else if (event.key === "u" && kept) about("keep");
    else return;
    event.preventDefault();
    event.stopPropagation();
  };
  return (
    <tr data-row tabIndex={0} onKeyDown={press} className="align-baseline focus-visible:bg-paper">
      <td className="px-4 py-0.5">
        <Mono className="wrap-anywhere">{value.original}</Mono>
      </td>
      <td className="pr-4 text-soft">{value.kind}</td>
      <td className="pr-4">
        <Mono className="text-soft">{value.placeholder}</Mono>
      </td>
      <td className="pr-4 whitespace-nowrap">
        {part.stops ? (
          <span className="text-wax">stops it</span>
        ) : (
          !part.sure && <span className="text-ochre">not certain</span>
        )}
      </td>
      <td className="pr-4 text-right whitespace-nowrap">
        {mayDecide && part.stops && (
          <TextButton onClick={() => about("mask")}>
            <Key>M</Key> Mask it
          </TextButton>
        )}
        {mayDecide && kept && (
          <button type="button" className="link ml-3" onClick={() => about("keep")}>
            <Key>U</Key> Let it go out
          </button>
        )}
        {mayDecide && !kept && !part.stops && <Soft as="span">never goes out</Soft>}
      </td>
    </tr>
  );
}
