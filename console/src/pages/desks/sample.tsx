/** A sample packet of a sheet. */

import type { SheetPreview } from "../../api/desks";
import { join } from "../../components/join";
import { Soft } from "../../components/text";
import { count } from "../../format/numbers";

interface SampleProps {
  preview: SheetPreview;
  need: string;
  onNeed: (need: string) => void;
  another: () => void;
}

export function Sample({ preview, need, onNeed, another }: SampleProps) {
  const typed = preview.answers.filter((one) => one.value && !one.source).length;
  return (
    <>
      <div className="flex flex-wrap items-center gap-3 px-4 pt-1">
        <select
          aria-label="Kind of need"
          className="field w-36 py-0.5"
          value={need || preview.needs[0]}
          onChange={(event) => onNeed(event.target.value)}
        >
          {preview.needs.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
        <button type="button" className="link ml-auto" onClick={another}>
          Another
        </button>
      </div>
      <p className="px-4 pt-1 text-soft">{count(typed, "answer")} by hand, the others from the register</p>
      <ul tabIndex={0} aria-label="Answers of the sample" className="max-h-56 overflow-auto px-4 pt-2">
        {preview.answers.map((one) => (
          <li key={one.ask} className="grid grid-cols-2 gap-3 border-b border-line py-1 text-[12.5px] last:border-0">
            <span>
              {one.ask}
              {one.because && (
                <Soft as="span" block>
                  asked because {one.because}
                </Soft>
              )}
            </span>
            <span className={join("break-words whitespace-pre-line", !one.source && "font-semibold")}>
              {one.value ?? "–"}
            </span>
          </li>
        ))}
      </ul>
      {preview.cases.map((one) => (
        <pre
          key={one.label}
          tabIndex={0}
          className="mt-2 max-h-72 overflow-auto border-t border-line p-4 font-mono text-[12px] leading-[18px] whitespace-pre-wrap"
        >
          {one.text}
        </pre>
      ))}
    </>
  );
}
