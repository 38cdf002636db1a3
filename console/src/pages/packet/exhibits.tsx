/** Exhibits: files on their way in, what was masked in each, and what is held. */
import { useRef, useState } from "react";
import type { Exhibit, Packet } from "../../api/data";
import { useExhibitAct } from "../../api/data";
import type { useUploads } from "../../api/upload";
import { Badge, Button, count, Mono, ProblemNote, Sheet, saySize } from "../../parts/basics";
import { Decided } from "./deciding";
import type { Part } from "./packing-list";
import { PagesReview } from "./pages";
import { FIRST, Review } from "./review";

interface Props {
  packet: Packet;
  name: string | undefined;
  uploads: ReturnType<typeof useUploads>;
  roles: string[];
  show: (part: Part, item?: string) => void;
}

export function ExhibitsPart({ packet, name, uploads, roles, show }: Props) {
  const chosen = packet.exhibits.find((exhibit) => exhibit.name === name);
  const mayAdd = packet.life === "drafting" && roles.includes("preparer");
  return (
    <div className="flex flex-col gap-4">
      {chosen ? (
        <One key={chosen.id} packet={packet} exhibit={chosen} roles={roles} show={show} />
      ) : (
        <All packet={packet} show={show} />
      )}
      {uploads.uploads.length > 0 && <Coming uploads={uploads} />}
      {packet.evidence.length > 0 && !chosen && <Wanted packet={packet} />}
      {mayAdd && <DropHere add={uploads.add} />}
    </div>
  );
}

