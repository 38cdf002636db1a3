/** The packing list: what is in the packet, each part with its state in a word and a number. */

import { Link } from "wouter";
import type { Packet } from "../../api/packets";
import type { Upload } from "../../api/upload";
import { Badge, lifeTone } from "../../components/badge";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { RouteBadge } from "../../components/route-badge";
import { count, saySize } from "../../format/numbers";

export type Part = "thing" | "ruling" | "questions" | "exhibits" | "letter" | "hand" | "replies" | "thread";

type Mark = "done" | "part" | "open" | "stop";

const MARKS: Record<Mark, [string, string, string]> = {
  done: ["✓", "text-moss", "done"],
  part: ["◐", "text-ochre", "needs you"],
  open: ["○", "text-soft", "to come"],
  stop: ["✕", "text-wax", "stops it"],
};

interface Props {
  packet: Packet;
  current: Part;
  name: string | undefined;
  uploads: Upload[];
  show: (part: Part, item?: string) => void;
}

export function PackingList({ packet, current, name, uploads }: Props) {
  const drafting = packet.life === "drafting";
  const stopped = (acts: string[]) =>
    packet.checks.some((check) => check.level === "stop" && acts.includes(check.act ?? ""));
  const exhibitStop = stopped(["open_exhibit", "open_exhibits", "redact", "release_exhibit"]);
  const base = `/packets/${packet.number}`;
  return (
    <nav
      aria-label="Packing list"
      className="flex flex-col gap-0.5 border-r border-line px-5 py-4 max-md:border-r-0 max-md:border-b max-md:px-3"
    >
      <p className="mb-1 flex items-center gap-2 px-2.5 text-soft">
        <Mono>{packet.number}</Mono> <Badge tone={lifeTone(packet.life)}>{packet.life}</Badge>
      </p>
      <Row to={`${base}/thing`} here={current === "thing"} mark={packet.asset ? "done" : "stop"} title="Asset">
        {packet.asset ? (
          <>
            {packet.asset.name || packet.asset.product}
            {packet.asset.site && `, ${packet.asset.site}`}
            <Mono className="block">{packet.asset.serial}</Mono>
          </>
        ) : (
          "not named yet"
        )}
      </Row>
      <Row
        to={`${base}/ruling`}
        here={current === "ruling"}
        mark={!packet.ruling ? "open" : packet.ruling.holds ? "done" : "stop"}
        title="Ruling"
        beside={packet.ruling && <RouteBadge ruling={packet.ruling} />}
      >
        {rulingWords(packet)}
      </Row>
      <QuestionsRow
        packet={packet}
        to={`${base}/questions`}
        here={current === "questions"}
        open={drafting && stopped(["answer"])}
      />
      <Row
        to={`${base}/exhibits`}
        here={current === "exhibits" && !name}
        mark={packet.exhibits.length === 0 ? "open" : exhibitStop ? "part" : "done"}
        title="Exhibits"
        beside={packet.exhibits.length + uploads.length || ""}
      >
        {exhibitWords(packet, uploads)}
      </Row>
      {packet.exhibits.map((exhibit) => (
        <Row
          key={exhibit.id}
          inner
          to={`${base}/exhibits/${encodeURIComponent(exhibit.name)}`}
          here={current === "exhibits" && name === exhibit.name}
          mark={exhibitMark(exhibit)}
          title={<Mono>{exhibit.name}</Mono>}
          beside={saySize(exhibit.size)}
        />
      ))}
      <Row
        to={`${base}/letter`}
        here={current === "letter"}
        mark={!drafting ? "done" : stopped(["open_letter"]) ? "part" : "open"}
        title="Letter"
      >
        {packet.desk_name ? letterWords(packet) : "name the asset first"}
      </Row>
      {packet.by_hand && !drafting && (
        <Row
          to={`${base}/hand`}
          here={current === "hand"}
          mark={packet.lodged_at ? "done" : packet.lodge_state === "by_hand" ? "part" : "open"}
          title="By hand"
        >
          {packet.lodged_at ? "entered" : "field by field, then its reference"}
        </Row>
      )}
      <RepliesRow packet={packet} to={`${base}/replies`} here={current === "replies"} />
      <Row to={`${base}/thread`} here={current === "thread"} mark="done" title="Thread">
        all that happened, in one order
      </Row>
    </nav>
  );
}

