/** Writing to the vendor. */

import { type FormEvent, useState } from "react";
import type { Packet } from "../../api/packets";
import { useReply, useReplyPreview } from "../../api/replies";
import { Button } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { isTouched, TypedText } from "./typed";

/** An answer is looked over before it is sent: what goes out stands below what is typed. */
export function Answer({ packet, mayDecide }: { packet: Packet; mayDecide: boolean }) {
  const reply = useReply(packet.number);
  const [text, setText] = useState("");
  const [looked, setLooked] = useState("");
  const [key, setKey] = useState(() => crypto.randomUUID());
  const preview = useReplyPreview(packet.number, looked);
  const seen = looked !== "" && looked === text ? preview.data : undefined;
  const stops = seen?.parts.some((part) => part.stops);

  function submit(event: FormEvent) {
    event.preventDefault();
    if (!seen) {
      setLooked(text);
      return;
    }
    if (stops) return;
    reply.mutate(
      { text, key },
      {
        onSuccess: () => {
          setText("");
          setLooked("");
          setKey(crypto.randomUUID());
        },
      },
    );
  }

  return (
    <form onSubmit={submit} className="flex flex-col gap-2">
      <label className="flex flex-col gap-1">
        <span className="font-semibold">Answer {packet.vendor ?? "the vendor"}</span>
        <textarea className="field min-h-24" required value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      <ProblemNote problem={preview.error ?? reply.error} />
      {seen && (
        <Sheet>
          <h2 className="px-4 py-2.5 font-sans font-normal text-[14px]" aria-live="polite">
            {isTouched(seen) ? "On the right is what goes out." : "Nothing in it is masked: it is sent unchanged."}
            {stops && (
              <span className="ml-3 text-wax">A secret stops it. Take it out, or have it masked for a reason.</span>
            )}
          </h2>
          {isTouched(seen) && <TypedText packet={packet} text={seen} mayDecide={mayDecide} />}
        </Sheet>
      )}
      <Button
        look="ink"
        type="submit"
        className="self-start"
        disabled={reply.isPending || preview.isFetching || !text.trim() || Boolean(stops)}
      >
        {seen ? "Send" : "Look it over"}
      </Button>
    </form>
  );
}
