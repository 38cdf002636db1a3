"""A person's notices in the console: the list, and what they have read."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, datetime, timedelta
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import delete, func, select, update
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.notices import STATES, NoticeKind, NoticeWay, sentence
from sealpacket.services.notices.announcing import announce_to
from sealpacket.store.models import Notice, PacketLine, ProductNews, TrayItem, VendorReport

KEPT = timedelta(days=90)
"""How long a notice of a past event is kept; one that was read, a third of it."""


class NoticeShown(BaseModel):
    """Something that somebody is notified of."""

    id: int
    kind: NoticeKind = Field(description="The sort of event, or the state that holds.")
    at: datetime = Field(description="When it happened, or began.")
    read: bool = Field(description="Whether it was read.")
    words: str = Field(description="It as a sentence.")
    packet: str | None = Field(description="The number of the packet that it is about.")
    title: str = Field(description="The title of the packet, or of the news; empty without one.")
    vendor: str = Field(description="The name of the vendor; empty without one.")
    reference: str | None = Field(description="The desk's reference of the packet.")
    place: str = Field(description="Where it leads to in the console.")


class NoticePage(BaseModel):
    """Notices, the newest first."""

    items: list[NoticeShown]
    unread: int = Field(description="Number of notices that were not read, on all pages.")
    next: str | None = Field(description="Send it as `cursor` to get what follows.")


def listed(
    app: AppContext, actor: Actor, *, unread: bool = False, limit: int = 50, cursor: str = ""
) -> NoticePage:
    """List the notices of whoever asks, the newest first; with `unread`, without those that were read."""
    with app.database.snapshot() as session:
        which = _IN_CONSOLE & (Notice.account_id == actor.account_id)
        if unread:
            which &= Notice.read_at.is_(None)
        if cursor:
            which &= Notice.id < int(cursor)
        query = select(Notice).where(which).order_by(Notice.id.desc()).limit(limit + 1)
        rows = session.scalars(query).all()
        return NoticePage(
            items=shown(session, rows[:limit]),
            unread=unread_of(session, [actor.account_id]).get(actor.account_id, 0),
            next=str(rows[limit - 1].id) if len(rows) > limit else None,
        )


_IN_CONSOLE = Notice.ways.contains([NoticeWay.CONSOLE])
"""The condition for notices that the console shows."""


def unread_of(session: Session, accounts: Sequence[str]) -> dict[str, int]:
    """By account, how many notices of the console were not read; accounts without any are left out."""
    query = (
        select(Notice.account_id, func.count())
        .where(Notice.account_id.in_(accounts), Notice.read_at.is_(None), _IN_CONSOLE)
        .group_by(Notice.account_id)
    )
    return {account: count for account, count in session.execute(query) if account}


def counted(app: AppContext, accounts: Sequence[str]) -> dict[str, int]:
    """By account, how many notices were not read."""
    with app.database.snapshot() as session:
        return dict.fromkeys(accounts, 0) | unread_of(session, accounts)


def mark(
    app: AppContext, actor: Actor, ids: Sequence[int], *, everything: bool = False, read: bool
) -> NoticePage:
    """Mark notices of whoever asks as read, or as not read; named by their ids, or all of them."""
    with app.database.transaction() as session:
        which = Notice.account_id == actor.account_id
        if not everything:
            which &= Notice.id.in_(ids)
        at = datetime.now(UTC) if read else None
        session.execute(update(Notice).where(which).values(read_at=at))
        announce_to(session, [actor.account_id])
    return listed(app, actor)


def shown(session: Session, rows: Iterable[Notice]) -> list[NoticeShown]:
    """Notices as they are shown, in the same order."""
    notices = [*rows]
    lines = _of(session, PacketLine, PacketLine.packet_id, {one.packet_id for one in notices})
    about = {
        kind: {one.subject for one in notices if one.kind == kind}
        for kind in (NoticeKind.UNPLACED, NoticeKind.PRODUCT_NEWS, NoticeKind.VENDOR_TROUBLE)
    }
    tray = _of(session, TrayItem, TrayItem.id, about[NoticeKind.UNPLACED])
    news = _of(session, ProductNews, ProductNews.id, map(int, about[NoticeKind.PRODUCT_NEWS]))
    reports = _of(
        session, VendorReport, VendorReport.id, map(int, about[NoticeKind.VENDOR_TROUBLE])
    )
    found = []
    for one in notices:
        if one.kind == NoticeKind.UNPLACED and one.subject in tray:
            item = tray[one.subject]
            found.append(_shown(one, title=item.subject, place="/"))
        elif one.kind == NoticeKind.PRODUCT_NEWS and int(one.subject) in news:
            entry = news[int(one.subject)]
            found.append(
                _shown(one, title=entry.title, vendor=entry.vendor_name, place="/notices/news")
            )
        elif one.kind == NoticeKind.VENDOR_TROUBLE and int(one.subject) in reports:
            report = reports[int(one.subject)]
            found.append(
                _shown(one, title=report.title, vendor=report.vendor.name, place="/notices/health")
            )
        elif one.packet_id in lines:
            found.append(_of_packet(one, lines[one.packet_id]))
    return found


def _of(session: Session, model: Any, key: Any, ids: Iterable[Any]) -> dict[Any, Any]:
    named = [one for one in ids if one is not None]
    if not named:
        return {}
    return {
        getattr(row, key.key): row for row in session.scalars(select(model).where(key.in_(named)))
    }


_PLACES = {
    NoticeKind.ASKED: "/replies",
    NoticeKind.REPLIED: "/replies",
    NoticeKind.ANSWERED: "/replies",
    NoticeKind.OVERDUE: "/replies",
    NoticeKind.MAY_ESCALATE: "/replies",
    NoticeKind.DUE_SOON: "/replies",
    NoticeKind.BY_HAND: "/replies",
}


def _of_packet(one: Notice, line: PacketLine) -> NoticeShown:
    return _shown(
        one,
        title=line.title,
        vendor=line.vendor_name or "",
        place=f"/packets/{line.number}{_PLACES.get(one.kind, '')}",
        reference=line.reference,
        packet=line.number,
    )


def _shown(
    one: Notice,
    *,
    title: str,
    place: str,
    vendor: str = "",
    reference: str | None = None,
    packet: str | None = None,
) -> NoticeShown:
    return NoticeShown(
        id=one.id,
        kind=one.kind,
        at=one.at,
        read=one.read_at is not None,
        words=sentence(one.kind, vendor),
        packet=packet,
        title=title,
        vendor=vendor,
        reference=reference,
        place=place,
    )


def forget_old(app: AppContext) -> None:
    """Delete notices of events that are long past. The worker calls this."""
    moment = datetime.now(UTC)
    past = (Notice.at < moment - KEPT) | (Notice.read_at < moment - KEPT / 3)
    with app.database.transaction() as session:
        session.execute(delete(Notice).where(Notice.kind.not_in(STATES), past))
