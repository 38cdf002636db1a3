/** A text that somebody is writing and that is still there after they have looked at another page. */
import { useEffect, useState } from "react";

/** The text kept under a name in this tab, and a setter; an empty text is forgotten. */
export function useKept(name: string): [string, (text: string) => void] {
  const key = `sealpacket.written.${name}`;
  const [text, setText] = useState(() => sessionStorage.getItem(key) ?? "");
  useEffect(() => {
    if (text) sessionStorage.setItem(key, text);
    else sessionStorage.removeItem(key);
  }, [key, text]);
  return [text, setText];
}
