/** Deleting the originals of a packet that is over, for good. */

import { useState } from "react";
import { useDeleteOriginals } from "../../api/exhibits";
import type { Packet } from "../../api/packets";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Row } from "../../components/layout";
import { ProblemNote } from "../../components/problem-note";
import { ReasonField } from "../../components/reason-field";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";

export function Originals({ packet, mayDelete }: { packet: Packet; mayDelete: boolean }) {
  const [open, setOpen] = useState(false);
  const [reason, setReason] = useState("");
  const remove = useDeleteOriginals(packet.number);
  const gone = packet.exhibits.find((one) => one.original_deleted_at);
  if (packet.exhibits.length === 0 || !["settled", "withdrawn"].includes(packet.life)) return null;
  if (gone?.original_deleted_at) {
    return <Soft>The originals were deleted {sayMoment(gone.original_deleted_at)}.</Soft>;
  }
  if (!mayDelete) return null;
  return (
    <div>
      <Button look="bare" onClick={() => setOpen(true)}>
        Delete the originals
      </Button>
      <Dialog open={open} onChange={setOpen} title="Delete the originals for good?" className="p-5">
        <form
          className="flex flex-col gap-3"
          onSubmit={(event) => {
            event.preventDefault();
            remove.mutate(reason, { onSuccess: () => setOpen(false) });
          }}
        >
          <Soft>What went out and the sealed bag stay. An original that another packet has too stays there.</Soft>
          <ReasonField reason={reason} setReason={setReason} longest={1000} />
          <ProblemNote problem={remove.error} />
          <Row gap={3} place="end">
            <Button onClick={() => setOpen(false)}>Cancel</Button>
            <Button look="ink" type="submit" disabled={remove.isPending}>
              Delete them
            </Button>
          </Row>
        </form>
      </Dialog>
    </div>
  );
}
