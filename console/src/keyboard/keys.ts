/** Keys that act, unless somebody is typing. Each press does one thing. */
import { useEffect, useRef } from "react";
import { type ActionOf, keyOf, type Scope } from "./registry";

type Act = (() => void) | undefined | false;
type Acts = Record<string, Act>;

const layers: { current: Acts }[] = [];

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
  for (const layer of layers) {
    const act = layer.current[event.key];
    if (act) {
      event.preventDefault();
      act();
      return;
    }
  }
}

/** While the component is there, the keys of a scope act, unless someone is typing. */
export function useKeys<Of extends Scope>(scope: Of, acts: Partial<Record<ActionOf<Of>, Act>>) {
  const byKey = Object.fromEntries(
    Object.entries<Act | undefined>(acts).map(([action, act]) => [keyOf(scope, action as ActionOf<Of>), act]),
  );
  const latest = useRef<Acts>(byKey);
  latest.current = byKey;
  useEffect(() => {
    if (layers.length === 0) window.addEventListener("keydown", listen);
    layers.push(latest);
    return () => {
      layers.splice(layers.indexOf(latest), 1);
      if (layers.length === 0) window.removeEventListener("keydown", listen);
    };
  }, []);
}
