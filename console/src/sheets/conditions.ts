/** Whether a sheet's condition holds. The service has the same in conditions.py, and a test holds them together. */
import type { Schemas } from "../api/client";

export type Condition = Schemas["Condition"];

export type Values = Readonly<Record<string, string | null | undefined>>;

export function holds(condition: boolean | Condition, values: Values, facts: Values): boolean {
  if (typeof condition === "boolean") return condition;
  const verdicts: boolean[] = [];
  if (condition.question || condition.fact) {
    const value = (condition.question ? values[condition.question] : facts[condition.fact ?? ""]) || null;
    if (condition.one_of) {
      verdicts.push(value !== null && condition.one_of.some((one) => value === one || value.startsWith(`${one}/`)));
    }
    if (condition.answered !== null && condition.answered !== undefined) {
      verdicts.push((value !== null) === condition.answered);
    }
    if (condition.minimum !== null && condition.minimum !== undefined) {
      const number = leading(value);
      verdicts.push(number !== null && number >= condition.minimum);
    }
  }
  if (condition.all) verdicts.push(condition.all.every((inner) => holds(inner, values, facts)));
  if (condition.any) verdicts.push(condition.any.some((inner) => holds(inner, values, facts)));
  if (condition.none) verdicts.push(!condition.none.some((inner) => holds(inner, values, facts)));
  return verdicts.every(Boolean);
}

/** The number with which a value begins, as in `3 kVA`. */
function leading(value: string | null): number | null {
  const head = (value ?? "").split(" ", 1)[0] ?? "";
  return /^[+-]?(\d+\.?\d*|\.\d+)(e[+-]?\d+)?$/i.test(head) ? Number(head) : null;
}

/** Which questions are asked, and which are required, as the answers stand. */
export function asked<Q extends Asked>(questions: readonly Q[], facts: Values): { shown: Q[]; hidden: Q[] } {
  const values: Record<string, string | null | undefined> = {};
  const shown: Q[] = [];
  const hidden: Q[] = [];
  for (const question of [...questions].sort((one, other) => one.place - other.place)) {
    if (!holds(question.shown_when, values, facts)) {
      hidden.push(question);
      continue;
    }
    const required = holds(question.required_when, values, facts);
    shown.push({ ...question, answer: { ...question.answer, shown: true, required } });
    if (question.answer.value) values[question.id] = question.answer.value;
  }
  return { shown, hidden };
}

interface Asked {
  id: string;
  place: number;
  shown_when: boolean | Condition;
  required_when: boolean | Condition;
  answer: { value?: string | null; shown: boolean; required: boolean };
}
