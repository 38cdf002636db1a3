/** The letter: the packet as the desk will read it, one case or several. */

import { type Packet, useLetter } from "../../api/packets";
import { Column } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { Waiting } from "../../components/waiting";
import { count } from "../../format/numbers";
import { Decided } from "./deciding";
import { isTouched, TypedText } from "./typed";

const FORMS: Record<string, string> = {
  json: "JSON",
  form: "A form",
  xml: "XML",
  mail: "A mail",
  pdf: "A filled PDF form",
};

export function LetterPart({ packet, roles }: { packet: Packet; roles: string[] }) {
  const letter = useLetter(packet);
  const texts = letter.data?.texts.filter(isTouched) ?? [];
  const mayDecide = packet.life === "drafting" && roles.includes("preparer");
  if (!packet.desk) return <Nothing>No desk has been chosen yet. Name the asset first.</Nothing>;
  const cases = letter.data?.cases ?? [];
  return (
    <Column gap={4}>
      <Sheet>
        <p className="border-b border-line px-4 py-2.5">
          <b className="font-semibold">As {packet.vendor} will read it</b>{" "}
          <span className="ml-3 text-soft">
            {letter.data && (FORMS[letter.data.form] ?? letter.data.form)}
            {cases.length > 1 && `, ${count(cases.length, "case")} lodged together`}
            {letter.data && `, ${letter.data.files.length ? letter.data.files.join(", ") : "no files"} beside it`}
          </span>
        </p>
        <ProblemNote problem={letter.error} />
        {cases.map((one) => (
          <section key={one.label} aria-label={one.label || "The case"} className="border-b border-line last:border-0">
            {(one.label || one.documents.length > 0) && (
              <p className="px-4 pt-3 text-soft">
                {one.label && <b className="mr-3 font-semibold text-ink">{one.label}</b>}
                {one.documents.map((name) => (
                  <Mono key={name} className="mr-3">
                    {name}
                  </Mono>
                ))}
              </p>
            )}
            <pre tabIndex={0} className="overflow-x-auto p-4 font-mono text-[12.5px] leading-5 whitespace-pre-wrap">
              {one.text}
            </pre>
          </section>
        ))}
        {!letter.data && !letter.error && (
          <div className="px-4">
            <Waiting label="The letter is being written" lines={8} />
          </div>
        )}
      </Sheet>
      {texts.length > 0 && (
        <Sheet>
          <h2 className="px-4 py-2.5 font-sans text-[14px]">
            What was typed <span className="ml-3 font-normal text-soft">stays here; on the right is what goes out</span>
          </h2>
          {texts.map((text) => (
            <TypedText key={text.path} packet={packet} text={text} mayDecide={mayDecide} />
          ))}
        </Sheet>
      )}
      <Decided packet={packet} mayDecide={mayDecide} />
    </Column>
  );
}
