/** What is done to many packets at once; of each it is said whether it is done. */

import { useState } from "react";
import type { Schemas } from "../../api/client";
import { useTogether } from "../../api/packets";
import { Button, TextButton } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { count } from "../../format/numbers";

type Act = Schemas["TogetherAct"];

const ACTS: Record<Act, { title: string; done: string; asks?: string }> = {
  hand_over: { title: "Hand over", done: "handed over", asks: "Words for them" },
  take_over: { title: "Take over", done: "taken over" },
  comment: { title: "Comment", done: "told", asks: "Words for the desks" },
  seal: { title: "Seal", done: "sealed" },
  lodge: { title: "Lodge", done: "lodged" },
  settle: { title: "Settle", done: "settled" },
};

export function TogetherActs({ numbers }: { numbers: string[] }) {
  const [act, setAct] = useState<Act>();
  return (
    <>
      {(Object.keys(ACTS) as Act[]).map((one) => (
        <TextButton key={one} onClick={() => setAct(one)}>
          {ACTS[one].title}
        </TextButton>
      ))}
      {act && <TogetherDialog act={act} numbers={numbers} onClose={() => setAct(undefined)} />}
    </>
  );
}

function TogetherDialog({ act, numbers, onClose }: { act: Act; numbers: string[]; onClose: () => void }) {
  const { title, done, asks } = ACTS[act];
  const [to, setTo] = useState("");
  const [text, setText] = useState("");
  const together = useTogether();
  const results = together.data;
  const failed = results?.filter((one) => one.problem) ?? [];
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title={`${title}: ${count(numbers.length, "packet")}`}
      className="p-5"
    >
      {results ? (
        <div>
          <p>
            {results.length - failed.length} of {results.length} {done}.
          </p>
          <ul className="mt-2 max-h-60 overflow-auto">
            {failed.map((one) => (
              <li key={one.number} className="py-1">
                <Mono>{one.number}</Mono> {one.problem}
              </li>
            ))}
          </ul>
          <Button look="ink" className="mt-4" onClick={onClose}>
            Close
          </Button>
        </div>
      ) : (
        <form
          onSubmit={(event) => {
            event.preventDefault();
            together.mutate({ act, numbers, to, text });
          }}
        >
          {act === "hand_over" && (
            <label className="mb-3 block">
              <span className="mb-0.5 block text-soft">To the account</span>
              <input className="field" required maxLength={60} value={to} onChange={(e) => setTo(e.target.value)} />
            </label>
          )}
          {asks && (
            <label className="mb-3 block">
              <span className="mb-0.5 block text-soft">{asks}</span>
              <textarea
                className="field min-h-24"
                required={act === "comment"}
                maxLength={5000}
                value={text}
                onChange={(event) => setText(event.target.value)}
              />
            </label>
          )}
          <ProblemNote problem={together.error} />
          <Button look="ink" type="submit" disabled={together.isPending}>
            {together.isPending ? "Working…" : title}
          </Button>
        </form>
      )}
    </Dialog>
  );
}
