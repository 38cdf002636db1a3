/** When it began: typed, or taken from the note. Evidence is judged by it. */

import { useState } from "react";
import { type Packet, useChangePacket } from "../../api/packets";
import { Button } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";

/** A moment as a field for date and time wants it, in the browser's zone. */
const asTyped = (iso: string | null) => {
  if (!iso) return "";
  const moment = new Date(iso);
  return new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000).toISOString().slice(0, 16);
};

export function Began({ packet }: { packet: Packet }) {
  const change = useChangePacket(packet);
  const [typed, setTyped] = useState(asTyped(packet.began_at));
  const read = packet.began_read;
  const keep = (moment: string | null) => {
    setTyped(asTyped(moment));
    change.mutate({ began_at: moment });
  };
  if (packet.life !== "drafting") {
    return packet.began_at ? <Soft>It began {sayMoment(packet.began_at)}.</Soft> : null;
  }
  return (
    <Sheet className="px-4 py-3">
      <form
        className="flex flex-wrap items-center gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          keep(typed ? new Date(typed).toISOString() : null);
        }}
      >
        <label className="flex items-center gap-3">
          When it began
          <input
            type="datetime-local"
            className="field w-auto font-mono text-[12.5px]"
            value={typed}
            onChange={(event) => setTyped(event.target.value)}
          />
        </label>
        {typed !== asTyped(packet.began_at) && (
          <Button type="submit" disabled={change.isPending}>
            Save
          </Button>
        )}
        {read && (
          <Button look="bare" disabled={change.isPending} onClick={() => keep(read.at)}>
            “{read.words}”: {sayMoment(read.at)}
          </Button>
        )}
      </form>
      <ProblemNote problem={change.error} />
    </Sheet>
  );
}
