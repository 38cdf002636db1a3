"""Known issues that logs are searched for: what a line means, and what to do about it."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import UTC, datetime

from pydantic import Field
from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.evidence.summary.known import MOST, KnownIssue
from sealpacket.core.life import Life
from sealpacket.store.models import KnownIssueRecord, Packet


class KnownIssueShown(KnownIssue):
    """A known issue, with the packet that taught it."""

    packet: str | None = Field(description="The packet that taught it.")
    by: str
    at: datetime


_FIELDS = tuple(KnownIssue.model_fields)


def listed(app: AppContext) -> list[KnownIssueShown]:
    """All known issues, by key."""
    with app.database.transaction() as session:
        query = select(KnownIssueRecord).order_by(KnownIssueRecord.key).limit(MOST)
        return [_show(record) for record in session.scalars(query)]


def issues_for(session: Session, vendor: str, model: str) -> list[KnownIssue]:
    """The known issues that a log of such a thing may have: those of its vendor and model, and those of any."""
    query = select(KnownIssueRecord).order_by(KnownIssueRecord.key).limit(MOST)
    return [
        KnownIssue(**{field: getattr(record, field) for field in _FIELDS})
        for record in session.scalars(query)
        if is_for(record.vendor, record.models, vendor, model)
    ]


def is_for(wanted: str, models: Sequence[str], vendor: str, model: str) -> bool:
    """Whether what is for a vendor (empty: any) and some models (none: any) is for a thing of these."""
    return wanted in ("", vendor) and (not models or model in models)


def put(app: AppContext, actor: Actor, issue: KnownIssue, number: str = "") -> KnownIssueShown:
    """Keep a known issue under its key; `number` is the settled packet that taught it. Raises NotFound for an unknown
    packet, Conflict for one that is not settled."""
    with app.transaction(actor, "known issue kept", f"known issue {issue.key}") as tx:
        record = tx.session.get(KnownIssueRecord, issue.key) or KnownIssueRecord(key=issue.key)
        for field in _FIELDS:
            setattr(record, field, getattr(issue, field))
        record.by, record.at = actor.name, datetime.now(UTC)
        if number:
            packet = tx.session.scalars(
                select(Packet).where(Packet.number == number.upper())
            ).one_or_none()
            if packet is None:
                raise NotFound(
                    f"There is no packet {number}.", "List the packets, then name one of them."
                )
            if packet.life != Life.SETTLED:
                raise Conflict(
                    f"{packet.number} is {packet.life}; it is not known yet what the cure is.",
                    "Settle it first, or keep the issue without it.",
                    code="not-settled",
                )
            record.packet = packet
            tx.detail["packet"] = packet.number
        tx.session.add(record)
        tx.session.flush()
        return _show(record)


def remove(app: AppContext, actor: Actor, key: str) -> None:
    """Delete a known issue. Raises NotFound."""
    with app.transaction(actor, "known issue removed", f"known issue {key}") as tx:
        record = tx.session.get(KnownIssueRecord, key)
        if record is None:
            raise NotFound(
                f"There is no known issue {key}.", "List the known issues, then name one of them."
            )
        tx.session.delete(record)


def _show(record: KnownIssueRecord) -> KnownIssueShown:
    return KnownIssueShown(
        **{field: getattr(record, field) for field in _FIELDS},
        packet=record.packet.number if record.packet else None,
        by=record.by,
        at=record.at,
    )
