"""Hollowmere's desk: nothing technical, and one request for each region, lodged together."""

from __future__ import annotations

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import Standin, lodge, stops, until
from tests.some import SOON

VENDOR = "hollowmere"
ACCOUNT = "HM-204471"
ROWS = "north-1 | general cores | 64 | 160\nnorth-2 | general cores | 0 | 96\nwest-1 | memory cores | 16 | 64"


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    """More cores in three regions, for the failover test."""
    packet = marit.packets.note("Cores for the failover test", "", asset=ACCOUNT, need="capacity")
    return marit.packets.answer(
        packet.number, wanted=ROWS, by=SOON, purpose="The failover test of December."
    )


def test_three_regions_are_three_requests_lodged_together(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    assert stops(ready) == []
    assert [case.label for case in marit.packets.letter(ready.number).cases] == [
        "north-1 general cores", "north-2 general cores", "west-1 memory cores"
    ]  # fmt: skip
    packet = lodge(marit, ready.number)
    references = [case.reference for case in packet.cases]
    assert packet.reference == ", ".join(str(reference) for reference in references)
    bodies = [desk.case(reference)["body"] for reference in references]
    assert [(body["region"], body["newLimit"]) for body in bodies] == [
        ("north-1", 160),
        ("north-2", 96),
        ("west-1", 64),
    ]
    assert all(body["customerTicket"] == packet.number for body in bodies)


def test_one_is_granted_and_the_others_wait(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = lodge(marit, ready.number)
    first, second, third = (case.reference for case in packet.cases)
    desk.steer(case=first, state="granted", granted=160)
    packet = marit.packets.follow(packet.number)
    assert (packet.life, [case.desk_status for case in packet.cases]) == (
        "lodged",
        ["granted", "new", "new"],
    )
    assert [case.desk_facts for case in packet.cases] == [{"Granted": "160"}, {}, {}]
    desk.steer(case=second, ask="From which day?")
    packet = marit.packets.follow(packet.number)
    asked = packet.messages[-1]
    assert (packet.turn, asked.by, asked.case) == (
        "ours",
        "Hollowmere Cloud",
        "north-2 general cores",
    )
    assert [case.turn for case in packet.cases] == ["ours", "ours", "vendor"]
    assert marit.packets.reply(packet.number, "From the tenth.").messages[-1].case == asked.case
    until(lambda: desk.case(second)["thread"][-1]["message"] == "From the tenth.")
    for reference in (first, second, third):
        desk.steer(case=reference, state="closed")
    assert marit.packets.follow(packet.number).life == "settled"


def test_what_was_taken_before_a_refusal_is_not_sent_twice(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    desk.steer(refuse_region="north-2")
    packet = lodge(marit, ready.number)
    assert (packet.life, packet.refusals[0].code) == ("refused", "no_room")
    assert "Taken already: north-1" in packet.refusals[0].text
    first = packet.cases[0].reference
    marit.packets.reopen(packet.number)
    before = len(desk.look()["cases"])
    packet = lodge(marit, packet.number)
    assert packet.life == "lodged"
    assert packet.cases[0].reference == first
    assert len(desk.look()["cases"]) == before + 2


def test_the_purpose_is_wanted_before_it_is_asked_for(marit: SealPacket, desk: Standin) -> None:
    packet = marit.packets.note("Cores for the test", "", asset=ACCOUNT, need="capacity")
    packet = marit.packets.answer(
        packet.number, wanted="north-1 | general cores | 64 | 160", by=SOON
    )
    warned = next(check for check in packet.checks if check.code == "purpose")
    assert (warned.level, warned.target) == ("warn", "purpose")
    packet = lodge(marit, packet.number)
    asked = marit.packets.follow(packet.number)
    assert (asked.turn, asked.messages[-1].text) == ("ours", "What is the new limit for?")


@pytest.mark.parametrize(
    ("rows", "says"),
    [
        ("south-9 | general cores | 1 | 2", "none of north-1"),
        ("north-1 | general cores | 64", "has 3 columns"),
        ("north-1 | general cores | 64 | 64", "is not above"),
        ("north-1 | addresses | 1 | 65", "takes 64 at most"),
        ("north-1 | general cores | many | 160", "not a whole number"),
    ],
)
def test_rows_are_checked_before_the_desk_would(
    marit: SealPacket, ready: PacketShown, rows: str, says: str
) -> None:
    packet = marit.packets.answer(ready.number, wanted=rows)
    assert any(says in check.sentence for check in packet.checks if check.level == "stop")


def test_a_state_is_asked_for_only_where_the_country_has_them(
    marit: SealPacket, ready: PacketShown
) -> None:
    def asked(packet: PacketShown) -> set[str]:
        return {question.id for question in packet.questions}

    assert "state" not in asked(ready)
    abroad = marit.packets.answer(ready.number, country="US")
    state = next(question for question in abroad.questions if question.id == "state")
    assert state.answer.because == "“In which country is the bill paid?” is US, CA, AU or IN"
    assert {"value": "US-OH", "label": "Ohio"} in [option.model_dump() for option in state.options]
    assert "unanswered" in stops(abroad)
    assert "state" not in asked(marit.packets.answer(ready.number, country="FR"))


def test_a_change_of_level_and_a_bill_are_asked_otherwise(marit: SealPacket, desk: Standin) -> None:
    packet = marit.packets.note("A higher level from December", "", asset=ACCOUNT, need="change")
    packet = marit.packets.answer(
        packet.number, level="extended", from_day=SOON, purpose="A move of the branches."
    )
    assert stops(packet) == ["unanswered"], "the terms are to be agreed to"
    terms = next(question for question in packet.questions if question.id == "terms")
    assert "three months" in terms.wording
    packet = lodge(marit, marit.packets.answer(packet.number, terms="yes").number)
    assert desk.case(packet.reference)["body"]["termsAccepted"] is True

    packet = marit.packets.note("A bill that is too high", "The bill of October names a region that we left in May.",
                                asset=ACCOUNT, need="question")  # fmt: skip
    packet = lodge(
        marit, marit.packets.answer(packet.number, topic="invoice", invoice="HMI-204411").number
    )
    assert desk.case(packet.reference)["body"]["kind"] == "billing"


def test_of_two_questions_an_answer_answers_one(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = lodge(marit, ready.number)
    first, second, _ = (str(case.reference) for case in packet.cases)
    for reference in (first, second):
        desk.steer(case=reference, ask="What is the new limit for?")
    packet = marit.packets.follow(packet.number)
    open_questions = [
        message for message in packet.messages if message.asks and not message.answered
    ]
    assert len(open_questions) == 2
    with pytest.raises(Refused) as caught:
        marit.packets.reply(packet.number, "For the new branch.")
    assert (caught.value.code, "north-2 general cores" in caught.value.remedy) == (
        "which-case",
        True,
    )
    packet = marit.packets.reply(packet.number, "For the new branch.", case=second)
    assert packet.messages[-1].case == "north-2 general cores", "it says to which case it goes"
    assert (packet.turn, [m.asks and not m.answered for m in packet.messages].count(True)) == (
        "ours",
        1,
    )
    until(lambda: desk.case(second)["thread"][-1]["message"] == "For the new branch.")
    assert marit.packets.follow(packet.number).turn == "ours", "the other case still waits for us"
    marit.packets.reply(packet.number, "For the same.")
    until(lambda: desk.case(first)["thread"][-1]["message"] == "For the same.")


def higher_level(marit: SealPacket) -> PacketShown:
    """A packet that asks for a higher level of service, lodged."""
    packet = marit.packets.note("A higher level", "", asset=ACCOUNT, need="change")
    marit.packets.answer(
        packet.number, level="extended", from_day=SOON, purpose="The branch at Mill Green opens.", terms="yes",
    )  # fmt: skip
    return lodge(marit, packet.number)


@pytest.fixture
def level_asked(marit: SealPacket, desk: Standin) -> PacketShown:
    """A higher level of service is asked for, and granted."""
    lodged = higher_level(marit)
    desk.steer(case=lodged.reference, state="granted")
    return marit.packets.follow(lodged.number)


def test_a_granted_level_enters_the_register_from_its_day_and_is_undone(
    marit: SealPacket, teo: SealPacket, level_asked: PacketShown
) -> None:
    number = level_asked.number
    (offered,) = level_asked.consequences
    assert (offered.record, offered.field, offered.value) == (
        "entitlement",
        "level",
        "Extended care",
    )
    assert (offered.state, str(offered.from_on)) == ("offered", SOON)
    assert number in [one.packet for one in teo.packets.consequences()]
    with pytest.raises(Refused, match="needs the role keeper"):
        teo.packets.take_consequence(number, offered.id)
    before = marit.entitlements.get(offered.handle)
    assert before.level == offered.now

    taken = marit.packets.take_consequence(number, offered.id).consequences[0]
    assert (taken.state, taken.now, taken.decided_by) == ("taken", "Extended care", "marit")
    later = marit.entitlements.get(taken.handle)
    assert (later.level, str(later.starts_on)) == ("Extended care", SOON)
    same = marit.entitlements.get(before.id)
    assert (same.level, str(same.replaced_on)) == (before.level, SOON), "until then it stays"
    assert number not in [one.packet for one in marit.packets.consequences()]
    with pytest.raises(Refused, match="It is taken"):
        marit.packets.take_consequence(number, offered.id)

    undone = marit.packets.undo_consequence(number, offered.id).consequences[0]
    assert (undone.state, undone.now) == ("undone", before.level)
    again = marit.packets.take_consequence(number, offered.id).consequences[0]
    marit.entitlements.change(
        again.handle, marit.entitlements.get(again.handle).version, level="Own words"
    )
    with pytest.raises(Refused, match="was changed after it was taken"):
        marit.packets.undo_consequence(number, offered.id)
    marit.entitlements.change(
        again.handle, marit.entitlements.get(again.handle).version, level=before.level
    )


def test_it_is_offered_once_and_can_be_left(
    marit: SealPacket, desk: Standin, level_asked: PacketShown
) -> None:
    (offered,) = level_asked.consequences
    left = marit.packets.dismiss_consequence(level_asked.number, offered.id)
    assert left.consequences[0].state == "dismissed"
    desk.steer(case=level_asked.reference, say="It is ordered.")
    assert len(marit.packets.follow(level_asked.number).consequences) == 1
    back = marit.packets.undo_consequence(level_asked.number, offered.id)
    assert back.consequences[0].state == "offered"
    with pytest.raises(Refused, match="no such change"):
        marit.packets.take_consequence(level_asked.number, "nothing")


def test_what_is_declined_changes_nothing(marit: SealPacket, desk: Standin) -> None:
    lodged = higher_level(marit)
    desk.steer(case=lodged.reference, state="declined", say="Not for this account.")
    assert marit.packets.follow(lodged.number).consequences == []
