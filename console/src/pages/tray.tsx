/** What came from outside and has no packet yet: each is brought to its packet in one step, or taken out. */

import { type FormEvent, useState } from "react";
import type { Schemas } from "../api/client";
import { useTray } from "../api/following";
import type { PacketBrief } from "../api/packets";
import { Button, TextButton } from "../components/button";
import { Row } from "../components/layout";
import { ProblemNote } from "../components/problem-note";
import { Heading, Soft } from "../components/text";
import { sayMoment } from "../format/dates";

type Item = Schemas["TrayItemShown"];

export function Tray({ items, count, packets }: { items: Item[]; count: number; packets: PacketBrief[] }) {
  if (items.length === 0) return null;
  return (
    <section className="mt-6" aria-labelledby="tray">
      <Heading level={2} id="tray">
        In the tray
      </Heading>
      <Soft>Not matched to a packet.</Soft>
      <ul className="mt-2">
        {items.map((item) => (
          <Line key={item.id} item={item} packets={packets} />
        ))}
      </ul>
      {count > items.length && <p className="py-2 text-soft">{count - items.length} more wait behind these.</p>}
    </section>
  );
}

function Line({ item, packets }: { item: Item; packets: PacketBrief[] }) {
  const act = useTray();
  const [number, setNumber] = useState("");
  function submit(event: FormEvent) {
    event.preventDefault();
    act.mutate({ item: item.id, number: number.trim().toUpperCase() });
  }
  const choices = `open-${item.id}`;
  return (
    <li className="border-b border-line py-2.5">
      <Row as="p" gap={3} lines align="baseline">
        <span>{item.subject || "without a subject"}</span>
        <Soft as="span">
          {item.sender} · {sayMoment(item.at)}
        </Soft>
        <a
          className="link"
          href={`/api/v1/tray/${item.id}`}
          download={item.sort === "mail" ? "tray.eml" : item.subject}
        >
          as it came
        </a>
      </Row>
      <p className="line-clamp-2 text-soft">{item.words}</p>
      <form className="mt-1.5 flex flex-wrap items-center gap-2" onSubmit={submit}>
        <label className="flex items-center gap-2">
          <Soft as="span">It belongs to</Soft>
          <input
            className="field w-36 font-mono"
            list={choices}
            required
            pattern="[Pp]-\d{4,12}"
            placeholder="P-0012"
            value={number}
            onChange={(event) => setNumber(event.target.value)}
          />
        </label>
        <datalist id={choices}>
          {packets.map((packet) => (
            <option key={packet.number} value={packet.number}>
              {packet.title}
            </option>
          ))}
        </datalist>
        <Button type="submit" disabled={act.isPending}>
          Attach
        </Button>
        <TextButton
          disabled={act.isPending}
          onClick={() => act.mutate({ item: item.id, reason: "It belongs to no packet." })}
        >
          It belongs to none
        </TextButton>
      </form>
      <ProblemNote problem={act.error} />
    </li>
  );
}
