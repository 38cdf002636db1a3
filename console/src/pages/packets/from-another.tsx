/** Attaching an exhibit of another packet: nothing is copied, and it is redacted again for this packet. */

import { useState } from "react";
import { useAttach } from "../../api/exhibits";
import { type Packet, usePacket } from "../../api/packets";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { ProblemNote } from "../../components/problem-note";
import { Soft } from "../../components/text";
import { saySize } from "../../format/numbers";

export function FromAnother({ packet }: { packet: Packet }) {
  const [open, setOpen] = useState(false);
  return (
    <>
      <Button look="bare" onClick={() => setOpen(true)}>
        Attach one of another packet
      </Button>
      {open && <Choose packet={packet} onClose={() => setOpen(false)} />}
    </>
  );
}

function Choose({ packet, onClose }: { packet: Packet; onClose: () => void }) {
  const [number, setNumber] = useState("");
  const whole = /^P-\d{4,}$/.test(number) && number !== packet.number;
  const other = usePacket(whole ? number : "");
  const attach = useAttach(packet.number);
  const exhibits = whole ? (other.data?.exhibits ?? []) : [];
  return (
    <Dialog open onChange={(open) => !open && onClose()} title="From another packet" className="p-5">
      <label className="flex flex-col gap-1">
        <span className="font-semibold">Its number</span>
        <input
          className="field font-mono"
          placeholder="P-0142"
          value={number}
          onChange={(event) => setNumber(event.target.value.trim().toUpperCase())}
        />
      </label>
      {whole && <ProblemNote problem={other.error ?? attach.error} />}
      {whole && other.data && <p className="mt-2 text-soft">{other.data.title}</p>}
      <ul className="mt-1">
        {exhibits.map((one) => (
          <li key={one.id} className="flex items-center gap-3 py-1">
            <span className="font-mono text-[12.5px]">{one.name}</span>
            <Soft as="span">{saySize(one.size)}</Soft>
            <Button
              className="ml-auto px-2 py-0.5"
              disabled={attach.isPending || one.original_deleted_at !== null}
              onClick={() => attach.mutate({ packet: number, name: one.name }, { onSuccess: onClose })}
            >
              {one.original_deleted_at ? "deleted" : "Attach it"}
            </Button>
          </li>
        ))}
      </ul>
      {whole && other.data && exhibits.length === 0 && <Soft>It has no exhibits.</Soft>}
    </Dialog>
  );
}
