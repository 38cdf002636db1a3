/** What is to become of files that were pasted or dropped: asked before anything happens. */
import { useState } from "react";
import { useLocation } from "wouter";
import { useUploads } from "../api/upload";
import { Button } from "../components/button";
import { Dialog } from "../components/dialog";
import { ProblemNote } from "../components/problem-note";
import { count, saySize } from "../format/numbers";

interface Props {
  files: File[];
  /** A note is being written: they may go with it. */
  noting: boolean;
  onNote: (files: File[]) => void;
  onDone: () => void;
}

export function LooseFiles({ files, noting, onNote, onDone }: Props) {
  const [where, go] = useLocation();
  const number = /^\/packets\/(P-\d+)/.exec(where)?.[1] ?? "";
  const uploads = useUploads(number);
  const [sending, setSending] = useState(false);
  const failed = uploads.uploads.find((one) => one.problem);

  async function add() {
    setSending(true);
    if (await uploads.add(files)) {
      onDone();
      go(`/packets/${number}/exhibits`);
    }
    setSending(false);
  }

  return (
    <Dialog open onChange={(open) => !open && onDone()} title="What is this for?" className="p-5">
      <ul className="mb-3">
        {files.map((file) => (
          <li key={file.name} className="flex gap-3">
            <span className="font-mono text-[12.5px]">{file.name}</span>
            <span className="text-soft">{saySize(file.size)}</span>
          </li>
        ))}
      </ul>
      <ProblemNote problem={failed?.problem} />
      <div className="flex flex-wrap gap-3">
        <Button look="ink" autoFocus onClick={() => onNote(files)}>
          {noting ? "Put it with the note" : "Note a packet with it"}
        </Button>
        {number && !noting && (
          <Button disabled={sending} onClick={add}>
            Add {count(files.length, "file")} to {number}
          </Button>
        )}
        <Button onClick={onDone}>Leave it</Button>
      </div>
    </Dialog>
  );
}
