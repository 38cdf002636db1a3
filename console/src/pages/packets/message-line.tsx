/** One message of the thread. */
import type { Packet } from "../../api/packets";
import { join } from "../../components/join";
import { sayMoment } from "../../format/dates";
import type { Clear } from "./legend-bar";

interface Props {
  packet: Packet;
  message: Packet["messages"][number];
  reading: Clear;
}

export function MessageLine({ packet, message, reading }: Props) {
  const { clear, texts } = reading;
  return (
    <li className={join("border-b border-line px-4 py-3 last:border-0", message.direction === "out" && "pl-12")}>
      <p className="text-soft">
        {message.by || packet.vendor}
        {message.case && ` (${message.case})`} · {sayMoment(message.at)}
        {message.sender && <span className="ml-2">from {message.sender}</span>}
        {message.stranger && (
          <span className="ml-2 text-wax">not from the desk's address; the packet was not changed</span>
        )}
        {message.asks && !message.answered && <span className="ml-2 text-wax">waits for an answer</span>}
        {!message.sent && !message.failure && <span className="ml-2">being sent</span>}
        {message.failure && <span className="ml-2 text-wax">not sent: {message.failure}</span>}
        {message.mail && (
          <a className="link ml-2" href={`/api/v1/packets/${packet.number}/messages/${message.id}/original`} download>
            the original mail
          </a>
        )}
      </p>
      <p className="whitespace-pre-wrap">
        {message.outgoing == null || clear ? (texts.get(message.id) ?? message.text) : message.outgoing}
      </p>
      {message.outgoing != null && message.outgoing !== message.text && (
        <p className="text-soft">sent with values masked</p>
      )}
    </li>
  );
}
