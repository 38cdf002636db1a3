"""Acts on changes of the register that follow from answers of desks: a keeper takes, dismisses or undoes them."""

from __future__ import annotations

from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.life import ConsequenceState
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.follow.granting import (
    begins_later,
    day_of,
    record_of,
    show,
    text_of,
)
from sealpacket.services.packets.follow.schemas import ConsequenceOffered
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register.acts import keep_version, rewrite
from sealpacket.services.register.dated import begin_version
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Packet, PacketConsequence

_MOST = 200


def consequences(app: AppContext) -> list[ConsequenceOffered]:
    """Changes of the register that are offered and wait for a keeper, the oldest first."""
    with app.database.snapshot() as session:
        query = (
            select(PacketConsequence, Packet)
            .join(Packet, Packet.id == PacketConsequence.packet_id)
            .where(PacketConsequence.state == ConsequenceState.OFFERED)
            .order_by(PacketConsequence.offered_at, PacketConsequence.id)
        )
        rows = session.execute(query.limit(_MOST))
        return [
            ConsequenceOffered(
                packet=packet.number, title=packet.title, consequence=show(packet, one)
            )
            for one, packet in rows
        ]


def take_consequence(app: AppContext, actor: Actor, number: str, ident: str) -> PacketShown:
    """Take a change into the register; of an entitlement it counts from its day on, and before it all stays.

    Raises NotFound if its record is gone, Conflict if it was decided before, Invalid for a value that the field does
    not take.
    """
    with packet_act(app, actor, "consequence taken", number) as act:
        one = _find(act.packet, ident)
        if one.state not in (ConsequenceState.OFFERED, ConsequenceState.UNDONE):
            raise Conflict(f"It is {one.state}.", "Look at the packet again.", code="decided")
        kind, row = _need_record(act.session, act.packet, one)
        one.was = text_of(getattr(row, one.field))
        if begins_later(row, one):
            row = begin_version(app, act.session, row, day_of(one), {one.field: one.value})
        else:
            rewrite(app, act.session, kind, row, {one.field: one.value})
        _note(act.session, kind, row, actor, "amended")
        one.record_id = row.id
        _decide(one, ConsequenceState.TAKEN, actor)
        act.detail = {"record": f"{one.record} {row.id}", "field": one.field, "value": one.value}
    return act.shown


def dismiss_consequence(app: AppContext, actor: Actor, number: str, ident: str) -> PacketShown:
    """Dismiss a change: the register stays as it is. Raises Conflict if it was decided before."""
    with packet_act(app, actor, "consequence dismissed", number) as act:
        one = _find(act.packet, ident)
        if one.state != ConsequenceState.OFFERED:
            raise Conflict(f"It is {one.state}.", "Look at the packet again.", code="decided")
        _decide(one, ConsequenceState.DISMISSED, actor)
    return act.shown


def undo_consequence(app: AppContext, actor: Actor, number: str, ident: str) -> PacketShown:
    """Undo a change that was taken: the field has its former value again, or the change is offered again.

    Raises Conflict if the field was changed meanwhile, or there is nothing to undo.
    """
    with packet_act(app, actor, "consequence undone", number) as act:
        one = _find(act.packet, ident)
        if one.state == ConsequenceState.DISMISSED:
            _decide(one, ConsequenceState.OFFERED, actor)
        elif one.state != ConsequenceState.TAKEN:
            raise Conflict("There is nothing to undo.", "Take it first.", code="decided")
        else:
            kind = KINDS[one.record]
            row = act.session.get(kind.model, one.record_id)
            if row is None or text_of(getattr(row, one.field)) != one.value:
                raise Conflict(
                    f"The {one.field.replace('_', ' ')} was changed after it was taken.",
                    "Correct the record itself.",
                    code="changed-since",
                )
            rewrite(app, act.session, kind, row, {one.field: one.was or None})
            _note(act.session, kind, row, actor, "changed")
            _decide(one, ConsequenceState.UNDONE, actor)
        act.detail = {"field": one.field, "value": one.was or ""}
    return act.shown


def _find(packet: Packet, ident: str) -> PacketConsequence:
    found = next((one for one in packet.consequences if one.id == ident), None)
    if found is None:
        raise NotFound(
            f"{packet.number} has no such change to be taken.", "Look at the packet again."
        )
    return found


def _decide(one: PacketConsequence, state: ConsequenceState, actor: Actor) -> None:
    one.state, one.decided_by, one.decided_at = state, actor.name, datetime.now(UTC)


def _note(session: Session, kind: Kind, row: Any, actor: Actor, verb: str) -> None:
    session.flush()
    session.refresh(row)
    keep_version(session, kind, row, actor.name, verb)


def _need_record(session: Session, packet: Packet, one: PacketConsequence) -> tuple[Kind, Any]:
    kind, row = record_of(session, packet, one)
    if row is None:
        raise NotFound(
            f"{packet.number} has no {one.record} in the register.",
            "Change the record itself, and dismiss this.",
        )
    return kind, row
