/** Notices of what concerns one, the newest first; reading one opens its place. */
import { useState } from "react";
import { Link } from "wouter";
import { type Notice, useMarkNotices, useNotices } from "../../api/notices";
import { Button } from "../../components/button";
import { join } from "../../components/join";
import { Mono } from "../../components/mono";
import { Nothing } from "../../components/nothing";
import { PageMain } from "../../components/page-main";
import { PageTitle } from "../../components/page-title";
import { ProblemNote } from "../../components/problem-note";
import { Rows } from "../../components/rows";
import { Hidden, Soft } from "../../components/text";
import { Waiting } from "../../components/waiting";
import { sayMoment } from "../../format/dates";
import { count } from "../../format/numbers";
import { useKeys } from "../../keyboard/keys";
import { NoticeTabs } from "./tabs";

export function NoticesPage() {
  const [unreadOnly, setUnreadOnly] = useState(false);
  const notices = useNotices(unreadOnly);
  const mark = useMarkNotices();
  const pages = notices.data?.pages ?? [];
  const unread = pages[0]?.unread ?? 0;
  const rows = pages.flatMap((page) => page.items);
  const readAll = () => mark.mutate({ everything: true });
  useKeys("notices", { readAll: unread > 0 && readAll, unread: () => setUnreadOnly(!unreadOnly) });
  return (
    <PageMain width="wide">
      <NoticeTabs />
      <div className="mb-1 flex flex-wrap items-baseline gap-3">
        <PageTitle>Notices</PageTitle>
        <Button className="ml-auto" letter="y" disabled={unread === 0} onClick={readAll}>
          Mark all as read
        </Button>
      </div>
      <Soft>
        {unread ? `${count(unread, "notice")} not read.` : "All read."} One whose cause is over disappears by itself.
      </Soft>
      <label className="mt-1 flex w-fit items-center gap-2 text-soft">
        <input type="checkbox" checked={unreadOnly} onChange={(event) => setUnreadOnly(event.target.checked)} />
        only what was not read
      </label>
      <ProblemNote problem={notices.error ?? mark.error} />
      {notices.isPending && !notices.error && <Waiting label="Loading notices" />}
      {notices.isSuccess && rows.length === 0 && (
        <Nothing>{unreadOnly ? "Everything was read." : "No notices."}</Nothing>
      )}
      {rows.length > 0 && (
        <div className="mt-3">
          <Rows label="Notices">
            {rows.map((one) => (
              <Row key={one.id} notice={one} read={() => mark.mutate({ ids: [one.id] })} />
            ))}
          </Rows>
        </div>
      )}
      {notices.hasNextPage && (
        <Button className="mt-3" disabled={notices.isFetchingNextPage} onClick={() => notices.fetchNextPage()}>
          Show older ones
        </Button>
      )}
    </PageMain>
  );
}

/** Kinds that want something of us at once. */
const PRESSING: Notice["kind"][] = ["asked", "refused", "overdue", "access_overdue"];

function Row({ notice, read }: { notice: Notice; read: () => void }) {
  const known = [notice.vendor, notice.reference].filter(Boolean).join(" · ");
  return (
    <li className="border-b border-line">
      <Link
        data-row
        href={notice.place}
        onClick={() => !notice.read && read()}
        className="-mx-2 grid grid-cols-[10px_72px_minmax(0,1fr)_auto] items-baseline gap-x-3 px-2 py-2 hover:bg-sheet"
      >
        <span aria-hidden className={join("size-2 rounded-full", !notice.read && "bg-wax")} />
        <Mono>{notice.packet ?? ""}</Mono>
        <span className="min-w-0">
          <span className={join("block truncate", !notice.read && "font-semibold")}>
            {!notice.read && <Hidden>Not read: </Hidden>}
            <span className={PRESSING.includes(notice.kind) ? "text-wax" : undefined}>{notice.words}</span>{" "}
            {notice.title}
          </span>
          <span className="block truncate text-soft">{known}</span>
        </span>
        <span className="text-soft tabular-nums">{sayMoment(notice.at)}</span>
      </Link>
    </li>
  );
}
