/** Grey lines in the place of text that is being loaded. */
import { join } from "./join";

/** Lines where text will stand, so that nothing jumps when it comes. */
export function Waiting({ lines = 4, label }: { lines?: number; label: string }) {
  const widths = ["w-3/5", "w-4/5", "w-2/5", "w-3/4", "w-1/2"];
  return (
    <div role="status" aria-label={label} className="flex flex-col gap-3 py-3">
      {Array.from({ length: lines }, (_, place) => (
        // biome-ignore lint/suspicious/noArrayIndexKey: the lines are all alike
        <div key={place} className={join("h-4 rounded bg-line/60", widths[place % widths.length])} />
      ))}
    </div>
  );
}
