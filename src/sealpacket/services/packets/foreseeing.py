"""Questions that a desk is likely to ask back, offered while a packet is a draft."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import timedelta
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.core.asking_back import Like, foreseen, ident_of
from sealpacket.core.life import Life
from sealpacket.core.sheets import Answer, Sheet
from sealpacket.services.packets.bench import Workbench
from sealpacket.services.packets.schemas import ForeseenShown
from sealpacket.store.models import Asked, Message, Packet, PacketLine

MOST_LOOKED_AT = 300
"""Packets that are learnt from, the newest of the desk's."""


def foreseen_for(session: Session, bench: Workbench) -> list[ForeseenShown]:
    """Questions that are likely to be asked of a draft, but for those that were answered or dismissed."""
    packet, sheet = bench.packet, bench.sheet
    if sheet is None or packet.asset is None or packet.life != Life.DRAFTING:
        return []
    done = {str(one["id"]) for one in packet.foreseen}
    found = [
        ForeseenShown(
            id=ident_of(one.ask), text=one.ask, asked_in=None, like=None, cost_hours=None,
            because="Its sheet says so.",
        )
        for one in sheet.asked_back
        if not one.needs or packet.need in one.needs
    ]  # fmt: skip
    told = [packet.title, packet.note, *(one.value or "" for one in bench.answers)]
    told += [one.ask for one in sheet.asked_back]
    past = _like(session, packet)
    for one in foreseen(past, packet.asset.product_id, category_of(sheet, bench.answers), told):
        hours = round(one.cost / timedelta(hours=1), 1)
        found.append(
            ForeseenShown(
                id=one.id, text=one.text, asked_in=one.asked_in, like=one.like, cost_hours=hours,
                because=f"It was asked in {one.asked_in} of {one.like} packets {one.because}.",
            )
        )  # fmt: skip
    return [one for one in found if one.id not in done]


def category_of(sheet: Sheet, answers: Sequence[Answer]) -> str:
    """The answer to the first question of a sheet that is a tree: what a packet is about; empty without one."""
    tree = next((one.id for one in sheet.questions if one.form == "tree"), None)
    found = next((one.value for one in answers if one.question == tree and one.shown), None)
    return found or ""


def _like(session: Session, packet: Packet) -> list[Like]:
    """The newest packets of the same vendor and need that its desk has had, with what it asked of them."""
    if packet.asset is None:
        return []
    lines = session.execute(
        select(PacketLine.packet_id, PacketLine.product_id, PacketLine.category)
        .where(
            PacketLine.vendor == packet.asset.vendor.key,
            PacketLine.need == packet.need,
            PacketLine.lodged_at.is_not(None),
            PacketLine.packet_id != packet.id,
        )
        .order_by(PacketLine.lodged_at.desc())
        .limit(MOST_LOOKED_AT)
    ).all()
    asked: dict[str, list[tuple[str, timedelta]]] = {}
    over = func.coalesce(Asked.done_at, func.now())
    query = (
        select(Message.packet_id, Asked.text, over - Message.at)
        .join(Message, Message.id == Asked.message_id)
        .where(Message.packet_id.in_([one.packet_id for one in lines]), Asked.doubtful.is_(False))
        .order_by(Message.at)
    )
    rows: Iterable[tuple[str, str, Any]] = session.execute(query)
    for ident, text, cost in rows:
        asked.setdefault(ident, []).append((text, max(cost, timedelta())))
    return [
        Like(one.product_id or "", one.category, tuple(asked.get(one.packet_id, ())))
        for one in lines
    ]
