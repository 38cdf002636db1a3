import { useState } from "react";
import { type Packet, useAct } from "../../api/packets";
import { useLegend } from "../../api/reviews";
import { Badge } from "../../components/badge";
import { Button } from "../../components/button";
import { Facts } from "../../components/facts";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Sheet } from "../../components/sheet";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";
import { Decided } from "./deciding";
import { Answer } from "./reply-answer";

const PLACEHOLDER =
  /\[[a-z]+:[a-z2-7]{10}\]|@redacted\.invalid|\.redacted\.invalid|\b(?:user|person|secret|h)-[a-z2-7]{10}\b/;

export function RepliesPart({ packet, roles }: { packet: Packet; roles: string[] }) {
  const act = useAct(packet.number);
  const legend = useLegend(packet.number);
  const [asking, setAsking] = useState(false);
  const [clear, setClear] = useState(true);
  const inClear = new Map(clear ? legend.data?.messages.map((one) => [one.id, one.text]) : []);
  const masked = packet.messages.some((message) => PLACEHOLDER.test(message.text));
  const mayOpen = roles.includes("preparer") || roles.includes("releaser");
  useKeys({ o: () => mayOpen && masked && !packet.legend_destroyed_at && setAsking(true) });
  const open = packet.life === "lodged" || packet.life === "answered";
  const looking = packet.follow_state === "asking";
  return (
    <div className="flex flex-col gap-4">
      <Sheet>
        <div className="flex flex-wrap items-center gap-3 border-b border-line px-4 py-2.5">
          <Mono>{packet.reference ?? "no reference yet"}</Mono>
          <Badge tone={packet.turn === "ours" ? "wax" : "plain"}>
            {packet.turn === "ours" ? "our turn" : packet.turn === "none" ? packet.life : `${packet.vendor}'s turn`}
          </Badge>
          <span className="text-soft">
            {packet.desk_status && `the desk says ${packet.desk_status}`}
            {packet.followed_at && `, looked at ${sayMoment(packet.followed_at)}`}
          </span>
          {open && (
            <Button
              className="ml-auto"
              letter="f"
              disabled={act.isPending || looking}
              onClick={() => act.mutate("follow")}
            >
              {looking ? "Looking…" : "Look now"}
            </Button>
          )}
        </div>
        {packet.follow_state === "failed" && (
          <p role="alert" className="border-b border-line bg-wax-wash px-4 py-2">
            {packet.follow_status_text}
          </p>
        )}
        <ProblemNote problem={act.error} />
        {masked && mayOpen && (
          <div className="flex min-h-11 flex-wrap items-center gap-3 border-b border-line px-4 py-1.5">
            {packet.legend_destroyed_at ? (
              <span className="text-soft">
                The legend was destroyed {sayMoment(packet.legend_destroyed_at)}: nobody can read the placeholders any
                more.
              </span>
            ) : legend.data ? (
              <>
                <span className="text-soft">
                  {clear
                    ? "Placeholders are shown in clear. That you opened the legend is in the custody log."
                    : "As it came."}
                </span>
                <Button className="ml-auto" onClick={() => setClear(!clear)}>
                  {clear ? "As it came" : "In clear"}
                </Button>
              </>
            ) : asking ? (
              <form
                className="flex grow items-center gap-3"
                onSubmit={(event) => {
                  event.preventDefault();
                  legend.mutate(String(new FormData(event.currentTarget).get("reason")));
                }}
              >
                <label className="flex grow items-center gap-3">
                  <span className="whitespace-nowrap text-soft">Why? The custody log keeps it.</span>
                  {/* biome-ignore lint/a11y/noAutofocus: it was asked for by a press on the button that stood here */}
                  <input className="field" name="reason" required minLength={3} maxLength={400} autoFocus />
                </label>
                <Button type="submit" disabled={legend.isPending}>
                  Open the legend
                </Button>
              </form>
            ) : (
              <>
                <span className="text-soft">{packet.vendor} writes of values that are masked.</span>
                <Button className="ml-auto" letter="o" onClick={() => setAsking(true)}>
                  Read in clear
                </Button>
              </>
            )}
          </div>
        )}
        <ProblemNote problem={legend.error} />
        <Cases packet={packet} />
        <ol aria-live="polite">
          {packet.messages.map((message) => (
            <li
              key={message.id}
              className={join("border-b border-line px-4 py-3 last:border-0", message.direction === "out" && "pl-12")}
            >
              <p className="text-soft">
                {message.by || packet.vendor}
                {message.case && ` (${message.case})`} · {sayMoment(message.at)}
                {message.sender && <span className="ml-2">from {message.sender}</span>}
                {message.stranger && (
                  <span className="ml-2 text-wax">not the desk's address: it changed nothing in the packet</span>
                )}
                {message.asks && !message.answered && <span className="ml-2 text-wax">waits for an answer</span>}
                {!message.sent && !message.failure && <span className="ml-2">being sent</span>}
                {message.failure && <span className="ml-2 text-wax">not sent: {message.failure}</span>}
                {message.mail && (
                  <a
                    className="link ml-2"
                    href={`/api/v1/packets/${packet.number}/messages/${message.id}/original`}
                    download
                  >
                    the mail as it came
                  </a>
                )}
              </p>
              <p className="whitespace-pre-wrap">
                {message.outgoing == null || clear ? (inClear.get(message.id) ?? message.text) : message.outgoing}
              </p>
              {message.outgoing != null && message.outgoing !== message.text && (
                <p className="text-soft">sent with values masked</p>
              )}
            </li>
          ))}
        </ol>
        {packet.messages.length === 0 && <p className="px-4 py-3 text-soft">Nothing was said yet.</p>}
      </Sheet>
      {open && <Answer packet={packet} mayDecide={roles.includes("preparer")} />}
      <Decided packet={packet} mayDecide={open && roles.includes("preparer")} />
    </div>
  );
}

/** What else the desk says of each case, and how each stands where there are several. */
function Cases({ packet }: { packet: Packet }) {
  const facts = packet.cases.flatMap((one) =>
    Object.entries(one.desk_facts).map(([label, value]): [string, string] => [
      one.label ? `${label} (${one.label})` : label,
      value,
    ]),
  );
  const several = packet.cases.length > 1;
  if (facts.length === 0 && !several) return null;
  return (
    <div className="border-b border-line px-4 py-3">
      {several && (
        <table className="mb-2 w-full border-collapse last:mb-0">
          <thead className="sr-only">
            <tr>
              <th scope="col">Case</th>
              <th scope="col">Reference</th>
              <th scope="col">Status</th>
            </tr>
          </thead>
          <tbody>
            {packet.cases.map((one) => (
              <tr key={one.label}>
                <td className="py-0.5 pr-4">{one.label}</td>
                <td className="pr-4">
                  <Mono>{one.reference ?? "not sent yet"}</Mono>
                </td>
                <td className="text-soft">{one.desk_status}</td>
              </tr>
            ))}
          </tbody>
        </table>
      )}
      {facts.length > 0 && <Facts facts={facts.map(([label, value]) => [label, <Mono key={label}>{value}</Mono>])} />}
    </div>
  );
}
