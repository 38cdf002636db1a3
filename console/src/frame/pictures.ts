/** Files that are pasted or dropped where no page of its own takes them. */
import { useEffect, useRef } from "react";

/** A name for what has none of its own: pictures from the clipboard are all called image.png. */
export function named(file: File, place: number): File {
  if (file.name && !/^image\.\w+$/.test(file.name)) return file;
  const now = new Date();
  const two = (value: number) => String(value).padStart(2, "0");
  const day = `${now.getFullYear()}${two(now.getMonth() + 1)}${two(now.getDate())}`;
  const time = `${two(now.getHours())}${two(now.getMinutes())}${two(now.getSeconds())}`;
  const more = place > 0 ? `-${place + 1}` : "";
  const ending = file.type.split("/")[1]?.replace("jpeg", "jpg") ?? "png";
  return new File([file], `screen-${day}-${time}${more}.${ending}`, { type: file.type });
}

const isEditable = (target: EventTarget | null) =>
  target instanceof Element && target.closest("input, textarea, [contenteditable]") !== null;

/** Hears of files that are pasted or dropped anywhere, also over a dialog, unless the page has taken them. */
export function useLooseFiles(allowed: boolean, onFiles: (files: File[]) => void) {
  const latest = useRef(onFiles);
  latest.current = onFiles;
  useEffect(() => {
    if (!allowed) return;
    const take = (list: FileList | undefined) => {
      const files = [...(list ?? [])];
      if (files.length > 0) latest.current(files.map(named));
    };
    const hold = (event: DragEvent) => {
      if (event.dataTransfer?.types.includes("Files")) event.preventDefault();
    };
    const drop = (event: DragEvent) => {
      if (event.defaultPrevented || !event.dataTransfer?.files.length) return;
      event.preventDefault();
      take(event.dataTransfer.files);
    };
    const paste = (event: ClipboardEvent) => {
      const text = event.clipboardData?.types.includes("text/plain") && isEditable(event.target);
      if (!event.defaultPrevented && !text) take(event.clipboardData?.files);
    };
    window.addEventListener("dragover", hold);
    window.addEventListener("drop", drop);
    window.addEventListener("paste", paste);
    return () => {
      window.removeEventListener("dragover", hold);
      window.removeEventListener("drop", drop);
      window.removeEventListener("paste", paste);
    };
  }, [allowed]);
}
