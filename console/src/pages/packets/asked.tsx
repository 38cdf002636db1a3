/** What a vendor wants, question by question: ticked to be answered, or said to be none. */

import { useState } from "react";
import { type Asked, type Message, useMessageAct } from "../../api/following";
import type { Packet } from "../../api/packets";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Soft } from "../../components/text";

/** Which questions the next answer is about. */
export interface Asking {
  all: Asked[];
  chosen: string[];
  caseName: string;
  toggle: (id: string) => void;
  setCase: (label: string) => void;
  reset: () => void;
}

const caseOf = (packet: Packet, id: string) =>
  packet.messages.find((message) => message.questions.some((one) => one.id === id))?.case ?? "";

/** At first all open questions of the first case that has any; one answer goes to one case. */
export function useAsking(packet: Packet): Asking {
  const all = packet.messages.flatMap((message) => message.questions.filter((one) => one.open));
  const [ticked, setTicked] = useState<string[]>();
  const [named, setNamed] = useState<string>();
  const first = all[0] ? caseOf(packet, all[0].id) : "";
  const usual = all.filter((one) => caseOf(packet, one.id) === first).map((one) => one.id);
  const chosen = (ticked ?? usual).filter((id) => all.some((one) => one.id === id));
  const ours = packet.cases.find((one) => one.turn === "ours") ?? packet.cases[0];
  return {
    all,
    chosen,
    caseName: chosen[0] ? caseOf(packet, chosen[0]) : (named ?? ours?.label ?? ""),
    toggle: (id) => {
      const there = chosen.includes(id);
      const same = chosen.filter((one) => caseOf(packet, one) === caseOf(packet, id));
      setTicked(there ? chosen.filter((one) => one !== id) : [...same, id]);
    },
    setCase: setNamed,
    reset: () => {
      setTicked(undefined);
      setNamed(undefined);
    },
  };
}

interface Props {
  packet: Packet;
  message: Message;
  asking: Asking;
  mayAnswer: boolean;
}

export function Questions({ packet, message, asking, mayAnswer }: Props) {
  const act = useMessageAct(packet.number);
  if (message.questions.length === 0) return null;
  const whole = message.questions.length === 1 && message.questions[0]?.text === message.text;
  return (
    <ul className="mt-1.5 flex flex-col gap-1">
      {message.questions.map((one) => (
        <Row as="li" gap={2} align="baseline" key={one.id}>
          {one.open && mayAnswer ? (
            <>
              <label className="flex min-w-0 items-baseline gap-2">
                <input
                  type="checkbox"
                  checked={asking.chosen.includes(one.id)}
                  onChange={() => asking.toggle(one.id)}
                />
                <span className={join(one.doubtful ? "text-ochre" : "text-wax")}>
                  {one.doubtful ? "perhaps a question" : "waits for an answer"}
                </span>
                {!whole && <span>{one.text}</span>}
              </label>
              <button
                type="button"
                className="link whitespace-nowrap"
                disabled={act.isPending}
                onClick={() => act.mutate({ act: "dismiss", id: one.id })}
              >
                No question
              </button>
            </>
          ) : (
            <Soft as="span">
              {one.open ? "○ " : "✓ "}
              {!whole && `${one.text} `}
              {one.by && `dealt with by ${one.by}`}
            </Soft>
          )}
        </Row>
      ))}
    </ul>
  );
}
