"""Reading and verifying the custody log."""

from __future__ import annotations

from datetime import datetime
from typing import Any

from pydantic import BaseModel
from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.core.custody import ChainReport, verify_chain
from sealpacket.store import custody
from sealpacket.store.models import CustodyEntry


class CustodyEntryShown(BaseModel):
    """One entry of the custody log."""

    seq: int
    hash: str
    at: datetime
    actor: str
    action: str
    subject: str
    detail: dict[str, Any]


def entries(
    app: AppContext, *, subject: str = "", before: int | None = None, limit: int = 50
) -> list[CustodyEntryShown]:
    """The newest entries first; of one subject if given, and older than entry `before`."""
    with app.database.transaction() as session:
        query = select(CustodyEntry).order_by(CustodyEntry.seq.desc()).limit(min(limit, 500))
        if subject:
            query = query.where(CustodyEntry.entry.contains({"subject": subject}))
        if before:
            query = query.where(CustodyEntry.seq < before)
        return [
            CustodyEntryShown(seq=row.seq, hash=row.hash, **row.entry)
            for row in session.scalars(query)
        ]


def verify(app: AppContext) -> ChainReport:
    """Walk the whole log and check every link."""
    with app.database.transaction() as session:
        return verify_chain(custody.walk(session))
