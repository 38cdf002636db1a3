"""Changes of the register that follow from answers of desks: offered when an answer comes, and shown beside what the
register has."""

from __future__ import annotations

from datetime import date
from typing import Any

from sqlalchemy.orm import Session, object_session

from sealpacket.core.coverage import Ruling
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.life import ConsequenceState
from sealpacket.core.sheets import Sheet
from sealpacket.core.sheets.consequences import granted
from sealpacket.services.packets.follow.schemas import ConsequenceShown
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Entitlement, Packet, PacketCase, PacketConsequence


def offer(packet: Packet, sheet: Sheet, case: PacketCase) -> None:
    """Offer what follows from the status of a case; the same change is offered once."""
    known = {(one.case_label, one.place, one.value) for one in packet.consequences}
    for one in granted(sheet, case.desk_status, packet.sealed_answers or (), case.desk_facts):
        if (case.label, one.place, one.value) not in known:
            packet.consequences.append(
                PacketConsequence(
                    case_label=case.label, place=one.place, what=one.rule.what, record=one.rule.record,
                    field=one.rule.field, value=one.value, from_on=one.from_on, state=ConsequenceState.OFFERED,
                )
            )  # fmt: skip


def show(packet: Packet, one: PacketConsequence) -> ConsequenceShown:
    """A change beside what the register has now."""
    session = object_session(packet)
    row = record_of(session, packet, one)[1] if session else None
    return ConsequenceShown(
        id=one.id, what=one.what, case=one.case_label, record=one.record,
        handle=str(row.id) if row else "", name=_name(row) if row else "", field=one.field,
        now=text_of(getattr(row, one.field)) if row else "", value=one.value,
        from_on=day_of(one) if row and begins_later(row, one) else None,
        state=one.state, offered_at=one.offered_at, decided_by=one.decided_by, decided_at=one.decided_at,
    )  # fmt: skip


def record_of(session: Session, packet: Packet, one: PacketConsequence) -> tuple[Kind, Any]:
    """The record that a change is about: the one that has it, else that of the packet or its ruling."""
    kind = KINDS[one.record]
    if one.record_id:
        return kind, session.get(kind.model, one.record_id)
    if one.record == "asset":
        return kind, packet.asset
    ruling = Ruling.model_validate(packet.ruling) if packet.ruling else None
    handle = (
        (ruling.entitlement if one.record == "entitlement" else ruling.contract) if ruling else ""
    )
    if not handle:
        return kind, None
    try:
        return kind, kind.find(session, handle)
    except (NotFound, Conflict):
        return kind, None


def day_of(one: PacketConsequence) -> date:
    """The day from which a change counts."""
    return one.from_on or one.offered_at.date()


def begins_later(row: Any, one: PacketConsequence) -> bool:
    """Whether an entitlement gets a later version, since what was true before the day is to stay true of it."""
    if not isinstance(row, Entitlement) or one.field == "ends_on":
        return False
    day = day_of(one)
    return row.starts_on < day <= row.ends_on and (row.replaced_on is None or day < row.replaced_on)


def _name(row: Any) -> str:
    return str(
        getattr(row, "reference", None)
        or getattr(row, "called", None)
        or getattr(row, "number", None)
        or getattr(row, "serial", "")
    )


def text_of(value: Any) -> str:
    """A value of a record as a text."""
    return "" if value is None else value.isoformat() if isinstance(value, date) else str(value)
