"""Clocks: what a desk has promised is due in the hours of the entitlement, and stands still while it is our turn."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

import pytest
from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
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


def test_the_clock_says_when_it_may_be_escalated(
    marit: SealPacket, lodged: PacketShown, inside: AppContext
) -> None:
    first = line(marit, lodged.number)
    assert lodged.lodged_at
    assert first.escalate_at == first.due_at == lodged.lodged_at + timedelta(hours=4)
    assert marit.packets.get(lodged.number).escalate_at == first.escalate_at
    marit.notices.choose({"may_escalate": ("all", ["console"])})

    def kinds() -> list[str]:
        return [one.kind for one in marit.notices.list() if one.packet == lodged.number]

    assert "may_escalate" not in kinds()
    with inside.database.transaction() as session:
        named = select(Packet).where(Packet.number == lodged.number)
        packet = session.scalars(named.with_for_update(of=Packet)).one()
        packet.lodged_at -= timedelta(hours=5)
        packet.turn_since -= timedelta(hours=5)
    assert "may_escalate" in kinds()
    marit.packets.escalate(lodged.number, "Nobody has answered.")
    assert line(marit, lodged.number).escalate_at is None
    assert "may_escalate" not in kinds(), "it is done"


def test_a_call_that_was_not_wished_is_noted_and_counted(
    marit: SealPacket, lodged: PacketShown
) -> None:
    contact = marit.people.get("marit")
    marit.people.change("marit", contact.version, reach_by="mail", hours="Mo–Fr 08:30–17:00")
    try:
        lodged_at = lodged.lodged_at
        assert lodged_at
        marit.packets.record_call(
            lodged.number, "Is it still slow?", at=datetime(2026, 11, 29, 12, tzinfo=UTC)
        )
        called = marit.packets.record_call(
            lodged.number, "And now?", at=datetime(2026, 11, 30, 12, tzinfo=UTC)
        )
        sunday, monday = (one for one in called.messages if one.how == "call")
        assert (sunday.outside_hours, monday.outside_hours) == (True, False)
        assert (sunday.mail_asked, sunday.unwished) == (True, False)
        marked = marit.packets.mark_unwished(lodged.number, sunday.id)
        assert [one.unwished for one in marked.messages if one.how == "call"] == [True, False]
        assert [one.number for one in marit.packets.list(course="called")] == [lodged.number]
        (part,) = marit.overview(part="questions").parts
        counts = {n.name: n.value for row in part.rows for n in row.numbers}
        assert counts["called though mail was asked for"] == 1
        marit.packets.mark_unwished(lodged.number, sunday.id, unwished=False)
        assert not list(marit.packets.list(course="called"))
    finally:
        contact = marit.people.get("marit")
        marit.people.change("marit", contact.version, reach_by="either")


def test_only_a_call_can_be_unwished(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, say="Good morning.")
    said = marit.packets.follow(lodged.number).messages[-1]
    with pytest.raises(Refused, match="is no call"):
        marit.packets.mark_unwished(lodged.number, said.id)


def test_hours_that_do_not_say_when_are_converted_once(
    marit: SealPacket, pauli: SealPacket
) -> None:
    unread = {one.text: one.entitlements for one in marit.entitlements.unread_hours()}
    assert unread["9x5"] > 1
    with pytest.raises(Refused, match="ends before it begins"):
        marit.entitlements.convert_hours("9x5", "Mo–Fr 17:00–08:30")
    with pytest.raises(Refused, match="No entitlement"):
        marit.entitlements.convert_hours("8x4", "Mo–Fr 08:30–17:00")
    before = [one for one in marit.entitlements.list() if one.hours == "9x5"]
    done = marit.entitlements.convert_hours("9x5", "Mo–Fr 09:00–18:00")
    assert done.entitlements == len(before)
    assert "9x5" not in {one.text for one in marit.entitlements.unread_hours()}
    now = marit.entitlements.get(before[0].id)
    assert (now.hours, now.version) == ("Mo–Fr 09:00–18:00", before[0].version + 1)
    assert marit.entitlements.history(now.id).items[0].by == "marit"
