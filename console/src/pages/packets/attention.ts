/** Why a packet needs us, in words and colours, in the order in which it is dealt with. */

import type { Schemas } from "../../api/client";

export type Attention = Schemas["Attention"];

export const REASONS: Record<Attention, string> = {
  overdue: "overdue",
  due_soon: "due soon",
  asked: "asked",
  refused: "refused",
  doubtful: "may be a question",
  by_hand: "to be entered by hand",
  waiting: "waiting",
  theirs: "",
  over: "",
};

/** Headings of the parts of Today. */
export const HEADINGS: Partial<Record<Attention, string>> = {
  overdue: "Overdue",
  due_soon: "Due soon",
  asked: "A vendor asks",
  refused: "Refused",
  doubtful: "May be a question",
  by_hand: "To be entered by hand",
  waiting: "Waiting for us",
};

/** Promises of desks, in words. */
export const DUES: Record<Schemas["DueWhat"], string> = {
  "": "",
  first_answer: "first answer",
  next_word: "next word",
  repair: "repair",
};

/** Whether the desk's rules let us escalate it at this moment. */
export const mayEscalate = (packet: Pick<Schemas["PacketBrief"], "escalate_at">) =>
  packet.escalate_at != null && Date.parse(packet.escalate_at) <= Date.now();

export function attentionTone(attention: Attention) {
  if (attention === "overdue" || attention === "asked" || attention === "refused") return "wax";
  return attention === "waiting" ? "plain" : "ochre";
}
