/** What the desk asks; most of it is answered from the register, and says so. */

import { useEffect, useRef } from "react";
import { type Packet, type Question, useAnswer } from "../../api/packets";
import { TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { ForeseenList } from "./foreseen";
import { Input } from "./inputs/input";
import { SeverityNote } from "./severity";

export function QuestionsPart({ packet, focus }: { packet: Packet; focus: string | undefined }) {
  const answer = useAnswer(packet.number);
  if (packet.questions.length === 0) return <Nothing>Name the asset first; its desk has the questions.</Nothing>;
  const drafting = packet.life === "drafting";
  return (
    <Sheet>
      <ProblemNote problem={answer.error} />
      <SeverityNote packet={packet} />
      <ForeseenList packet={packet} />
      <ul>
        {packet.questions.map((question) => (
          <Asked
            key={question.id}
            question={question}
            packet={packet}
            focused={focus === question.id}
            disabled={!drafting || question.answer.fixed === true}
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
          {answer.because && <span className="block">asked because {answer.because}</span>}
        </p>
      </div>
      <div className="min-w-0">
        <Input question={question} packet={packet} disabled={disabled} save={save} />
        {question.guide && <p className="mt-1 text-[12.5px] whitespace-pre-line text-soft">{question.guide}</p>}
        {!disabled && question.suggested.length > 0 && (
          <ul aria-label="Suggested" className="mt-1 text-[12.5px] text-soft">
            {question.suggested.map((one) => (
              <li key={one.value}>
                <TextButton onClick={() => save(one.value)}>{one.label}</TextButton>, {one.why}
              </li>
            ))}
          </ul>
        )}
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
  if (answer.source) return `from ${answer.source}${answer.fixed ? "; changed there" : ""}`;
  return answer.required ? "needed" : "if you know it";
}
