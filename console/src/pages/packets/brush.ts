/** A window on a timeline: places are parts of the whole, from 0 to 1. */

export interface Window {
  from: number;
  to: number;
}

const within = (place: number) => Math.max(0, Math.min(1, place));

/** The window between two places, whichever was first. */
export const between = (one: number, other: number): Window => ({
  from: within(Math.min(one, other)),
  to: within(Math.max(one, other)),
});

/** Arrow keys move a window by a step; with Shift they move its end, with Alt its start. Undefined for other keys. */
export function moved(window: Window, key: string, shift: boolean, alt: boolean, step: number): Window | undefined {
  const way = { ArrowLeft: -step, ArrowRight: step }[key];
  if (way === undefined) return undefined;
  if (shift) return { from: window.from, to: Math.max(window.from + step, within(window.to + way)) };
  if (alt) return { from: Math.min(window.to - step, within(window.from + way)), to: window.to };
  const width = window.to - window.from;
  const from = Math.max(0, Math.min(1 - width, window.from + way));
  return { from, to: from + width };
}

/** The moment at a place of a span, as RFC 3339, to the second. */
export function momentAt(first: string, last: string, place: number) {
  const start = Date.parse(first);
  return new Date(Math.round((start + (Date.parse(last) - start) * place) / 1000) * 1000).toISOString();
}

/** The place of a moment in a span. */
export function placeOf(first: string, last: string, moment: string) {
  const start = Date.parse(first);
  return (Date.parse(moment) - start) / Math.max(1, Date.parse(last) - start);
}
