/** A row of tabs that switches between the views of one part of a page. */
import type { ReactNode } from "react";
import { join } from "./join";

interface Props<View extends string> {
  label: string;
  views: readonly View[];
  shown: View;
  onShow: (view: View) => void;
  /** Filled ones stand apart; the others are underlined. */
  filled?: boolean;
  className?: string;
  children?: (view: View) => ReactNode;
}

const LOOKS = {
  filled: ["rounded-full px-2.5 py-0.5", "bg-ink text-paper", "text-soft hover:text-ink"],
  lined: ["border-b-2 pb-0.5", "border-ink font-semibold", "border-transparent text-soft"],
} as const;

export function Views<View extends string>({ label, views, shown, onShow, filled, className, children }: Props<View>) {
  const [every, here, there] = LOOKS[filled ? "filled" : "lined"];
  return (
    <div role="tablist" aria-label={label} className={join("flex flex-wrap", filled ? "gap-1" : "gap-x-4", className)}>
      {views.map((one) => (
        <button
          key={one}
          type="button"
          role="tab"
          aria-selected={one === shown}
          className={join(every, one === shown ? here : there)}
          onClick={() => onShow(one)}
        >
          {children ? children(one) : one}
        </button>
      ))}
    </div>
  );
}
