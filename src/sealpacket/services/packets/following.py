"""Following: how the case stands at the desk, what it asks, and what we answer."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import or_, select

from sealpacket.channels import DeskAway, DeskRefused
from sealpacket.core.errors import Conflict, Invalid, Unavailable
from sealpacket.core.sheets import CaseNews, read_case, render
from sealpacket.services.house import WORKER, Actor, House
from sealpacket.services.packets import workbench
from sealpacket.services.packets.lodging import desk_of
from sealpacket.services.queue import wait_before
from sealpacket.store.models import Message, Packet

SEND = "send_message"
OPEN = ("lodged", "answered")


def follow(house: House, actor: Actor, number: str) -> dict[str, Any]:
    """Look now how the case stands. Raises Unavailable if the desk cannot be asked."""
    with house.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.life not in OPEN or not packet.reference:
            raise Conflict(
                f"{packet.number} is {packet.life}; there is no open case to follow.",
                "Lodge it first.",
                code="not-lodged",
            )
        desk, reference, packet_id = desk_of(house, packet), packet.reference, packet.id
    try:
        with desk:
            news = read_case(desk.sheet, desk.follow(reference))
    except DeskAway as away:
        raise Unavailable(str(away), "Look again in a while.", code="desk-away") from away
    except DeskRefused as refusal:
        raise Unavailable(
            f"The desk does not tell how {reference} stands (HTTP {refusal.status}).",
            "Check the secret of the vendor login, then look again.",
            code="desk-refused",
        ) from refusal
    return _take_in(house, actor, packet_id, news)


def _take_in(house: House, actor: Actor, packet_id: str, news: CaseNews) -> dict[str, Any]:
    with house.act(actor, "news of the case", "packet") as act:
        packet = act.session.get_one(Packet, packet_id, with_for_update=True)
        act.subject = f"packet {packet.number}"
        known = {message.desk_id for message in packet.messages}
        new = [message for message in news.messages if message.id not in known]
        for message in new:
            packet.messages.append(
                Message(desk_id=message.id, direction="in", text=message.text[:20_000], asks=message.asks,
                        at=_moment(message.at), by=packet.asset.vendor.name if packet.asset else "")
            )  # fmt: skip
        changed = packet.desk_status != news.status or bool(new)
        packet.desk_status, packet.followed_at = news.status, datetime.now(UTC)
        packet.life = news.life
        waiting = any(message.asks and message.answered_at is None for message in packet.messages)
        packet.turn = "ours" if waiting or news.turn == "ours" else "vendor"
        act.worth_noting = changed
        act.detail = {"status": news.status, "messages": len(new)}
        act.session.flush()
        return workbench.show(workbench.lay_out(act.session, packet))


def _moment(text: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        return datetime.now(UTC)
    return moment if moment.tzinfo else moment.replace(tzinfo=UTC)


def follow_all(house: House) -> None:
    """Look at every open case that has not been looked at lately; one desk that is away stops no other."""
    since = datetime.now(UTC) - timedelta(seconds=house.settings.follow_every)
    with house.database.transaction() as session:
        query = select(Packet.number).where(
            Packet.life.in_(OPEN), or_(Packet.followed_at.is_(None), Packet.followed_at < since)
        )
        numbers = list(session.scalars(query.order_by(Packet.followed_at.nulls_first()).limit(200)))
    for number in numbers:
        try:
            follow(house, WORKER, number)
        except (Unavailable, Conflict, Invalid):
            with house.database.transaction() as session:
                workbench.find_packet(session, number).followed_at = datetime.now(UTC)


def reply(house: House, actor: Actor, number: str, text: str) -> dict[str, Any]:
    """Answer the desk. It is kept at once and sent by the worker, however long the desk is away."""
    with house.act(actor, "answer written", f"packet {number}", characters=len(text)) as act:
        packet = workbench.find_packet(act.session, number, lock=True)
        if packet.life not in OPEN:
            raise Conflict(f"{packet.number} is {packet.life}; nobody waits for an answer.", "Lodge it first.",
                           code="not-lodged")  # fmt: skip
        message = Message(direction="out", text=text, by=actor.name)
        packet.messages.append(message)
        for asked in packet.messages:
            if asked.asks and asked.answered_at is None:
                asked.answered_at = datetime.now(UTC)
        packet.turn = "vendor"
        act.session.flush()
        house.enqueue(act.session, SEND, {"message": message.id, "tried": 0}, packet.id)
        return workbench.show(workbench.lay_out(act.session, packet))


def send(house: House, message_id: str, tried: int) -> None:
    """One try at sending an answer; while the desk is away the next one is put into the queue."""
    with house.database.transaction() as session:
        message = session.get_one(Message, message_id)
        packet = message.packet
        if message.sent_at is not None or packet.reference is None:
            return
        reference, number, text = packet.reference, packet.number, message.text
    try:
        with house.database.transaction() as session:
            desk = desk_of(house, session.get_one(Message, message_id).packet)
        with desk:
            body = render(desk.sheet.send.answer_body, {"message.text": text, "message.id": message_id})
            desk.answer(reference, message_id, body)
    except (DeskAway, DeskRefused, Conflict) as trouble:
        again = isinstance(trouble, DeskAway) and tried + 1 < house.settings.lodge_tries
        with house.act(WORKER, "answer put off" if again else "answer not sent", f"packet {number}") as act:
            act.detail["words"] = str(trouble)
            packet = workbench.find_packet(act.session, number, lock=True)
            if again:
                house.enqueue(
                    act.session, SEND, {"message": message_id, "tried": tried + 1}, packet.id, wait_before(tried)
                )
            else:
                packet.turn = "ours"
        return
    with house.act(WORKER, "answer sent", f"packet {number}") as act:
        act.session.get_one(Message, message_id).sent_at = datetime.now(UTC)
