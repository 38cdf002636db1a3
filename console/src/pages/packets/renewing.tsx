/** A newer sheet of the desk: what it would change for this draft, and bringing the draft along. */

import { useState } from "react";
import { type Packet, useBringAlong, useSheetChanges } from "../../api/packets";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Column } from "../../components/layout";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";

export function NewerSheet({ packet, mayDraft }: { packet: Packet; mayDraft: boolean }) {
  const [open, setOpen] = useState(false);
  if (!packet.sheet_waiting) return null;
  return (
    <Sheet className="mb-3 flex flex-wrap items-baseline gap-x-3 px-4 py-2.5">
      <span>
        This draft is for version {packet.sheet_version} of the desk's sheet; version {packet.sheet_waiting} is there.
      </span>
      {mayDraft && <TextButton onClick={() => setOpen(true)}>See what would change</TextButton>}
      {open && <Changes packet={packet} onClose={() => setOpen(false)} />}
    </Sheet>
  );
}

function Changes({ packet, onClose }: { packet: Packet; onClose: () => void }) {
  const changes = useSheetChanges(packet.number);
  const bring = useBringAlong(packet.number);
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title="Changes of the newer sheet"
      className="w-[min(96vw,560px)] p-5"
    >
      {changes.data ? (
        <Column as="ul" gap={1.5}>
          {changes.data.differences.map((one) => (
            <li
              key={one.sentence}
              className={one.what === "dropped" ? "border-l-3 border-wax pl-3" : "border-l-3 border-line pl-3"}
            >
              {one.sentence}
              {one.answer && (
                <Soft as="span" block>
                  “{one.answer}”
                </Soft>
              )}
            </li>
          ))}
          {changes.data.differences.length === 0 && <li>No visible changes.</li>}
        </Column>
      ) : (
        !changes.error && <Waiting label="The sheets are being compared" />
      )}
      <ProblemNote problem={changes.error ?? bring.error} />
      <div className="mt-4 flex gap-3">
        <Button
          look="ink"
          disabled={bring.isPending || !changes.data}
          onClick={() => bring.mutate(undefined, { onSuccess: onClose })}
        >
          Bring it along
        </Button>
        <Button onClick={onClose}>Cancel</Button>
      </div>
    </Dialog>
  );
}
