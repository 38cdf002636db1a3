/** Inputs with choices. */

import { useEffect, useState } from "react";
import type { Question } from "../../../api/packets";
import { join } from "../../../components/join";
import { Soft } from "../../../components/text";
import type { FieldProps, InputProps } from "./props";

interface SelectProps extends FieldProps {
  options: { value: string; label: string }[];
  nothing: string;
}

export function Select({ id, value, disabled, save, options, nothing }: SelectProps) {
  return (
    <select id={id} className="field" disabled={disabled} value={value} onChange={(event) => save(event.target.value)}>
      {(!value || !options.some((one) => one.value === value)) && <option value={value}>{value || nothing}</option>}
      {options.map((one) => (
        <option key={one.value} value={one.value}>
          {one.label}
        </option>
      ))}
    </select>
  );
}

const commas = (text: string) =>
  text
    .split(",")
    .map((part) => part.trim())
    .filter(Boolean);

interface TicksProps {
  question: Question;
  disabled: boolean;
  save: (value: string) => void;
  options: { value: string; label: string }[];
}

/** Several of some, no more than the desk takes. */
export function Ticks({ question, disabled, save, options }: TicksProps) {
  // A tick stands at once; what the service answers comes after it and has the last word.
  const known = question.answer.value ?? "";
  const [ticked, setTicked] = useState(known);
  useEffect(() => setTicked(known), [known]);
  const chosen = commas(ticked);
  const full = chosen.length >= question.max_items;
  const tick = (value: string, on: boolean) => {
    const now = options
      .map((other) => other.value)
      .filter((other) => (other === value ? on : chosen.includes(other)))
      .join(", ");
    setTicked(now);
    save(now);
  };
  return (
    <fieldset disabled={disabled} aria-labelledby={`l-${question.id}`}>
      {options.map((one, place) => (
        <label key={one.value} className="flex items-baseline gap-2 py-0.5">
          <input
            type="checkbox"
            id={place === 0 ? `q-${question.id}` : undefined}
            className="accent-ink"
            checked={chosen.includes(one.value)}
            disabled={full && !chosen.includes(one.value)}
            onChange={(event) => tick(one.value, event.target.checked)}
          />
          {one.label}
        </label>
      ))}
      {question.max_items < options.length && <p className="text-[12.5px] text-soft">{question.max_items} at most</p>}
    </fieldset>
  );
}

export function Several({ question, disabled, save }: Omit<InputProps, "packet">) {
  const options = question.choices.map((choice) => ({ value: choice.path, label: choice.label }));
  return <Ticks question={question} disabled={disabled} save={save} options={options} />;
}

/** Yes or no to the whole wording, which stands beside it. */
export function Consent({ question, disabled, save }: Omit<InputProps, "packet">) {
  return (
    <fieldset disabled={disabled} aria-labelledby={`l-${question.id}`}>
      <blockquote className="mb-1.5 border-l-2 border-line pl-3 text-soft">{question.wording}</blockquote>
      <div className="flex gap-5">
        {(["yes", "no"] as const).map((value, place) => (
          <label key={value} className="flex items-baseline gap-2">
            <input
              type="radio"
              id={place === 0 ? `q-${question.id}` : undefined}
              name={question.id}
              className="accent-ink"
              checked={question.answer.value === value}
              onChange={() => save(value)}
            />
            {value === "yes" ? "Yes, agreed" : "No"}
          </label>
        ))}
      </div>
    </fieldset>
  );
}

export function Choices({ question, disabled, save }: Omit<InputProps, "packet">) {
  const [words, setWords] = useState("");
  const many = question.choices.length > 8;
  const needle = words.trim().toLowerCase();
  const shown = question.choices.filter((choice) =>
    [...choice.above, choice.label, choice.meaning].join(" ").toLowerCase().includes(needle),
  );
  return (
    <fieldset disabled={disabled} aria-labelledby={`l-${question.id}`}>
      {many && (
        <input
          id={`q-${question.id}`}
          className="field mb-2"
          placeholder={`Narrow the ${question.choices.length} choices`}
          value={words}
          onChange={(event) => setWords(event.target.value)}
        />
      )}
      <div className={join(many && "grid max-h-56 grid-cols-2 gap-x-4 overflow-auto max-lg:grid-cols-1")}>
        {shown.map((choice, place) => (
          <label key={choice.path} className="flex items-baseline gap-2 py-0.5">
            <input
              type="radio"
              id={!many && place === 0 ? `q-${question.id}` : undefined}
              name={question.id}
              className="accent-ink"
              checked={question.answer.value === choice.path}
              onChange={() => save(choice.path)}
            />
            <span>
              {choice.above.length > 0 && <Soft as="span">{choice.above.join(" › ")} › </Soft>}
              {choice.label}
              {choice.meaning && <span className="block text-[12.5px] leading-[18px] text-soft">{choice.meaning}</span>}
            </span>
          </label>
        ))}
        {shown.length === 0 && <Soft>No choice is called that.</Soft>}
      </div>
    </fieldset>
  );
}
