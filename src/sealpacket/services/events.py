"""Events in their order, for programs that follow along. The source is the custody log."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field
from sqlalchemy import Select, func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.store.models import CustodyEntry

MOST = 500
_PACKET = "packet "


class EventShown(BaseModel):
    """Something that somebody, or the service, has done. It is never changed, and no number is left out for good."""

    seq: int = Field(description="Its number; the next one is larger.")
    at: datetime = Field(description="When it happened.")
    actor: str = Field(description="The account that did it; “worker” is the service itself.")
    action: str = Field(description="The act, for example “packet sealed”.")
    subject: str = Field(description="The record that it changed, for example “packet P-0142”.")
    packet: str | None = Field(description="The number of the packet that it is about.")


class EventPage(BaseModel):
    """Events, the oldest first."""

    items: list[EventShown]
    next: int = Field(description="Send it as `after` to get what follows.")


def events(
    app: AppContext, actor: Actor, *, after: int | None, packet: str = "", limit: int = 100
) -> EventPage:
    """Events after the one of that number, the oldest first; without a number none, but where to begin.

    Whoever only reads gets those of packets.
    """
    if after is None:
        return EventPage(items=[], next=newest(app))
    only_reads = actor.roles <= {"reader"}
    return page_of(app, after=after, packet=packet, packets_only=only_reads, limit=limit)


def page_of(
    app: AppContext, *, after: int, packet: str = "", packets_only: bool = False, limit: int = MOST
) -> EventPage:
    """Events after the one of that number, the oldest first; all, those of packets, or those of one packet."""
    with app.database.snapshot() as session:
        query = _after(after, packet=packet, packets_only=packets_only)
        most = min(limit, MOST)
        rows = session.scalars(query.order_by(CustodyEntry.seq).limit(most)).all()
        # Nothing of these events comes after the newest number: it may be skipped next time.
        last = rows[-1].seq if len(rows) == most else max(after, newest_in(session))
        return EventPage(items=[shown(row) for row in rows], next=last)


def how_many(session: Session, *, after: int, packets_only: bool) -> int:
    """How many events there are after the one of that number."""
    query = _after(after, packets_only=packets_only)
    return session.scalar(select(func.count()).select_from(query.subquery())) or 0


def _after(after: int, *, packet: str = "", packets_only: bool = False) -> Select[CustodyEntry]:
    query = select(CustodyEntry).where(CustodyEntry.seq > after)
    if packet:
        return query.where(CustodyEntry.entry.contains({"subject": f"{_PACKET}{packet}"}))
    if packets_only:
        return query.where(CustodyEntry.entry["subject"].astext.startswith(_PACKET))
    return query


def newest(app: AppContext) -> int:
    """The number of the newest event; 0 if there is none."""
    with app.database.snapshot() as session:
        return newest_in(session)


def newest_in(session: Session) -> int:
    """The number of the newest event; 0 if there is none."""
    return session.scalar(select(func.max(CustodyEntry.seq))) or 0


def shown(row: CustodyEntry) -> EventShown:
    """An entry of the custody log as an event."""
    entry = row.entry
    subject = str(entry["subject"])
    return EventShown(
        seq=row.seq,
        at=entry["at"],
        actor=entry["actor"],
        action=entry["action"],
        subject=subject,
        packet=subject.removeprefix(_PACKET) if subject.startswith(_PACKET) else None,
    )
