"""Originals are kept once for the same content, and as long as any exhibit has them."""

from __future__ import annotations

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.store.blobs import Stored
from sealpacket.store.models import Exhibit


def keep_once(app: AppContext, session: Session, exhibit: Exhibit, stored: Stored) -> None:
    """Let an exhibit have what was stored, or what another with the same content has; then this is forgotten."""
    hold(session, stored.sha256)
    query = select(Exhibit.original_blob).where(
        Exhibit.sha256 == stored.sha256,
        Exhibit.original_blob.is_not(None),
        Exhibit.id != exhibit.id,
    )
    there = session.scalars(query.limit(1)).first()
    if there is not None:
        app.forget(session, stored.name)
    exhibit.original_blob, exhibit.sha256 = there or stored.name, stored.sha256


def let_go(app: AppContext, session: Session, exhibit: Exhibit) -> bool:
    """Take an exhibit's original from it; gives whether the file goes, which it does where no other exhibit has it."""
    blob = exhibit.original_blob
    if blob is None:
        return False
    hold(session, exhibit.sha256 or "")
    query = select(Exhibit.id).where(Exhibit.original_blob == blob, Exhibit.id != exhibit.id)
    last = session.scalars(query.limit(1)).first() is None
    if last:
        app.forget(session, blob)
    exhibit.original_blob = None
    return last


def hold(session: Session, sha256: str) -> None:
    """Until the end of the transaction nobody else takes or lets go of an original with this content."""
    session.execute(select(func.pg_advisory_xact_lock(func.hashtextextended(sha256, 0))))
