/** What was said between us and the desk, and our answer. */
import { type FormEvent, useState } from "react";
import type { Packet } from "../../api/data";
import { useAct, useReply } from "../../api/data";
import { Badge, Button, join, Mono, Sheet, sayMoment, TroubleNote } from "../../parts/basics";

export function RepliesPart({ packet }: { packet: Packet }) {
  const act = useAct(packet.number);
  const open = packet.life === "lodged" || packet.life === "answered";
  return (
    <div className="flex flex-col gap-4">
      <Sheet>
        <div className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2.5">
          <Mono>{packet.reference ?? "no reference yet"}</Mono>
          <Badge tone={packet.turn === "ours" ? "wax" : "plain"}>
            {packet.turn === "ours" ? "our turn" : `${packet.vendor}'s turn`}
          </Badge>
          <span className="text-soft">
            {packet.desk_status && `the desk says ${packet.desk_status}`}
            {packet.followed_at && `, looked at ${sayMoment(packet.followed_at)}`}
          </span>
          {open && (
            <Button className="ml-auto" letter="f" disabled={act.isPending} onClick={() => act.mutate("follow")}>
              Look now
            </Button>
          )}
        </div>
        <TroubleNote trouble={act.error} />
        <ol aria-live="polite">
          {packet.messages.map((message) => (
            <li
              key={message.id}
              className={join("border-b border-line px-4 py-3 last:border-0", message.direction === "out" && "pl-12")}
            >
              <p className="text-soft">
                {message.direction === "in" ? packet.vendor : message.by} · {sayMoment(message.at)}
                {message.asks && !message.answered && <span className="ml-2 text-wax">waits for an answer</span>}
                {!message.sent && <span className="ml-2">being sent</span>}
              </p>
              <p className="whitespace-pre-wrap">{message.text}</p>
            </li>
          ))}
        </ol>
        {packet.messages.length === 0 && <p className="px-4 py-3 text-soft">Nothing was said yet.</p>}
      </Sheet>
      {open && <Answer number={packet.number} vendor={packet.vendor ?? "the vendor"} />}
    </div>
  );
}

function Answer({ number, vendor }: { number: string; vendor: string }) {
  const reply = useReply(number);
  const [text, setText] = useState("");
  const [key, setKey] = useState(() => crypto.randomUUID());

  function submit(event: FormEvent) {
    event.preventDefault();
    reply.mutate(
      { text, key },
      {
        onSuccess: () => {
          setText("");
          setKey(crypto.randomUUID());
        },
      },
    );
  }

  return (
    <form onSubmit={submit} className="flex flex-col gap-2">
      <label className="flex flex-col gap-1">
        <span className="font-semibold">Answer {vendor}</span>
        <textarea className="field min-h-24" required value={text} onChange={(event) => setText(event.target.value)} />
      </label>
      <TroubleNote trouble={reply.error} />
      <Button look="ink" type="submit" className="self-start" disabled={reply.isPending || !text.trim()}>
        Send
      </Button>
    </form>
  );
}
