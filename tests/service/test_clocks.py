"""Clocks: what a desk has promised is due in the hours of the entitlement, and stands still while it is our turn."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketBrief, PacketShown
from sealpacket.store.models import Packet
from tests.conftest import Tarnfell, until

A_BIT = timedelta(seconds=2)


def line(marit: SealPacket, number: str) -> PacketBrief:
    return next(one for one in marit.packets.list(query=number) if one.number == number)


def test_promises_are_due_and_stand_still_on_our_turn(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, inside: AppContext
) -> None:
    assert lodged.lodged_at and lodged.reference
    first = line(marit, lodged.number)
    assert (first.due_what, first.severity) == ("first_answer", "2 · badly hindered")
    assert first.due_at == lodged.lodged_at + timedelta(hours=4), "day and night, as covered"

    tarnfell.steer(case=lodged.reference, ask="Which firmware do both controllers run?")
    asked = marit.packets.follow(lodged.number)
    assert asked.turn == "ours"
    ours = line(marit, lodged.number)
    assert (ours.due_at, ours.due_what, ours.attention) == (None, "", "asked")

    marit.packets.reply(lodged.number, "7.4.2 on both.")
    answered = until(lambda: (p := line(marit, lodged.number)).turn == "vendor" and p)
    assert answered.due_what == "next_word"
    assert answered.due_at and answered.turn_since
    assert abs(answered.due_at - answered.turn_since - timedelta(hours=8)) < A_BIT

    def aged(hours: float) -> None:
        with inside.database.transaction() as session:
            named = select(Packet).where(Packet.number == lodged.number)
            packet = session.scalars(named.with_for_update(of=Packet)).one()
            packet.turn_since = datetime.now(UTC) - timedelta(hours=hours)
            for message in packet.messages:
                message.at -= timedelta(hours=hours)

    aged(7.5)
    assert line(marit, lodged.number).attention == "due_soon"
    aged(9)
    today = marit.today()
    late = today.ours[0]
    assert (late.number, late.attention, late.turn) == (lodged.number, "overdue", "vendor")
    assert lodged.number not in [one.number for one in today.theirs]
