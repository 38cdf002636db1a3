"""Originals are deleted for good when their time is over, or when a person says so."""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.life import OVER
from sealpacket.services.packets import originals, workbench
from sealpacket.store.models import Exhibit, Packet

_AT_ONCE = 500


class OriginalsDeleted(BaseModel):
    """Counts of a deletion: exhibits without their original, and files removed from the store.

    A file stays as long as another packet has it too.
    """

    number: str
    exhibits: int
    files: int


def delete(app: AppContext, actor: Actor, number: str, reason: str) -> OriginalsDeleted:
    """Delete the originals of a packet that is over, for good. What went out, and the sealed bag, stay.

    Raises Conflict for a packet that is not over, or has none any more.
    """
    with app.transaction(actor, "originals deleted", f"packet {number}", reason=reason) as tx:
        packet = workbench.find_packet(tx.session, number, lock=True)
        if packet.life not in OVER:
            raise Conflict(
                f"{packet.number} is {packet.life}; its originals may still be needed.",
                "Delete them when it is over.",
                code="not-over",
            )
        with_one = [one for one in packet.exhibits if one.original_blob]
        if not with_one:
            raise Conflict(
                f"{packet.number} has no originals.", "There is nothing to do.", code="none-left"
            )
        gone = [one.sha256 or "" for one in with_one if _delete(app, tx.session, one)]
        tx.detail["let_go"] = {one.name: one.sha256 or "" for one in with_one}
        tx.detail["gone"] = gone
        return OriginalsDeleted(number=packet.number, exhibits=len(with_one), files=len(gone))


def _delete(app: AppContext, session: Session, exhibit: Exhibit) -> bool:
    """Forget an original and what was read from it in clear; gives whether its file goes."""
    app.forget(session, exhibit.summary_blob, exhibit.findings_blob)
    exhibit.summary_blob = exhibit.findings_blob = None
    exhibit.original_deleted_at = datetime.now(UTC).replace(microsecond=0)
    last = originals.let_go(app, session, exhibit)
    session.flush()
    return last


def delete_due(app: AppContext) -> int:
    """Delete the originals of packets that have been over for longer than the house keeps them; gives how many."""
    days = app.settings.original_days
    if not days:
        return 0
    before = datetime.now(UTC) - timedelta(days=days)
    ended = func.coalesce(Packet.settled_at, Packet.updated_at)
    with app.database.transaction() as session:
        query = (
            select(Packet.number)
            .where(Packet.life.in_(OVER), ended < before)
            .where(Packet.exhibits.any(Exhibit.original_blob.is_not(None)))
            .order_by(ended)
        )
        numbers = list(session.scalars(query.limit(_AT_ONCE)))
    done = 0
    for number in numbers:
        with suppress(Conflict):  # its desk opened it again meanwhile
            delete(app, WORKER, number, f"kept for {days} days")
            done += 1
    return done
