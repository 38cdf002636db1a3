/** The seal: faint wax while something stops the packet, pressed when it is sealed. */
import { join } from "./join";

export function Seal({ state, size = 46 }: { state: "waiting" | "ready" | "sealed"; size?: number }) {
  return (
    <span
      aria-hidden
      style={{ width: size, height: size, fontSize: size * 0.4 }}
      className={join(
        "wax inline-flex shrink-0 items-center justify-center rounded-full font-serif font-semibold",
        state === "waiting" && "opacity-40 saturate-50",
        state === "sealed" && "pressed",
      )}
    >
      S
    </span>
  );
}
