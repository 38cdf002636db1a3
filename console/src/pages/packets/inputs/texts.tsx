/** Text and number inputs. */

import { useEffect, useState } from "react";
import type { Question } from "../../../api/packets";
import { join } from "../../../components/join";
import { Row } from "../../../components/layout";
import type { FieldProps, InputProps } from "./props";

const LONG = ["long", "steps", "address", "versions"];

export function Text({ id, question, value, disabled, save }: FieldProps & { question: Question }) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const long = LONG.includes(question.form);
  const shared = {
    id,
    disabled,
    maxLength: question.max_length,
    placeholder: question.example || undefined,
    className: join("field", long && "min-h-20", ["version", "versions"].includes(question.form) && "font-mono"),
    value: text,
    onBlur: () => save(text.trim()),
  };
  return long ? (
    <textarea {...shared} onChange={(event) => setText(event.target.value)} />
  ) : (
    <input
      {...shared}
      onChange={(event) => setText(event.target.value)}
      onKeyDown={(event) => event.key === "Enter" && save(text.trim())}
    />
  );
}

/** A number, and the unit behind it where the desk wants one. */
export function WithUnit({ question, disabled, save }: Omit<InputProps, "packet">) {
  const value = question.answer.value ?? "";
  const [number = "", unit = question.units[0] ?? ""] = value.split(" ", 2);
  const [text, setText] = useState(number);
  useEffect(() => setText(number), [number]);
  const keep = (wanted: string, behind: string) => save(wanted ? [wanted, behind].filter(Boolean).join(" ") : "");
  return (
    <Row gap={2}>
      <input
        id={`q-${question.id}`}
        className="field w-36 font-mono"
        inputMode="decimal"
        disabled={disabled}
        placeholder={question.example.split(" ")[0]}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text.trim() !== number && keep(text.trim(), unit)}
        onKeyDown={(event) => event.key === "Enter" && keep(text.trim(), unit)}
      />
      {question.units.length > 1 ? (
        <select
          aria-label={`Unit of: ${question.ask}`}
          className="field w-28"
          disabled={disabled}
          value={unit}
          onChange={(event) => keep(text.trim(), event.target.value)}
        >
          {question.units.map((one) => (
            <option key={one}>{one}</option>
          ))}
        </select>
      ) : (
        <span className="self-center text-soft">{unit}</span>
      )}
    </Row>
  );
}