/** What the desk wants to see of this packet. */
function Wanted({ packet }: { packet: Packet }) {
  return (
    <Sheet title={`${packet.vendor} wants to see`} className="pb-3">
      <ul className="px-4 pt-1">
        {packet.evidence.map((one) => (
          <li key={one.what} className="py-1">
            {one.what}
            {one.hours_before > 0 && `, from ${count(one.hours_before, "hour")} before it began`}
            {one.hours_after > 0 && ` to ${count(one.hours_after, "hour")} after`}
            {one.required && <span className="ml-2 text-wax">needed</span>}
            {one.because && <span className="block text-[12.5px] text-soft">because {one.because}</span>}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

function DropHere({ add }: { add: (files: File[]) => void }) {
  const input = useRef<HTMLInputElement>(null);
  return (
    <div className="rounded-sheet border border-dashed border-soft/50 px-4 py-5 text-center text-soft">
      Drop or paste evidence anywhere on this page, or{" "}
      <button type="button" className="link" onClick={() => input.current?.click()}>
        choose files
      </button>
      <input
        ref={input}
        type="file"
        multiple
        className="sr-only"
        tabIndex={-1}
        aria-label="Files to add"
        onChange={(event) => {
          add([...(event.target.files ?? [])]);
          event.target.value = "";
        }}
      />
    </div>
  );
}

function Coming({ uploads }: { uploads: ReturnType<typeof useUploads> }) {
  return (
    <Sheet title="On the way in" className="pb-3">
      <ul className="px-4">
        {uploads.uploads.map((upload) => (
          <li key={upload.id} className="py-2">
            <div className="flex justify-between gap-4">
              <Mono className="truncate">{upload.name}</Mono>
              <span className="text-soft tabular-nums">
                {saySize(upload.sent)} of {saySize(upload.size)}
              </span>
            </div>
            {upload.problem ? (
              <ProblemNote problem={upload.problem}>
                <button type="button" className="link" onClick={() => uploads.dismiss(upload.id)}>
                  Understood
                </button>
              </ProblemNote>
            ) : (
              <Bar label={`${upload.name} sent`} part={upload.size ? upload.sent / upload.size : 1} />
            )}
          </li>
        ))}
      </ul>
    </Sheet>
  );
}

export function Bar({ label, part }: { label: string; part: number }) {
  const percent = Math.round(Math.min(part, 1) * 100);
  return (
    <div
      role="progressbar"
      aria-label={label}
      aria-valuenow={percent}
      aria-valuemin={0}
      aria-valuemax={100}
      className="mt-1 h-1.5 rounded-full bg-line"
    >
      <div className="h-full rounded-full bg-slate" style={{ width: `${percent}%` }} />
    </div>
  );
}

function masked(exhibit: Exhibit) {
  return Object.values(exhibit.counts).reduce((sum, number) => sum + Number(number), 0);
}

function All({ packet, show }: { packet: Packet; show: Props["show"] }) {
  if (packet.exhibits.length === 0) {
    return (
      <Sheet className="p-4">
        <p>No evidence yet.</p>
        <p className="text-soft">Originals stay here, encrypted; only redacted copies can go out.</p>
      </Sheet>
    );
  }
  return (
    <Sheet className="overflow-x-auto">
      <table className="w-full text-left">
        <thead>
          <tr className="text-soft">
            {["Exhibit", "State", "Original", "Outgoing", "Masked", "Kept"].map((head, place) => (
              <th
                key={head}
                scope="col"
                className={place > 1 ? "px-4 py-2.5 text-right font-normal" : "px-4 py-2.5 font-normal"}
              >
                {head}
              </th>
            ))}
          </tr>
        </thead>
        <tbody>
          {packet.exhibits.map((exhibit) => (
            <tr key={exhibit.id} className="border-t border-line">
              <th scope="row" className="px-4 py-2.5 font-normal">
                <button
                  type="button"
                  className="link font-mono text-[12.5px]"
                  onClick={() => show("exhibits", exhibit.name)}
                >
                  {exhibit.name}
                </button>
              </th>
              <td className="px-4 py-2.5">
                <State exhibit={exhibit} />
              </td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap tabular-nums">{saySize(exhibit.size)}</td>
              <td className="px-4 py-2.5 text-right whitespace-nowrap tabular-nums">
                {saySize(exhibit.outgoing_size)}
              </td>
              <td className="px-4 py-2.5 text-right tabular-nums">{masked(exhibit).toLocaleString("en-GB")}</td>
              <td className="px-4 py-2.5 text-right tabular-nums">
                {Object.values(exhibit.kept)
                  .reduce((sum, number) => sum + Number(number), 0)
                  .toLocaleString("en-GB")}
              </td>
            </tr>
          ))}
        </tbody>
      </table>
    </Sheet>
  );
}

function State({ exhibit }: { exhibit: Exhibit }) {
  if (exhibit.state === "redacting" || exhibit.state === "waiting") {
    const part = exhibit.size ? exhibit.done / exhibit.size : 0;
    return (
      <div className="w-36">
        {exhibit.state === "waiting" ? "waiting" : part >= 1 ? "checking for leaks" : "redacting"}
        <Bar label={`${exhibit.name} redacted`} part={part} />
      </div>
    );
  }
  if (exhibit.state === "ready" && exhibit.leaks === 0) return <Badge tone="moss">ready</Badge>;
  if (exhibit.state === "held") {
    return <Badge tone={exhibit.released_by ? "ochre" : "wax"}>{exhibit.released_by ? "released" : "held"}</Badge>;
  }
  return <Badge tone="wax">{exhibit.leaks ? "leaks" : exhibit.state}</Badge>;
}

function One({ packet, exhibit, roles, show }: { packet: Packet; exhibit: Exhibit } & Pick<Props, "roles" | "show">) {
  const act = useExhibitAct(packet.number);
  const drafting = packet.life === "drafting";
  const [place, setPlace] = useState(FIRST);
  const mayDecide = drafting && (roles.includes("preparer") || roles.includes("releaser"));
  const Looked = exhibit.shows === "pages" ? PagesReview : Review;
  const inHand = ["waiting", "redacting", "receiving"].includes(exhibit.state);
  return (
    <>
      {exhibit.state === "ready" ? (
        <Looked packet={packet} exhibit={exhibit} place={place} setPlace={setPlace} mayDecide={mayDecide} />
      ) : (
        <Sheet className="p-4">
          <div className="mb-2 flex items-center gap-3">
            <Mono>{exhibit.name}</Mono>
            <State exhibit={exhibit} />
          </div>
          {exhibit.reason && <p>{exhibit.reason}</p>}
          {exhibit.state === "held" && !exhibit.released_by && (
            <p className="text-soft">
              What cannot be inspected does not go out, until a releaser answers for it with a reason.
            </p>
          )}
          {exhibit.released_by && <p className="text-soft">Released by {exhibit.released_by}; it goes out as it is.</p>}
          {exhibit.state === "held" && !exhibit.released_by && drafting && roles.includes("releaser") && (
            <Release exhibit={exhibit} act={act} />
          )}
        </Sheet>
      )}
      <Decided packet={packet} mayDecide={roles.includes("preparer") || roles.includes("releaser")} />
      <ProblemNote problem={act.error} />
      {drafting && roles.includes("preparer") && (
        <div className="flex gap-2">
          <Button disabled={inHand || act.isPending} onClick={() => act.mutate({ act: "redact", name: exhibit.name })}>
            Redact again
          </Button>
          <Button
            disabled={act.isPending}
            onClick={() => act.mutate({ act: "remove", name: exhibit.name }, { onSuccess: () => show("exhibits") })}
          >
            Take it out
          </Button>
        </div>
      )}
    </>
  );
}

function Release({ exhibit, act }: { exhibit: Exhibit; act: ReturnType<typeof useExhibitAct> }) {
  const [reason, setReason] = useState("");
  return (
    <form
      className="mt-3 flex gap-2"
      onSubmit={(event) => {
        event.preventDefault();
        act.mutate({ act: "release", name: exhibit.name, reason });
      }}
    >
      <input
        className="field"
        aria-label="Reason for letting it go out"
        placeholder="Why it may go out as it is"
        minLength={3}
        required
        value={reason}
        onChange={(event) => setReason(event.target.value)}
      />
      <Button type="submit" disabled={act.isPending}>
        Release
      </Button>
    </form>
  );
}
