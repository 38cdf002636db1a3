/** The fields of a packet's questions, one for each form of answer. */
import { useEffect, useRef, useState } from "react";
import type { Packet, Question } from "../../api/data";
import { Button, join } from "../../parts/basics";

interface InputProps {
  question: Question;
  packet: Packet;
  disabled: boolean;
  save: (value: string) => void;
}

export function Input({ question, packet, disabled, save }: InputProps) {
  const id = `q-${question.id}`;
  const value = question.answer.value ?? "";
  switch (question.form) {
    case "choice":
    case "tree":
      return <Choices question={question} disabled={disabled} save={save} />;
    case "several":
      return <Several question={question} disabled={disabled} save={save} />;
    case "consent":
      return <Consent question={question} disabled={disabled} save={save} />;
    case "person":
      return (
        <Select
          id={id}
          value={value}
          disabled={disabled}
          save={save}
          nothing="nobody yet"
          options={packet.people.map(({ key, name, on_call, away }) => ({
            value: key,
            label: [name, on_call && "reachable day and night", away && `away until ${away}`]
              .filter(Boolean)
              .join(" · "),
          }))}
        />
      );
    case "people":
      return <People question={question} packet={packet} disabled={disabled} save={save} />;
    case "country":
    case "state":
    case "language":
      if (question.options.length > 0) {
        return (
          <Select
            id={id}
            value={value}
            disabled={disabled}
            save={save}
            nothing="not said yet"
            options={question.options.map((one) => ({ ...one, label: `${one.label} (${one.value})` }))}
          />
        );
      }
      return <Text id={id} question={question} value={value} disabled={disabled} save={save} />;
    case "number":
      return <WithUnit question={question} disabled={disabled} save={save} />;
    case "date":
      return <Day id={id} value={value} disabled={disabled} save={save} />;
    case "rows":
      return <Rows question={question} disabled={disabled} save={save} />;
    case "moment":
      return <Moment id={id} value={value} disabled={disabled} save={save} />;
    default:
      return <Text id={id} question={question} value={value} disabled={disabled} save={save} />;
  }
}

const LONG = ["long", "steps", "address", "versions"];

interface FieldProps {
  id: string;
  value: string;
  disabled: boolean;
  save: (value: string) => void;
}

