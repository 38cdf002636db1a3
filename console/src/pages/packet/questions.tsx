/** What the desk asks; most of it is answered from the register, and says so. */
import { useEffect, useRef, useState } from "react";
import type { Packet, Question } from "../../api/data";
import { useAnswer } from "../../api/data";
import { Button, join, Nothing, Sheet, TroubleNote } from "../../parts/basics";

export function QuestionsPart({ packet, focus }: { packet: Packet; focus: string | undefined }) {
  const answer = useAnswer(packet.number);
  if (packet.questions.length === 0) return <Nothing>Name the thing first; its desk has the questions.</Nothing>;
  const drafting = packet.life === "drafting";
  return (
    <Sheet>
      <TroubleNote trouble={answer.error} />
      <ul>
        {packet.questions.map((question) => (
          <Asked
            key={question.id}
            question={question}
            packet={packet}
            focused={focus === question.id}
            disabled={!drafting}
            save={(value) => {
              if (value !== (question.answer.value ?? "")) answer.mutate({ [question.id]: value || null });
            }}
            forget={() => answer.mutate({ [question.id]: null })}
          />
        ))}
      </ul>
    </Sheet>
  );
}

interface AskedProps {
  question: Question;
  packet: Packet;
  focused: boolean;
  disabled: boolean;
  save: (value: string) => void;
  forget: () => void;
}

function Asked({ question, packet, focused, disabled, save, forget }: AskedProps) {
  const row = useRef<HTMLLIElement>(null);
  useEffect(() => {
    if (!focused) return;
    row.current?.scrollIntoView({ block: "center" });
    row.current?.querySelector<HTMLElement>("input, textarea, select")?.focus();
  }, [focused]);
  const { answer } = question;
  const missing = answer.required && !answer.value;
  return (
    <li
      ref={row}
      className={join(
        "grid grid-cols-[210px_minmax(0,1fr)] gap-x-5 border-b border-l-3 border-line px-4 py-3 last:border-b-0 max-md:grid-cols-1",
        missing || question.fault ? "border-l-wax" : "border-l-transparent",
      )}
    >
      <div>
        <label htmlFor={`q-${question.id}`} id={`l-${question.id}`} className="font-semibold">
          {question.ask}
        </label>
        <p className="text-[12.5px] leading-[18px] text-soft">
          {source(question)}
          {answer.typed && !disabled && (
            <button type="button" className="link ml-2" onClick={forget}>
              Forget
            </button>
          )}
        </p>
      </div>
      <div className="min-w-0">
        <Input question={question} packet={packet} disabled={disabled} save={save} />
        {question.guide && <p className="mt-1 text-[12.5px] text-soft">{question.guide}</p>}
        {question.fault && (
          <p role="alert" className="mt-1 text-wax">
            {question.fault}
          </p>
        )}
      </div>
    </li>
  );
}

function source({ answer }: Question) {
  if (answer.typed) return "answered by you";
  if (answer.source) return `from ${answer.source}`;
  return answer.required ? "needed" : "if you know it";
}

interface InputProps {
  question: Question;
  packet: Packet;
  disabled: boolean;
  save: (value: string) => void;
}

function Input({ question, packet, disabled, save }: InputProps) {
  const id = `q-${question.id}`;
  const value = question.answer.value ?? "";
  switch (question.form) {
    case "choice":
    case "tree":
      return <Choices question={question} disabled={disabled} save={save} />;
    case "person":
      return (
        <select
          id={id}
          className="field"
          disabled={disabled}
          value={value}
          onChange={(event) => save(event.target.value)}
        >
          {!value && <option value="">nobody yet</option>}
          {packet.people.map((person) => (
            <option key={person.key} value={person.key}>
              {person.name}
              {person.on_call ? " · reachable day and night" : ""}
            </option>
          ))}
        </select>
      );
    case "moment":
      return <Moment id={id} value={value} disabled={disabled} save={save} />;
    default:
      return (
        <Text
          id={id}
          long={question.form === "long"}
          most={question.at_most}
          value={value}
          disabled={disabled}
          save={save}
        />
      );
  }
}

interface TextProps {
  id: string;
  long: boolean;
  most: number;
  value: string;
  disabled: boolean;
  save: (value: string) => void;
}

function Text({ id, long, most, value, disabled, save }: TextProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const shared = {
    id,
    disabled,
    maxLength: most,
    className: join("field", long && "min-h-20"),
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

/** Date and time in the reader's own zone; kept with its offset (RFC 3339). */
function Moment({ id, value, disabled, save }: Omit<TextProps, "long" | "most">) {
  const shown = value ? localMinutes(new Date(value)) : "";
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const keep = () => save(text ? withOffset(new Date(text)) : "");
  return (
    <div className="flex gap-2">
      <input
        id={id}
        type="datetime-local"
        className="field w-60"
        disabled={disabled}
        max={localMinutes(new Date())}
        value={text}
        onChange={(event) => setText(event.target.value)}
        onBlur={() => text !== shown && keep()}
        onKeyDown={(event) => event.key === "Enter" && keep()}
      />
      {!disabled && <Button onClick={() => save(withOffset(new Date()))}>Now</Button>}
    </div>
  );
}

function localMinutes(moment: Date) {
  const local = new Date(moment.getTime() - moment.getTimezoneOffset() * 60_000);
  return local.toISOString().slice(0, 16);
}

function withOffset(moment: Date) {
  const offset = -moment.getTimezoneOffset();
  const two = (number: number) => String(Math.floor(Math.abs(number))).padStart(2, "0");
  return `${localMinutes(moment)}${offset < 0 ? "-" : "+"}${two(offset / 60)}:${two(offset % 60)}`;
}

function Choices({ question, disabled, save }: Omit<InputProps, "packet">) {
  const [words, setWords] = useState("");
  const many = question.choices.length > 8;
  const needle = words.trim().toLowerCase();
  const shown = question.choices.filter((choice) =>
    [...choice.above, choice.label, choice.words].join(" ").toLowerCase().includes(needle),
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
              {choice.above.length > 0 && <span className="text-soft">{choice.above.join(" › ")} › </span>}
              {choice.label}
              {choice.words && <span className="block text-[12.5px] leading-[18px] text-soft">{choice.words}</span>}
            </span>
          </label>
        ))}
        {shown.length === 0 && <p className="text-soft">No choice is called that.</p>}
      </div>
    </fieldset>
  );
}
