/** What a person decides about a value: keep it, or mask it, everywhere in the packet, for a reason. */

import { useState } from "react";
import { type Decision, useDecide, useDecisions } from "../../api/decisions";
import type { Packet } from "../../api/packets";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { ReasonField } from "../../components/reason-field";
import { Sheet } from "../../components/sheet";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";

/** What is to be decided about; without a value, all of the kind. */
export interface About {
  action: Decision["action"];
  kind: string;
  value: string;
}

const KINDS =
  "custom person user host ip mac mail phone address place asset contract secret token key hash licence card iban national birth reader";

/** What each action is called, what it does in the exhibits, and the act. */
const WORDS: Record<About["action"], [title: string, becomes: string, act: string]> = {
  keep: ["Let … go out", "Not masked in", "Let it go out"],
  mask: ["Mask … everywhere", "It becomes a placeholder in", "Mask it"],
  "drop-line": ["Leave out each line with …", "The whole line goes from", "Leave the lines out"],
  "drop-file": [
    "Leave out each file with …",
    "No copy is made of a file that has one, which holds for",
    "Leave the files out",
  ],
};

const TOLD = {
  keep: "goes out",
  mask: "masked",
  "drop-line": "lines left out",
  "drop-file": "files left out",
} as const;

interface Props {
  packet: Packet;
  about: About;
  onClose: () => void;
}

export function Deciding({ packet, about, onClose }: Props) {
  const decide = useDecide(packet.number);
  const [kind, setKind] = useState(about.kind);
  const [reason, setReason] = useState("");
  const [always, setAlways] = useState(false);
  const masks = about.action === "mask";
  const some = about.action.startsWith("drop-") ? (/^[aeiou]/.test(about.kind) ? "an" : "a") : "every";
  const what = about.value ? "this value" : `${some} ${about.kind}`;
  const [title, becomes, act] = WORDS[about.action];
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title={title.replace("…", what)}
      className="w-[min(96vw,560px)] p-5"
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          decide.mutate(
            { action: about.action, kind, value: about.value, reason, as_term: always },
            { onSuccess: onClose },
          );
        }}
      >
        {about.value && (
          <Mono className="max-h-24 overflow-auto rounded-sheet bg-paper px-3 py-2 wrap-anywhere">{about.value}</Mono>
        )}
        <Soft>
          {packet.life === "drafting"
            ? `${becomes} what was typed and in every exhibit of ${packet.number}, those that come later included. The exhibits are redacted and checked for leaks again.`
            : `${becomes} what is written to ${packet.vendor} from now on. What was sealed stays as it is.`}
        </Soft>
        {masks && about.value && (
          <label className="flex items-baseline gap-3">
            It is a
            <select className="field w-auto" value={kind} onChange={(event) => setKind(event.target.value)}>
              {KINDS.split(" ").map((one) => (
                <option key={one} value={one}>
                  {one === "custom" ? "thing of our own" : one}
                </option>
              ))}
            </select>
          </label>
        )}
        <ReasonField reason={reason} setReason={setReason} />
        {masks && about.value && (
          <label className="flex items-baseline gap-2">
            <input type="checkbox" checked={always} onChange={(event) => setAlways(event.target.checked)} />
            Mask it in every packet from now on
          </label>
        )}
        <ProblemNote problem={decide.error} />
        <div className="mt-1 flex gap-3">
          <Button look="ink" type="submit" disabled={decide.isPending}>
            {act}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}

export function Decided({ packet, mayDecide }: { packet: Packet; mayDecide: boolean }) {
  const decisions = useDecisions(packet.number, mayDecide);
  const decide = useDecide(packet.number);
  const made = decisions.data?.decisions ?? [];
  if (made.length === 0) return null;
  return (
    <Sheet title={`Decided for ${packet.number}`} className="pb-3">
      <ul className="px-4">
        {made.map((one) => (
          <li key={one.id} className="flex items-baseline gap-x-4 border-t border-line py-2 first:border-0">
            <span className="flex min-w-0 flex-wrap items-baseline gap-x-3">
              <span className={one.action === "keep" ? "text-wax" : undefined}>{TOLD[one.action]}</span>
              {one.value ? <Mono className="wrap-anywhere">{one.value}</Mono> : <span>every {one.kind}</span>}
              <Soft as="span">{told(one)}</Soft>
            </span>
            {mayDecide && (
              <button
                type="button"
                className="link ml-auto whitespace-nowrap"
                disabled={decide.isPending}
                onClick={() => decide.mutate({ undo: one.id })}
              >
                Take back
              </button>
            )}
          </li>
        ))}
      </ul>
      <div className="px-4">
        <ProblemNote problem={decide.error} />
      </div>
    </Sheet>
  );
}

const told = (one: Decision) => `${one.value ? `${one.kind}: ` : ""}${one.reason} (${one.by}, ${sayMoment(one.at)})`;
