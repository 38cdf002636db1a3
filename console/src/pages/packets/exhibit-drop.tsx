/** Where exhibits are dropped, and those that are being sent. */

import { useRef } from "react";
import type { useUploads } from "../../api/upload";
import { TextButton } from "../../components/button";
import { FilesInput } from "../../components/files-input";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { saySize } from "../../format/numbers";

export function DropHere({ add }: { add: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="rounded-sheet border border-dashed border-soft/50 px-4 py-5 text-center text-soft">
      Drop or paste evidence anywhere on this page, or{" "}
      <TextButton onClick={() => input.current?.click()}>choose files</TextButton>
      <FilesInput input={input} label="Files to add" add={add} />
    </div>
  );
}

export function Coming({ uploads }: { uploads: ReturnType<typeof useUploads> }) {
  return (
    <Sheet title="On the way in" className="pb-3">
      <ul className="px-4">
        {uploads.uploads.map((upload) => (
          <li key={upload.id} className="py-2">
            <Row gap={4} place="apart">
              <Mono className="truncate">{upload.name}</Mono>
              <span className="text-soft tabular-nums">
                {saySize(upload.sent)} of {saySize(upload.size)}
              </span>
            </Row>
            {upload.problem ? (
              <ProblemNote problem={upload.problem}>
                <TextButton onClick={() => uploads.dismiss(upload.id)}>Understood</TextButton>
              </ProblemNote>
            ) : (
              <Bar label={`${upload.name} sent`} part={upload.size ? upload.sent / upload.size : 1} />
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

export function Bar({ label, part }: { label: string; part: number }) {
  const percent = Math.round(Math.min(part, 1) * 100);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="mt-1 h-1.5 rounded-full bg-line"
    >
      <div className="h-full rounded-full bg-slate" style={{ width: `${percent}%` }} />
    </div>
  );
}
