/** One message of the thread. */

import { type Message, useMessageAct, useStoreWithAsset } from "../../api/following";
import type { Packet } from "../../api/packets";
import { TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";
import { saySize } from "../../format/numbers";
import { type Asking, Questions } from "./asked";
import type { Clear } from "./legend-bar";

interface Props {
  packet: Packet;
  message: Message;
  reading: Clear;
  asking: Asking;
  mayAnswer: boolean;
}

const DEEDS: Record<string, string> = {
  severity: "asked for another severity",
  escalate: "escalated it",
  contact: "named another contact",
  told: "changed who is kept informed",
  accept: "accepted the answer",
  contest: "contested the answer",
  rate: "rated the help",
  close: "asked to close it",
  open_again: "asked to open it again",
};

export function MessageLine({ packet, message, reading, asking, mayAnswer }: Props) {
  const { clear, texts } = reading;
  const text = message.outgoing == null || clear ? (texts.get(message.id) ?? message.text) : message.outgoing;
  return (
    <li className={join("border-b border-line px-4 py-3 last:border-0", message.direction === "out" && "pl-12")}>
      <Soft>
        {message.by || packet.vendor}
        {message.case && ` (${message.case})`} {DEEDS[message.act]}
        {message.about && `: ${message.about}`} {message.how === "call" && "on the telephone"} · {sayMoment(message.at)}
        {message.sender && message.sender !== message.by && <span className="ml-2">from {message.sender}</span>}
        {message.stranger && (
          <span className="ml-2 text-wax">not proven to be the desk's answer; the packet was not changed</span>
        )}
        {message.mail && (
          <a className="link ml-2" href={`/api/v1/packets/${packet.number}/messages/${message.id}/original`} download>
            the original mail
          </a>
        )}
      </Soft>
      {text && <p className={join("whitespace-pre-wrap", message.taken_back && "text-soft line-through")}>{text}</p>}
      {message.files.length > 0 && (
        <Soft>
          with{" "}
          {message.files.map((name) => (
            <Mono key={name} className="mr-2">
              {name}
            </Mono>
          ))}
        </Soft>
      )}
      {message.outgoing != null && message.outgoing !== message.text && (
        <Soft>{message.sent ? "sent" : "goes"} with values masked</Soft>
      )}
      <Received packet={packet} message={message} mayKeep={mayAnswer} />
      <Questions packet={packet} message={message} asking={asking} mayAnswer={mayAnswer} />
      <Called packet={packet} message={message} mayAnswer={mayAnswer} />
      <OnItsWay packet={packet} message={message} mayAnswer={mayAnswer} />
    </li>
  );
}

/** Files that came with it: fetched as they came, or stored with the asset. */
function Received({ packet, message, mayKeep }: { packet: Packet; message: Message; mayKeep: boolean }) {
  const keep = useStoreWithAsset(packet.number);
  if (message.received.length === 0) return null;
  return (
    <ul className="mt-1">
      {message.received.map((file) => (
        <Row as="li" gap={3} lines align="baseline" key={file.id}>
          {file.state === "kept" ? (
            <a className="link" href={`/api/v1/packets/${packet.number}/files/${file.id}`} download={file.name}>
              <Mono>{file.name}</Mono>
            </a>
          ) : (
            <Mono>{file.name}</Mono>
          )}
          <Soft as="span">
            {file.state === "kept" ? `${saySize(file.size)}, ${file.kind}` : file.failure || "is being fetched"}
          </Soft>
          {file.warning && <span className="text-ochre">{file.warning}</span>}
          {file.asset && <Soft as="span">stored with the asset</Soft>}
          {mayKeep && file.state === "kept" && !file.asset && packet.asset && (
            <TextButton disabled={keep.isPending} onClick={() => keep.mutate(file.id)}>
              Store it with the asset
            </TextButton>
          )}
        </Row>
      ))}
    </ul>
  );
}

/** Of a call: whether it came at the wrong time or in the wrong way, and noting that mail was asked for. */
function Called({ packet, message, mayAnswer }: Pick<Props, "packet" | "message" | "mayAnswer">) {
  const act = useMessageAct(packet.number);
  if (message.how !== "call") return null;
  const words = [
    message.outside_hours && "outside the hours of our contact",
    message.unwished && "called although mail was asked for",
  ].filter(Boolean);
  const offered = mayAnswer && (message.mail_asked || message.unwished);
  if (words.length === 0 && !offered) return null;
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-3">
      {words.length > 0 && <span className="text-ochre">{words.join(", ")}</span>}
      {offered && (
        <button
          type="button"
          className="link whitespace-nowrap"
          disabled={act.isPending}
          onClick={() => act.mutate({ act: message.unwished ? "wished" : "unwished", id: message.id })}
        >
          {message.unwished ? "It was all right" : "Called although mail was asked for"}
        </button>
      )}
    </p>
  );
}

/** What has not gone yet, why, and what can be done about it. */
function OnItsWay({ packet, message, mayAnswer }: Pick<Props, "packet" | "message" | "mayAnswer">) {
  const act = useMessageAct(packet.number);
  if (message.direction !== "out" || message.sent) return null;
  const words = message.taken_back
    ? "taken back"
    : message.failure
      ? `not sent: ${message.failure}`
      : message.how === "hand"
        ? "to be passed on by hand"
        : packet.next_try_at
          ? `waits for the desk, next try ${sayMoment(packet.next_try_at)}`
          : "being sent";
  const button = "link whitespace-nowrap";
  return (
    <p className="mt-1 flex flex-wrap items-baseline gap-x-3">
      <span className={join(message.failure ? "text-wax" : "text-soft")}>{words}</span>
      {mayAnswer && message.how === "hand" && !message.taken_back && (
        <button
          type="button"
          className={button}
          disabled={act.isPending}
          onClick={() => act.mutate({ act: "pass-on", id: message.id })}
        >
          It was passed on
        </button>
      )}
      {mayAnswer && message.can_take_back && (
        <button
          type="button"
          className={button}
          disabled={act.isPending}
          onClick={() => act.mutate({ act: "take-back", id: message.id })}
        >
          Take it back
        </button>
      )}
    </p>
  );
}
