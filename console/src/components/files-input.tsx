/** The unseen field that opens the choice of files; a button clicks it. */
import type { RefObject } from "react";

interface Props {
  input: RefObject<HTMLInputElement | null>;
  label: string;
  add: (files: File[]) => void;
}

export function FilesInput({ input, label, add }: Props) {
  return (
    <input
      ref={input}
      type="file"
      multiple
      className="sr-only"
      tabIndex={-1}
      aria-label={label}
      onChange={(event) => {
        add([...(event.target.files ?? [])]);
        event.target.value = "";
      }}
    />
  );
}
