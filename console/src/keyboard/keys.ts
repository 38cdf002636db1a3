/** Letters that act, unless somebody is typing. */
import { useEffect, useRef } from "react";

type Acts = Record<string, (() => void) | undefined | false>;

function isTyping(target: EventTarget | null) {
  const element = target as HTMLElement | null;
  return Boolean(
    element?.closest(
      "input:not([type=radio], [type=checkbox]), textarea, select, [contenteditable], [role=menu], [role=dialog]",
    ),
  );
}

/** While the component is there, these keys act, unless someone is typing. */
export function useKeys(acts: Acts) {
  const latest = useRef(acts);
  latest.current = acts;
  useEffect(() => {
    const listen = (event: globalThis.KeyboardEvent) => {
      if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
      const act = latest.current[event.key];
      if (act) {
        event.preventDefault();
        act();
      }
    };
    window.addEventListener("keydown", listen);
    return () => window.removeEventListener("keydown", listen);
  }, []);
}
