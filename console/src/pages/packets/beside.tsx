/** Right of the work: what still stops the packet, each line ending in its cure; the ruling's reasons; the seal. */

import type { ReactNode } from "react";
import { Link } from "wouter";
import { busy, type Check, type Packet, type useAct } from "../../api/packets";
import { useVendorHealth } from "../../api/vendor-health";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Row } from "../../components/layout";
import { Mono } from "../../components/mono";
import { ProblemNote } from "../../components/problem-note";
import { Reasons } from "../../components/reasons";
import { Seal } from "../../components/seal";
import { Sheet } from "../../components/sheet";
import { Hidden, Soft } from "../../components/text";
import { sayMoment } from "../../format/dates";
import { count } from "../../format/numbers";
import { Reports } from "../notices/report";
import type { Part } from "./packing-list";

type Release = NonNullable<Packet["release"]>;

interface Props {
  packet: Packet;
  act: ReturnType<typeof useAct>;
  show: (part: Part, item?: string) => void;
  mayRelease: boolean;
}

export function Beside({ packet, act, show, mayRelease }: Props) {
  return (
    <aside
      aria-label="Checks, ruling and seal"
      className="flex flex-col gap-3 py-4 pr-5 max-xl:col-start-2 max-xl:px-6 max-md:px-4 print:px-6"
    >
      {packet.life === "drafting" && <Stops packet={packet} show={show} />}
      {packet.release && <SecondPerson packet={packet} release={packet.release} act={act} />}
      {packet.refusals.length > 0 && packet.life === "refused" && <Refused packet={packet} act={act} />}
      <MayExplain packet={packet} />
      {packet.ruling && packet.life !== "refused" && (
        <Sheet title={packet.ruling.contract ? "Why this contract" : "Why"}>
          <div className="px-4 pt-1.5 pb-4">
            <Reasons ruling={packet.ruling} cures={false} />
          </div>
        </Sheet>
      )}
      <SealBox packet={packet} act={act} mayRelease={mayRelease} />
    </aside>
  );
}

/** Somebody who has not prepared it has to seal it. */
function SecondPerson({ packet, release, act }: Pick<Props, "packet" | "act"> & { release: Release }) {
  const stops = packet.checks.some((check) => check.level === "stop");
  return (
    <Sheet title="A second person seals it">
      <div className="flex flex-col items-start gap-2 px-4 pt-2 pb-4">
        <p>{release.reasons.join("; ")}.</p>
        <Soft>Prepared by {release.prepared_by.join(", ")}.</Soft>
        {release.asked_at ? (
          <Soft>
            {release.asked_by} has asked for the release, {sayMoment(release.asked_at)}.
          </Soft>
        ) : (
          <Button disabled={stops || act.isPending} onClick={() => act.mutate("ask-release")}>
            Ask for the release
          </Button>
        )}
      </div>
    </Sheet>
  );
}

/** What the vendor reports that may explain it. */
function MayExplain({ packet }: { packet: Packet }) {
  const health = useVendorHealth({ packet: packet.number }, packet.asset !== null);
  if (!health.data?.items.length) return null;
  return (
    <Sheet title="It may explain this">
      <div className="px-4 pb-3.5">
        <Reports label="Reported by the vendor" reports={health.data.items} />
      </div>
    </Sheet>
  );
}

const BARS = { stop: "border-wax", warn: "border-ochre", hint: "border-line", pass: "border-moss" } as const;

function Stops({ packet, show }: { packet: Packet; show: Props["show"] }) {
  const open = packet.checks.filter((check) => check.level !== "pass");
  const passed = packet.checks.length - open.length;
  return (
    <Sheet title="Before it can be sealed">
      <ul aria-live="polite" className="flex flex-col gap-1.5 px-4 pt-2">
        {open.map((check) => (
          <li
            key={check.code + check.target + check.sentence}
            className={join("border-l-3 py-1.5 pl-3", BARS[check.level])}
          >
            <Hidden>{check.level}: </Hidden>
            {check.sentence}
            {check.remedy && <Cure check={check} show={show} />}
          </li>
        ))}
      </ul>
      <p className="px-4 pt-2 pb-3.5 text-soft">
        {open.length === 0 && "Nothing stops it. "}
        {count(passed, "check")} passed
      </p>
    </Sheet>
  );
}

/** Where each act of a check leads. */
function target(check: Check): [Part, string?] | null {
  switch (check.act) {
    case "answer":
      return ["questions", check.target];
    case "name_thing":
      return ["thing"];
    case "use_login":
    case "tie_contract":
    case "change_login":
    case "mend_title":
    case "mend_note":
    case "mend_asset":
    case "change_need":
      return ["thing"];
    case "open_letter":
      return ["letter"];
    case "open_exhibit":
    case "release_exhibit":
    case "redact":
      return ["exhibits", check.target];
    case "add_exhibit":
    case "open_exhibits":
      return ["exhibits"];
    case "await_start":
    case "open_ruling":
    case "renew":
    case "list_serial":
    case "add_entitlement":
    case "register_product":
      return ["ruling"];
    default:
      return null;
  }
}

