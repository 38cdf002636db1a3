/** Days and moments. */

import { useEffect, useState } from "react";
import { Button } from "../../../components/button";
import { Row } from "../../../components/layout";
import type { FieldProps } from "./props";

export function Day({ id, value, disabled, save }: FieldProps) {
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

/** Date and time in the reader's own zone; kept with its offset (RFC 3339). */
export function Moment({ id, value, disabled, save }: FieldProps) {
  const shown = value ? localMinutes(new Date(value)) : "";
  const [text, setText] = useState(shown);
  useEffect(() => setText(shown), [shown]);
  const keep = () => save(text ? withOffset(new Date(text)) : "");
  return (
    <Row gap={2}>
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
    </Row>
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
