/** Questions that the desk is likely to ask back: answered now, they cost no day later. */
import { useState } from "react";
import { useAskFirst } from "../../api/desks";
import { type Packet, useForeseen } from "../../api/packets";
import { useMe } from "../../api/session";
import { Button, TextButton } from "../../components/button";
import { ProblemNote } from "../../components/problem-note";
import { sayHours } from "../../format/numbers";

type Foreseen = Packet["foreseen"][number];

export function ForeseenList({ packet }: { packet: Packet }) {
  if (packet.foreseen.length === 0) return null;
  return (
    <section aria-label="Likely to be asked back" className="border-b border-line bg-ochre-wash px-4 py-3">
      <h2 className="text-[15px]">{packet.desk_name} is likely to ask</h2>
      <ul>
        {packet.foreseen.map((one) => (
          <Line key={one.id} packet={packet} one={one} />
        ))}
      </ul>
    </section>
  );
}

function Line({ packet, one }: { packet: Packet; one: Foreseen }) {
  const roles = useMe().data?.roles ?? [];
  const answer = useForeseen(packet.number);
  const askFirst = useAskFirst(packet.desk ?? "");
  const [text, setText] = useState("");
  return (
    <li className="mt-2">
      <form
        onSubmit={(event) => {
          event.preventDefault();
          if (text.trim()) answer.mutate({ id: one.id, answer: text.trim() });
        }}
      >
        <label htmlFor={`foreseen-${one.id}`} className="font-semibold">
          {one.text}
        </label>
        <p className="text-[12.5px] text-soft">
          {one.because}
          {one.cost_hours !== null && ` It held them up for ${sayHours(one.cost_hours)}.`}
        </p>
        <div className="mt-1 flex flex-wrap items-center gap-3">
          <input
            id={`foreseen-${one.id}`}
            className="field min-w-0 grow"
            value={text}
            onChange={(event) => setText(event.target.value)}
          />
          <Button type="submit" disabled={!text.trim() || answer.isPending}>
            Put it into the note
          </Button>
          <TextButton onClick={() => answer.mutate({ id: one.id, answer: "" })}>Does not matter here</TextButton>
          {roles.includes("keeper") && one.asked_in !== null && (
            <TextButton
              disabled={askFirst.isPending || askFirst.isSuccess}
              onClick={() => askFirst.mutate({ ask: one.text, needs: [packet.need as never] })}
            >
              {askFirst.isSuccess ? "It is in the sheet now" : "Always ask it first"}
            </TextButton>
          )}
        </div>
        <ProblemNote problem={answer.error ?? askFirst.error} />
      </form>
    </li>
  );
}
