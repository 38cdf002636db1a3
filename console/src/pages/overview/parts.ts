/** The parts of the overview: their words, and which numbers are drawn. */
import type { OverviewPart } from "../../api/overview";

export interface Drawn {
  title: string;
  /** What the part says, in a sentence. */
  says: string;
  /** The numbers that are drawn, by name, each in a colour. */
  series: [name: string, colour: string][];
  stacked?: boolean;
  /** Rows stand under each other, not side by side. */
  lying?: boolean;
  unit?: string;
}

const shade = (share: number) => `color-mix(in srgb, var(--slate) ${share}%, var(--sheet))`;

export const PARTS: Record<OverviewPart, Drawn> = {
  open: {
    title: "Open, by vendor and age",
    says: "All that wait for us or a vendor now.",
    series: [
      ["up to a day", shade(25)],
      ["1 to 3 days", shade(45)],
      ["3 to 7 days", shade(70)],
      ["1 to 4 weeks", shade(100)],
      ["older", "var(--wax)"],
    ],
    stacked: true,
    lying: true,
  },
  flow: {
    title: "Noted, lodged and settled",
    says: "By month; by week for a short period.",
    series: [
      ["noted", shade(35)],
      ["lodged", "var(--slate)"],
      ["settled", "var(--moss)"],
    ],
  },
  promises: {
    title: "Promised against actual",
    says: "The share of promises that vendors kept, by severity; the time is that in the middle.",
    series: [
      ["first answer in time", shade(50)],
      ["repair in time", "var(--slate)"],
    ],
    lying: true,
    unit: "%",
  },
  questions: {
    title: "How often vendors ask back",
    says: "Questions for each packet that was lodged.",
    series: [["questions for each packet", "var(--slate)"]],
    lying: true,
  },
  refusals: {
    title: "Why desks refused",
    says: "Packets that came back, by the desk's code.",
    series: [["refused", "var(--wax)"]],
    lying: true,
  },
  answers: {
    title: "Contested answers",
    says: "Answers that vendors proposed, and those that did not help.",
    series: [
      ["answered", shade(50)],
      ["contested", "var(--wax)"],
    ],
    lying: true,
  },
  ratings: {
    title: "Ratings",
    says: "How their help was rated, from 1 (bad) to 5 (good).",
    series: [
      ["1", "var(--wax)"],
      ["2", "color-mix(in srgb, var(--wax) 45%, var(--sheet))"],
      ["3", "var(--line)"],
      ["4", "color-mix(in srgb, var(--moss) 45%, var(--sheet))"],
      ["5", "var(--moss)"],
    ],
    stacked: true,
    lying: true,
  },
  contracts: {
    title: "What contracts were used for",
    says: "Since the present term of each began: what to bring up when it is renewed.",
    series: [["packets", "var(--slate)"]],
    lying: true,
  },
};
