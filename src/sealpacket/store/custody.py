"""The custody log in the database."""

from __future__ import annotations

from collections.abc import Iterator
from datetime import datetime
from typing import Any

from sqlalchemy import select, text
from sqlalchemy.orm import Session

from sealpacket.core.custody import GENESIS, Link, chain_hash
from sealpacket.store.models import CustodyEntry


def append(
    session: Session, at: datetime, actor: str, action: str, subject: str, detail: dict[str, Any]
) -> None:
    """Add one entry. Writers queue for the end of the chain until their transaction is through."""
    session.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket custody'))"))
    last = session.execute(
        select(CustodyEntry.seq, CustodyEntry.hash).order_by(CustodyEntry.seq.desc()).limit(1)
    ).one_or_none()
    seq, previous = (last.seq + 1, last.hash) if last else (1, GENESIS)
    entry = {
        "at": at.isoformat(),
        "actor": actor,
        "action": action,
        "subject": subject,
        "detail": detail,
    }
    session.add(
        CustodyEntry(seq=seq, entry=entry, previous=previous, hash=chain_hash(previous, entry))
    )
    session.flush()


def walk(session: Session) -> Iterator[Link]:
    """The whole log from its start, a thousand entries at a time."""
    rows = session.execute(
        select(CustodyEntry).order_by(CustodyEntry.seq).execution_options(yield_per=1000)
    )
    for row in rows.scalars():
        yield Link(row.seq, row.entry, row.previous, row.hash)