interface QuestionsProps {
  packet: Packet;
  to: string;
  here: boolean;
  open: boolean;
}

function QuestionsRow({ packet, to, here, open }: QuestionsProps) {
  const shown = packet.questions.length;
  const answered = packet.questions.filter((question) => question.answer.value).length;
  const typed = packet.questions.filter((question) => question.answer.typed).length;
  return (
    <Row
      to={to}
      here={here}
      mark={!shown ? "open" : open ? "part" : "done"}
      title="Questions"
      beside={shown > 0 && `${answered} of ${shown}`}
    >
      {shown ? `${answered - typed} answered from the register, ${typed} by you` : "name the asset first"}
    </Row>
  );
}

function RepliesRow({ packet, to, here }: Omit<QuestionsProps, "open">) {
  if (!packet.reference && !packet.lodged_at) return null;
  return (
    <Row
      to={to}
      here={here}
      mark={packet.turn === "ours" ? "part" : "done"}
      title="Replies"
      beside={packet.messages.length || ""}
    >
      <Mono>{packet.reference}</Mono>
    </Row>
  );
}

function exhibitMark(exhibit: Packet["exhibits"][number]): Mark {
  if (exhibit.state === "ready") return exhibit.leaks ? "stop" : "done";
  if (exhibit.state === "held") return exhibit.released_by ? "done" : "stop";
  return exhibit.state === "failed" ? "stop" : "part";
}

function exhibitWords(packet: Packet, uploads: Upload[]) {
  const working = packet.exhibits.filter((one) => ["receiving", "waiting", "redacting"].includes(one.state)).length;
  if (uploads.length) return `${count(uploads.length, "file")} on the way in`;
  if (working) return `${count(working, "one is", "are")} being redacted`;
  const masked = packet.exhibits.reduce(
    (sum, one) => sum + Object.values(one.counts).reduce((all, each) => all + Number(each), 0),
    0,
  );
  return packet.exhibits.length
    ? `${count(masked, "value")} masked`
    : packet.life === "drafting"
      ? packet.takes_files
        ? "drop files anywhere"
        : "the desk takes none"
      : "none";
}

function letterWords(packet: Packet) {
  const masked = packet.checks.find((check) => check.code === "typed-masked" && check.level === "hint");
  return masked ? "some of what was typed is masked" : `as ${packet.vendor} will read it`;
}

function rulingWords({ asset, ruling }: Packet) {
  if (!asset || !ruling) return "name the asset first";
  if (ruling.contract) return `Contract ${ruling.contract}, ${ruling.level}`;
  return ruling.route === "warranty" ? "the maker's warranty" : "no contract";
}

interface RowProps {
  to: string;
  here: boolean;
  mark: Mark;
  title: React.ReactNode;
  beside?: React.ReactNode;
  inner?: boolean;
  children?: React.ReactNode;
}

function Row({ to, here, mark, title, beside, inner, children }: RowProps) {
  const [sign, colour, words] = MARKS[mark];
  return (
    <Link
      href={to}
      aria-current={here ? "true" : undefined}
      className={join(
        "grid grid-cols-[28px_minmax(0,1fr)_auto] items-baseline rounded-sheet border px-2.5 py-2",
        here ? "border-line bg-sheet" : "border-transparent hover:border-line",
        inner && "ml-4 pl-1.5",
      )}
    >
      <span className={colour} role="img" aria-label={words}>
        {sign}
      </span>
      <span className="truncate">{title}</span>
      <span className="pl-2 text-soft">{beside}</span>
      {children && <span className="col-span-2 col-start-2 text-[12.5px] leading-[18px] text-soft">{children}</span>}
    </Link>
  );
}
