/** Where a file comes in: chosen, or dropped; what belongs to it is chosen beside. */
import { type DragEvent, type ReactNode, useState } from "react";
import { join } from "./join";
import { ProblemNote } from "./problem-note";

interface Props {
  label: string;
  accept: string;
  busy: boolean;
  onFile: (file: File) => void;
  problem?: unknown;
  children?: ReactNode;
}

export function FileDrop({ label, accept, busy, onFile, problem, children }: Props) {
  const [over, setOver] = useState(false);
  const take = (files: FileList | null) => files?.[0] && onFile(files[0]);
  const drop = (event: DragEvent) => {
    event.preventDefault();
    setOver(false);
    take(event.dataTransfer.files);
  };
  return (
    // biome-ignore lint/a11y/noStaticElementInteractions: files may be dropped; the button inside does the same
    <div
      onDragOver={(event) => {
        event.preventDefault();
        setOver(true);
      }}
      onDragLeave={() => setOver(false)}
      onDrop={drop}
      className={join(
        "mt-4 flex flex-wrap items-center gap-3 rounded-sheet border border-dashed p-4",
        over ? "border-ink bg-sheet" : "border-line",
      )}
    >
      {children}
      <label className="cursor-pointer rounded-md border border-ink bg-ink px-3 py-1.5 font-semibold text-paper has-focus-visible:outline-2 has-focus-visible:outline-offset-2 has-focus-visible:outline-slate">
        {busy ? "Sending…" : "Choose a file"}
        <input
          type="file"
          className="sr-only"
          aria-label={label}
          accept={accept}
          onChange={(event) => {
            take(event.target.files);
            event.target.value = "";
          }}
        />
      </label>
      <span className="text-soft">or drop it here</span>
      <div className="basis-full empty:hidden">
        <ProblemNote problem={problem} />
      </div>
    </div>
  );
}
