/** A short state in a coloured pill. */

import type { ReactNode } from "react";
import type { Life } from "../api/packets";
import { join } from "./join";

const BADGES = {
  wax: "bg-wax-wash text-wax",
  ochre: "bg-ochre-wash text-ochre",
  moss: "bg-moss-wash text-moss",
  plain: "border border-line text-soft",
};

interface Props {
  tone: keyof typeof BADGES;
  /** More about it, for who points at it. */
  title?: string;
  children: ReactNode;
}

export function Badge({ tone, title, children }: Props) {
  return (
    <span
      title={title}
      className={join("inline-block rounded-full px-2 text-[12px] leading-5 whitespace-nowrap", BADGES[tone])}
    >
      {children}
    </span>
  );
}

export function lifeTone(life: Life): keyof typeof BADGES {
  if (life === "refused") return "wax";
  if (life === "drafting") return "ochre";
  if (life === "answered" || life === "settled") return "moss";
  return "plain";
}
