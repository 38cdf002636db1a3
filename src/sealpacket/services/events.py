"""Events in their order, for programs that follow along. The source is the custody log."""

from __future__ import annotations

from datetime import datetime

from pydantic import BaseModel, Field
from sqlalchemy import func, select
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
    with app.database.snapshot() as session:
        if after is None:
            return EventPage(items=[], next=_newest(session))
        subject = CustodyEntry.entry["subject"].astext
        query = select(CustodyEntry).where(CustodyEntry.seq > after).order_by(CustodyEntry.seq)
        if packet:
            query = query.where(CustodyEntry.entry.contains({"subject": f"{_PACKET}{packet}"}))
        elif actor.roles <= {"reader"}:
            query = query.where(subject.startswith(_PACKET))
        most = min(limit, MOST)
        rows = session.scalars(query.limit(most)).all()
        # Nothing of these events comes after the newest number: it may be skipped next time.
        newest = rows[-1].seq if len(rows) == most else max(after, _newest(session))
        return EventPage(items=[_shown(row) for row in rows], next=newest)


def newest(app: AppContext) -> int:
    """The number of the newest event; 0 if there is none."""
    with app.database.snapshot() as session:
        return _newest(session)


def _newest(session: Session) -> int:
    return session.scalar(select(func.max(CustodyEntry.seq))) or 0


def _shown(row: CustodyEntry) -> EventShown:
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
