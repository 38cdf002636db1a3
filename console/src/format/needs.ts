/** The kinds of need, each in the words of someone who notes one. */
import type { Need } from "../api/coverage";

export const NEED_WORDS: Record<Need, string> = {
  fault: "Something is broken",
  question: "A question",
  change: "A change of level",
  capacity: "More capacity",
  return: "A part to return",
  help: "Bought help",
  improvement: "A wish for improvement",
  tie: "A contract to tie to a login",
  reading: "A meter reading to report",
};

export const NEEDS = Object.keys(NEED_WORDS) as Need[];
