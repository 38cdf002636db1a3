"""Retries of deliveries and messages: for days, at once, or cancelled."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.app.queue import pause_before
from sealpacket.core.errors import Conflict
from sealpacket.core.life import (
    AT_DESK,
    ON_ITS_WAY,
    DeliveryState,
    Event,
    Life,
    State,
    refusal,
)
from sealpacket.services.desks import parsed
from sealpacket.services.packets.acting import packet_act
from sealpacket.services.packets.lodge import health
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Desk, DeskSheet, Packet, PacketDelivery

LODGE = "lodge_packet"
SEND = "send_messages"


def begin(app: AppContext, session: Session, packet: Packet, task: str) -> None:
    """Put the first try into the queue; a desk that was left alone is tried by it."""
    if packet.sheet is not None:
        health.open_for_one(session, parsed(packet.sheet).desk)
    packet.delivery.start_trying()
    _enqueue(app, session, packet, task)


def _enqueue(
    app: AppContext, session: Session, packet: Packet, task: str, seconds: int = 0
) -> None:
    arguments: dict[str, Any] = {"packet": packet.id, "tried": packet.delivery.tried}
    app.enqueue(session, task, arguments, packet.id, seconds)


def due(packet: Packet, tried: int) -> bool:
    """Whether this job is current; a newer one may replace it."""
    return tried == packet.delivery.tried


def put_off(
    app: AppContext,
    session: Session,
    packet: Packet,
    task: str,
    words: str,
    until: datetime | None = None,
) -> bool:
    """Schedule a retry, at `until` if given. Returns False after `desk_days` days."""
    now, delivery = datetime.now(UTC), packet.delivery
    delivery.since = delivery.since or now
    delivery.reason = words
    if now - delivery.since > timedelta(days=app.settings.desk_days):
        delivery.next_at = None
        return False
    pause = pause_before(delivery.tried)
    if until is not None:
        pause = max(1, round((until - now).total_seconds())) + pause % 7
    delivery.tried += 1
    delivery.next_at = now + timedelta(seconds=pause)
    _enqueue(app, session, packet, task, pause)
    return True


def waiting_task(packet: Packet) -> str | None:
    """The task that waits for a packet's desk: the delivery, or messages; None if neither does."""
    if packet.delivery.state in ON_ITS_WAY:
        return LODGE
    return SEND if any(message.is_unsent for message in packet.messages) else None


def try_now(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Retry delivery now. Raises Conflict where nothing waits."""
    with packet_act(app, actor, "tried at once", number) as act:
        packet = act.packet
        for message in packet.messages:
            if message.direction == "out" and message.failure and message.taken_back_at is None:
                message.failure = ""
        task = waiting_task(packet)
        if task is None:
            raise Conflict(
                f"Nothing of {packet.number} waits for its desk.",
                "Look at the packet again.",
                code="nothing-waits",
            )
        if packet.sheet is not None:
            health.open_for_one(act.session, parsed(packet.sheet).desk)
        packet.delivery.stop_trying()
        _enqueue(app, act.session, packet, task)
    return act.shown


def cancel(app: AppContext, actor: Actor, number: str) -> PacketShown:
    """Stop lodging, as long as nothing of it can be with the desk; the packet stays sealed. Raises Conflict
    otherwise."""
    with packet_act(app, actor, "lodging cancelled", number) as act:
        packet = act.packet
        if packet.can(Event.CANCEL) and any(one.begun or one.sent for one in packet.cases):
            raise refusal(State(packet.life, DeliveryState.SENDING), Event.CANCEL, packet.number)
        packet.advance(Event.CANCEL)
    return act.shown


def reached(app: AppContext, desk: str) -> None:
    """A desk has answered: if it had been left alone, all that waits for it goes now."""
    if health.was_reached(app, desk):
        _wake(app, desk)


def _wake(app: AppContext, desk: str) -> None:
    with app.transaction(WORKER, "desk is back", f"desk {desk}") as tx:
        query = (
            select(Packet.id)
            .join(DeskSheet, Packet.sheet_id == DeskSheet.id)
            .join(Desk, DeskSheet.desk_id == Desk.id)
            .join(Packet.delivery)
            .where(Desk.key == desk, PacketDelivery.next_at.is_not(None))
            .where(Packet.life.in_((Life.SEALED, Life.REFUSED, *AT_DESK)))
        )
        count = 0
        for ident in tx.session.scalars(query).all():
            packet = tx.session.get(Packet, ident, with_for_update={"skip_locked": True})
            task = waiting_task(packet) if packet and packet.delivery.next_at else None
            if packet is None or task is None:
                continue
            count += 1
            packet.delivery.tried += 1
            packet.delivery.next_at = None
            _enqueue(app, tx.session, packet, task)
        tx.detail["packets"] = count
        tx.audited = count > 0
