/** Beside the text of a sheet: a sample, the way back, a trial, and the sheet in sentences. */

import { useState } from "react";
import type { SheetPreview } from "../../api/desks";
import { Sheet } from "../../components/sheet";
import { Views } from "../../components/views";
import { Sample } from "./sample";
import { Trial } from "./trial";
import { WayBack } from "./way-back";

const VIEWS = ["Sample", "Replies", "Trial", "In sentences"] as const;

interface Props {
  preview: SheetPreview;
  /** The text that the preview was made from. */
  text: string;
  /** The text has stops now: this is what it was before. */
  old: boolean;
  seed: number;
  need: string;
  onNeed: (need: string) => void;
  another: () => void;
}

export function Beside({ preview, text, old, seed, need, onNeed, another }: Props) {
  const [view, setView] = useState<(typeof VIEWS)[number]>("Sample");
  return (
    <Sheet>
      <Views label="The sheet in sentences" views={VIEWS} shown={view} onShow={setView} className="px-4 pt-3" />
      {old && <p className="px-4 pt-1.5 text-soft">Shows the last valid version.</p>}
      {view === "Sample" && <Sample preview={preview} need={need} onNeed={onNeed} another={another} />}
      {view === "Replies" && <WayBack text={text} samples={preview.replies} />}
      {view === "Trial" && <Trial text={text} seed={seed} need={need || (preview.needs[0] ?? "fault")} />}
      {view === "In sentences" && (
        <ul tabIndex={0} aria-label="The sheet in sentences" className="max-h-[60dvh] overflow-auto px-4 pt-1 pb-3.5">
          {preview.explained.map((one) => (
            <li key={one} className="border-b border-line py-1 break-words last:border-0">
              {one}
            </li>
          ))}
        </ul>
      )}
    </Sheet>
  );
}
