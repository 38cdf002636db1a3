/** Letters that act, unless somebody is typing. Each press does one thing: the page's own goes before the frame's. */
import { useEffect, useRef } from "react";

type Acts = Record<string, (() => void) | undefined | false>;
interface Layer {
  acts: { current: Acts };
  everywhere: boolean;
}

const layers: Layer[] = [];

function isTyping(target: EventTarget | null) {
  const element = target as HTMLElement | null;
  return Boolean(
    element?.closest(
      "input:not([type=radio], [type=checkbox]), textarea, select, [contenteditable], [role=menu], [role=dialog]",
    ),
  );
}

function listen(event: globalThis.KeyboardEvent) {
  if (event.ctrlKey || event.metaKey || event.altKey || isTyping(event.target)) return;
  const ofPage = layers.filter((layer) => !layer.everywhere);
  const ofAll = layers.filter((layer) => layer.everywhere);
  for (const layer of [...ofPage, ...ofAll]) {
    const act = layer.acts.current[event.key];
    if (act) {
      event.preventDefault();
      act();
      return;
    }
  }
}

/** While the component is there, these keys act, unless someone is typing. Those of every page give way to a page's. */
export function useKeys(acts: Acts, everywhere = false) {
  const latest = useRef(acts);
  latest.current = acts;
  useEffect(() => {
    const layer = { acts: latest, everywhere };
    if (layers.length === 0) window.addEventListener("keydown", listen);
    layers.push(layer);
    return () => {
      layers.splice(layers.indexOf(layer), 1);
      if (layers.length === 0) window.removeEventListener("keydown", listen);
    };
  }, [everywhere]);
}
