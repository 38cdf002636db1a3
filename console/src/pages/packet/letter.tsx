/** The letter: the case as the desk will read it. */
import type { Packet } from "../../api/data";
import { useLetter } from "../../api/data";
import { Nothing, Sheet, TroubleNote, Waiting } from "../../parts/basics";

export function LetterPart({ packet }: { packet: Packet }) {
  const letter = useLetter(packet);
  if (!packet.desk) return <Nothing>There is no desk yet to write to. Name the thing first.</Nothing>;
  return (
    <Sheet>
      <p className="border-b border-line px-4 py-2.5">
        <b className="font-semibold">As {packet.vendor} will read it</b>{" "}
        <span className="ml-3 text-soft">
          {letter.data?.form.toUpperCase()}, {packet.exhibits.length || "no"} attachments beside it
        </span>
      </p>
      <TroubleNote trouble={letter.error} />
      {letter.data ? (
        <pre tabIndex={0} className="overflow-x-auto p-4 font-mono text-[12.5px] leading-5 whitespace-pre-wrap">
          {JSON.stringify(letter.data.body, null, 2)}
        </pre>
      ) : (
        !letter.error && (
          <div className="px-4">
            <Waiting label="The letter is being written" lines={8} />
          </div>
        )
      )}
    </Sheet>
  );
}
