/** Boxes that a person has drawn, and the reason for a new one. */

import { useState } from "react";
import type { DrawnBox } from "../../api/exhibit-pages";
import { Button } from "../../components/button";
import { Dialog } from "../../components/dialog";
import { ProblemNote } from "../../components/problem-note";
import { ReasonField } from "../../components/reason-field";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";

interface DrawnProps {
  drawn: DrawnBox[];
  mayDecide: boolean;
  busy: boolean;
  rubOut: (ident: string) => void;
}

export function Drawn({ drawn, mayDecide, busy, rubOut }: DrawnProps) {
  if (drawn.length === 0) return null;
  return (
    <ul className="border-t border-line px-3.5 py-1" aria-label="Boxes that were drawn">
      {drawn.map((box) => (
        <li key={box.id} className="flex items-baseline gap-3 py-0.5">
          <span className="whitespace-nowrap">box on page {box.page}</span>
          <Soft as="span">
            {box.reason} ({box.by}, {sayMoment(box.at)})
          </Soft>
          {mayDecide && (
            <button
              type="button"
              className="link ml-auto whitespace-nowrap"
              disabled={busy}
              onClick={() => rubOut(box.id)}
            >
              Take back
            </button>
          )}
        </li>
      ))}
    </ul>
  );
}

interface WhyProps {
  boxes: number;
  busy: boolean;
  problem: unknown;
  onClose: () => void;
  onCover: (reason: string) => void;
}

export function WhyCover({ boxes, busy, problem, onClose, onCover }: WhyProps) {
  const [reason, setReason] = useState("");
  return (
    <Dialog
      open
      onChange={(open) => !open && onClose()}
      title="Cover what is drawn"
      className="w-[min(96vw,480px)] p-5"
    >
      <form
        className="flex flex-col gap-3"
        onSubmit={(event) => {
          event.preventDefault();
          onCover(reason);
        }}
      >
        <Soft>
          {boxes === 1 ? "The box is" : `The ${boxes} boxes are`} burnt into the outgoing copy; it is made and checked
          for leaks again.
        </Soft>
        <ReasonField reason={reason} setReason={setReason} />
        <ProblemNote problem={problem} />
        <div className="mt-1 flex gap-3">
          <Button look="ink" type="submit" disabled={busy}>
            Cover {boxes === 1 ? "it" : "them"}
          </Button>
          <Button onClick={onClose}>Cancel</Button>
        </div>
      </form>
    </Dialog>
  );
}