function Text({ id, question, value, disabled, save }: FieldProps & { question: Question }) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  const long = LONG.includes(question.form);
  const shared = {
    id,
    disabled,
    maxLength: question.at_most,
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

interface SelectProps extends FieldProps {
  options: { value: string; label: string }[];
  nothing: string;
}

function Select({ id, value, disabled, save, options, nothing }: SelectProps) {
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
function Ticks({ question, disabled, save, options }: TicksProps) {
  // A tick stands at once; what the service answers comes after it and has the last word.
  const known = question.answer.value ?? "";
  const [ticked, setTicked] = useState(known);
  useEffect(() => setTicked(known), [known]);
  const chosen = commas(ticked);
  const full = chosen.length >= question.most;
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
      {question.most < options.length && <p className="text-[12.5px] text-soft">{question.most} at most</p>}
    </fieldset>
  );
}

function Several({ question, disabled, save }: Omit<InputProps, "packet">) {
  const options = question.choices.map((choice) => ({ value: choice.path, label: choice.label }));
  return <Ticks question={question} disabled={disabled} save={save} options={options} />;
}

function People({ question, packet, disabled, save }: InputProps) {
  const options = packet.people.map((person) => ({ value: person.key, label: person.name }));
  return <Ticks question={question} disabled={disabled} save={save} options={options} />;
}

/** Yes or no to the whole wording, which stands beside it. */
function Consent({ question, disabled, save }: Omit<InputProps, "packet">) {
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

/** A number, and the unit behind it where the desk wants one. */
function WithUnit({ question, disabled, save }: Omit<InputProps, "packet">) {
  const value = question.answer.value ?? "";
  const [number = "", unit = question.units[0] ?? ""] = value.split(" ", 2);
  const [text, setText] = useState(number);
  useEffect(() => setText(number), [number]);
  const keep = (wanted: string, behind: string) => save(wanted ? [wanted, behind].filter(Boolean).join(" ") : "");
  return (
    <div className="flex gap-2">
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
    </div>
  );
}

function Day({ id, value, disabled, save }: FieldProps) {
  const [text, setText] = useState(value);
  useEffect(() => setText(value), [value]);
  return (
    <input
      id={id}
      type="date"
      className="field w-44"
      disabled={disabled}
      value={text}
      onChange={(event) => setText(event.target.value)}
      onBlur={() => text !== value && save(text)}
      onKeyDown={(event) => event.key === "Enter" && save(text)}
    />
  );
}

/** A small table; kept as lines with bars between, as it is typed elsewhere. */
function Rows({ question, disabled, save }: Omit<InputProps, "packet">) {
  const value = question.answer.value ?? "";
  const [rows, setRows] = useState(() => parse(value, question.columns.length));
  const table = useRef<HTMLTableElement>(null);
  useEffect(() => {
    // What comes back while someone is still typing in the table is older than what stands there.
    if (!table.current?.contains(document.activeElement)) setRows(parse(value, question.columns.length));
  }, [value, question.columns.length]);
  const keep = (changed: string[][]) => {
    const full = changed.filter((row) => row.some((cell) => cell.trim()));
    save(full.map((row) => row.map((cell) => cell.trim()).join(" | ")).join("\n"));
  };
  const set = (at: number, column: number, cell: string) =>
    rows.map((row, n) => (n === at ? row.map((old, m) => (m === column ? cell : old)) : row));
  return (
    <table
      ref={table}
      aria-labelledby={`l-${question.id}`}
      className="w-full border-collapse max-md:block max-md:overflow-x-auto"
    >
      <thead>
        <tr>
          {question.columns.map((column) => (
            <th key={column.id} scope="col" className="pr-2 pb-1 text-left font-normal text-soft">
              {column.ask}
            </th>
          ))}
        </tr>
      </thead>
      <tbody>
        {rows.map((row, at) => (
          // biome-ignore lint/suspicious/noArrayIndexKey: a row is what stands in its place
          <tr key={at}>
            {question.columns.map((column, m) => {
              const longest = Math.max(0, ...(column.one_of ?? []).map((one) => one.length));
              const shared = {
                id: at === 0 && m === 0 ? `q-${question.id}` : undefined,
                "aria-label": `${column.ask}, row ${at + 1}`,
                className: join(
                  "field",
                  column.number ? "w-full min-w-14 font-mono text-right" : !longest && "min-w-28",
                ),
                disabled,
                style: longest ? { minWidth: `${longest + 7}ch` } : undefined,
                value: row[m] ?? "",
              };
              return (
                <td key={column.id} className={join("pr-2 pb-1.5", column.number && "w-24")}>
                  {(column.one_of ?? []).length > 0 ? (
                    <select
                      {...shared}
                      onChange={(event) => {
                        const changed = set(at, m, event.target.value);
                        setRows(changed);
                        keep(changed);
                      }}
                    >
                      <option value="">–</option>
                      {(column.one_of ?? []).map((one) => (
                        <option key={one}>{one}</option>
                      ))}
                    </select>
                  ) : (
                    <input
                      {...shared}
                      onChange={(event) => setRows(set(at, m, event.target.value))}
                      onBlur={() => keep(rows)}
                      onKeyDown={(event) => event.key === "Enter" && keep(rows)}
                    />
                  )}
                </td>
              );
            })}
          </tr>
        ))}
      </tbody>
      {!disabled && rows.length < question.most && (
        <tfoot>
          <tr>
            <td colSpan={question.columns.length}>
              <button type="button" className="link" onClick={() => setRows([...rows, question.columns.map(() => "")])}>
                Another row
              </button>
            </td>
          </tr>
        </tfoot>
      )}
    </table>
  );
}

function parse(value: string, columns: number): string[][] {
  const lines = value.split("\n").filter((line) => line.trim());
  const rows = lines.map((line) => {
    const cells = line.split("|").map((cell) => cell.trim());
    return Array.from({ length: columns }, (_, place) => cells[place] ?? "");
  });
  return rows.length ? rows : [Array.from({ length: columns }, () => "")];
}

/** Date and time in the reader's own zone; kept with its offset (RFC 3339). */
function Moment({ id, value, disabled, save }: FieldProps) {
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
