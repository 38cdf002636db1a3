/** Reading a vendor's placeholders in clear: the legend is opened for a reason, and its values can be hidden again. */

import { useState } from "react";
import type { Packet } from "../../api/packets";
import { useLegend } from "../../api/reviews";
import { Button } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import { ReasonField } from "../../components/reason-field";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";

const PLACEHOLDER =
  /\[[a-z]+:[a-z2-7]{10}\]|@redacted\.invalid|\.redacted\.invalid|\b(?:user|person|secret|h)-[a-z2-7]{10}\b/;

export type Clear = ReturnType<typeof useClear>;

/** The messages in clear, once the legend was opened. */
export function useClear(packet: Packet) {
  const legend = useLegend(packet.number);
  const [clear, setClear] = useState(true);
  const texts = new Map(clear ? legend.data?.messages.map((one) => [one.id, one.text]) : []);
  const masked = packet.messages.some((message) => PLACEHOLDER.test(message.text));
  return { legend, clear, setClear, texts, masked };
}

export function LegendBar({ packet, reading, mayOpen }: { packet: Packet; reading: Clear; mayOpen: boolean }) {
  const { legend, clear, setClear, masked } = reading;
  const [asking, setAsking] = useState(false);
  const [reason, setReason] = useState("");
  useKeys("legend", { open: () => mayOpen && masked && !packet.legend_destroyed_at && setAsking(true) });
  if (!masked || !mayOpen) return null;
  return (
    <>
      <div className="flex min-h-11 flex-wrap items-center gap-3 border-b border-line px-4 py-1.5">
        {packet.legend_destroyed_at ? (
          <Soft as="span">
            The legend was destroyed {sayMoment(packet.legend_destroyed_at)}: nobody can read the placeholders any more.
          </Soft>
        ) : legend.data ? (
          <>
            <Soft as="span">
              {clear
                ? "Placeholders are shown in clear. The custody log records that you opened the legend."
                : "As received."}
            </Soft>
            <Button className="ml-auto" onClick={() => setClear(!clear)}>
              {clear ? "As received" : "In clear"}
            </Button>
          </>
        ) : asking ? (
          <form
            className="flex grow items-center gap-3"
            onSubmit={(event) => {
              event.preventDefault();
              legend.mutate(reason);
            }}
          >
            <ReasonField inline autoFocus reason={reason} setReason={setReason} />
            <Button type="submit" disabled={legend.isPending}>
              Open the legend
            </Button>
          </form>
        ) : (
          <>
            <Soft as="span">{packet.vendor} mentions masked values.</Soft>
            <Button className="ml-auto" letter="o" onClick={() => setAsking(true)}>
              Read in clear
            </Button>
          </>
        )}
      </div>
      <ProblemNote problem={legend.error} />
    </>
  );
}
