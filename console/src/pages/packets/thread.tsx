/** All that happened about a packet, the newest first: words of both sides, files, states, parcels, access, decisions. */
import { useState } from "react";
import { Link } from "wouter";
import { type Packet, useAct } from "../../api/packets";
import { type ThreadEntry, type ThreadSort, useLook, useThread } from "../../api/threads";
import { Badge } from "../../components/badge";
import { Button, TextButton } from "../../components/button";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { ProblemNote } from "../../components/problem-note";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { useKeys } from "../../keyboard/keys";

const SORTS: [ThreadSort, string][] = [
  ["theirs", "theirs"],
  ["ours", "ours"],
  ["file", "files"],
  ["state", "states"],
  ["shipment", "parcels"],
  ["access", "access"],
  ["decision", "decisions"],
];

export function ThreadPart({ packet, roles }: { packet: Packet; roles: string[] }) {
  const [sorts, setSorts] = useState<ThreadSort[]>([]);
  const thread = useThread(packet.number, sorts, packet.version);
  const look = useLook(packet.number);
  const entries = thread.data?.pages.flatMap((page) => page.items) ?? [];
  const fresh = entries.filter((one) => one.new).length;
  const looked = thread.data?.pages[0]?.looked_at;
  useKeys("thread", { look: () => look.mutate() });
  const toggle = (sort: ThreadSort) =>
    setSorts(sorts.includes(sort) ? sorts.filter((one) => one !== sort) : [...sorts, sort]);
  const record = `/api/v1/packets/${packet.number}/record`;
  return (
    <section aria-label="Thread">
      <div className="mb-2 flex flex-wrap items-center gap-x-3 gap-y-1">
        {SORTS.map(([sort, words]) => (
          <label key={sort} className="flex items-center gap-1.5">
            <input type="checkbox" checked={sorts.includes(sort)} onChange={() => toggle(sort)} />
            {words}
          </label>
        ))}
        <span className="ml-auto flex items-center gap-3">
          <a className="link" href={`${record}?form=pdf`} download>
            PDF
          </a>
          <a className="link" href={`${record}?form=html`} download>
            HTML
          </a>
          <Button letter="z" disabled={look.isPending} onClick={() => look.mutate()}>
            I have seen it
          </Button>
        </span>
      </div>
      <Soft>
        {looked ? `You looked last ${sayMoment(looked)}.` : "You have not looked at it yet."}
        {fresh > 0 && ` ${fresh} new since.`}
      </Soft>
      <Bags packet={packet} mayRelease={roles.includes("releaser")} />
      <ProblemNote problem={thread.error ?? look.error} />
      {thread.isPending && !thread.error && <Waiting label="Loading the thread" lines={6} />}
      {thread.isSuccess && entries.length === 0 && <Nothing>Nothing of that sort.</Nothing>}
      <ol className="mt-2">
        {entries.map((one) => (
          <Entry key={one.id} entry={one} number={packet.number} />
        ))}
      </ol>
      {thread.hasNextPage && (
        <Button className="mt-3" disabled={thread.isFetchingNextPage} onClick={() => thread.fetchNextPage()}>
          Show what was before
        </Button>
      )}
    </section>
  );
}

/** The bags of a packet: the first, those with what came after it, and sealing the next. */
function Bags({ packet, mayRelease }: { packet: Packet; mayRelease: boolean }) {
  const act = useAct(packet.number);
  if (!packet.seal) return null;
  const base = `/api/v1/packets/${packet.number}`;
  return (
    <>
      <p className="mt-1 flex flex-wrap items-baseline gap-x-3">
        <a className="link" href={`${base}/bag`} download>
          Bag
        </a>
        {packet.later_bags.map((one) => {
          const words = `later bag ${one.place}, ${sayMoment(one.at)}`;
          return one.form === "clear" ? (
            <Soft as="span" key={one.place}>
              {words}, in clear: sealpacket packet bag {packet.number} --later {one.place} --because …
            </Soft>
          ) : (
            <a key={one.place} className="link" href={`${base}/later-bags/${one.place}`} download>
              {words}
            </a>
          );
        })}
        {mayRelease && (
          <TextButton disabled={act.isPending} onClick={() => act.mutate("seal-later")}>
            Seal what came after
          </TextButton>
        )}
      </p>
      <ProblemNote problem={act.error} />
    </>
  );
}

const EDGES: Partial<Record<ThreadSort, string>> = { theirs: "border-wax", ours: "border-slate" };

function Entry({ entry, number }: { entry: ThreadEntry; number: string }) {
  const said = entry.message;
  const files = [...(said?.files ?? []), ...(said?.received.map((file) => file.name) ?? [])];
  return (
    <li
      className={join(
        "grid grid-cols-[120px_minmax(0,1fr)] gap-x-3 border-l-3 py-1.5 pl-3",
        EDGES[entry.sort] ?? "border-transparent",
        entry.new && "bg-sheet",
      )}
    >
      <span className="text-soft tabular-nums">{sayMoment(entry.at)}</span>
      <div className="min-w-0">
        <div className="text-soft">
          {entry.new && (
            <>
              <Badge tone="ochre">new</Badge>{" "}
            </>
          )}
          {entry.by}
          {entry.text && `${entry.by ? ", " : ""}${entry.text}`}
          {said && said.act !== "comment" && ` · ${said.act}${said.about ? `: ${said.about}` : ""}`}
          {said?.failure && <span className="text-wax"> · not sent: {said.failure}</span>}
        </div>
        {entry.exhibit ? (
          <Link className="link" href={`/packets/${number}/exhibits/${encodeURIComponent(entry.exhibit)}`}>
            <Mono>{entry.exhibit}</Mono>
          </Link>
        ) : (
          <p className={join("whitespace-pre-wrap", !said && "text-soft")}>{said ? said.text : entry.words}</p>
        )}
        {files.length > 0 && (
          <p className="text-soft">
            <Hidden>Files: </Hidden>
            {files.join(", ")}
          </p>
        )}
      </div>
    </li>
  );
}