function Cure({ check, show }: { check: Check; show: Props["show"] }) {
  const to = target(check);
  if (check.act === "open_desks") {
    return (
      <Link className="link block" href="/desks">
        {check.remedy}
      </Link>
    );
  }
  if (!to)
    return (
      <Soft as="span" block>
        {check.remedy}
      </Soft>
    );
  return (
    <button type="button" className="link block text-left" onClick={() => show(...to)}>
      {check.remedy}
    </button>
  );
}

function Refused({ packet, act }: { packet: Packet; act: Props["act"] }) {
  return (
    <Sheet title={`${packet.vendor} refused it`}>
      <ul className="flex flex-col gap-1.5 px-4 pt-2">
        {packet.refusals.map((reason) => (
          <li key={reason.code + reason.text} className="border-l-3 border-wax py-1.5 pl-3">
            “{reason.text}”
            <Soft as="span" block>
              {reason.cure}
            </Soft>
          </li>
        ))}
      </ul>
      <div className="px-4 pt-2 pb-4">
        <p className="mb-2 text-soft">Nothing was lost: answers and exhibits are as they were.</p>
        <Button look="ink" disabled={act.isPending} onClick={() => act.mutate("reopen")}>
          Back to drafting
        </Button>
      </div>
    </Sheet>
  );
}

function SealBox({ packet, act, mayRelease }: Omit<Props, "show">) {
  const stops = packet.checks.filter((check) => check.level === "stop").length;
  const [words, button] = sealWords(packet, act, mayRelease, stops);
  const state = packet.seal ? "sealed" : packet.life === "drafting" && stops === 0 ? "ready" : "waiting";
  return (
    <Sheet>
      <div className="flex gap-3 p-3.5">
        <Seal state={state} />
        <div className="min-w-0" aria-live="polite">
          <h2 className="font-sans text-[14px] leading-5 font-semibold">{packet.seal ? "Sealed" : "Seal"}</h2>
          <Soft>{words}</Soft>
          {packet.seal && (
            <p className="truncate text-soft" title={packet.seal.tag_manifest}>
              <Mono>{packet.seal.tag_manifest.slice(0, 16)}…</Mono>
            </p>
          )}
          <div className="mt-2 flex flex-wrap gap-2 empty:hidden">{button}</div>
        </div>
      </div>
      {act.error && (
        <div className="px-3.5 pb-3.5">
          <ProblemNote problem={act.error} />
        </div>
      )}
    </Sheet>
  );
}

/** What waits for the desk, when it is tried again, and what can be done meanwhile. */
function onItsWay(packet: Packet, act: Props["act"], bag: ReactNode): [string, ReactNode] {
  if (!packet.next_try_at) return [packet.lodge_status_text, bag];
  return [
    `${packet.lodge_status_text} Next try ${sayMoment(packet.next_try_at)}.`,
    <Row as="span" gap={2} wrap key="acts">
      <Button look="ink" letter="y" disabled={act.isPending} onClick={() => act.mutate("try-now")}>
        Try now
      </Button>
      <Button disabled={act.isPending} onClick={() => act.mutate("cancel")}>
        Cancel
      </Button>
      {bag}
    </Row>,
  ];
}

function sealWords(packet: Packet, act: Props["act"], mayRelease: boolean, stops: number): [string, ReactNode] {
  const acting = act.isPending || busy(packet);
  const bag = (
    <a key="bag" className="link self-center" href={`/api/v1/packets/${packet.number}/bag`} download>
      Bag
    </a>
  );
  if (packet.life === "drafting") {
    if (stops) return [`${count(stops, "stop")} left.`, null];
    if (!mayRelease) return ["Ready. A releaser may seal it.", null];
    const seal = (
      <Button key="seal" look="ink" letter="s" disabled={acting} onClick={() => act.mutate("seal")}>
        Seal
      </Button>
    );
    return ["Nothing stops it.", seal];
  }
  const sealed = packet.seal ? `${sayMoment(packet.seal.at)} by ${packet.seal.by}.` : "Not sealed.";
  if (packet.life === "sealed") {
    if (packet.lodge_state === "queued" || packet.lodge_state === "sending") return onItsWay(packet, act, bag);
    if (packet.lodge_state === "by_hand") return ["To be entered by hand.", bag];
    const words = packet.lodge_state === "stalled" ? packet.lodge_status_text : `${sealed} Not lodged yet.`;
    if (!mayRelease) return [words, bag];
    return [
      words,
      <Row as="span" gap={2} wrap key="acts">
        <Button look="ink" letter="l" disabled={acting} onClick={() => act.mutate("lodge")}>
          Lodge
        </Button>
        <Button disabled={acting} onClick={() => act.mutate("reopen")}>
          Open again
        </Button>
        {bag}
      </Row>,
    ];
  }
  return [packet.reference ? `${sealed} Lodged as ${packet.reference}.` : sealed, packet.seal && bag];
}
