"""Limits, plans, and the packet that asks for more."""

from __future__ import annotations

from collections.abc import Callable
from datetime import date
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from tests.conftest import Standin, lodge, stops
from tests.some import SOON

VENDOR = "hollowmere"
ACCOUNT = "HM-204471"
PLAN = """count,size,resource,region,when
4,8,general cores,north-1,
6,16,general cores,north-2,north-1 lost
2,8,general cores,north-2,west-1 lost
"""


def test_a_plan_says_what_is_missing_and_what_to_ask_for(
    marit: SealPacket, cli: Callable[..., str], tmp_path: Path
) -> None:
    plan = marit.limits.plan_capacity("hollowmere", PLAN, headroom=10)
    lines = {(one.region, one.resource): one for one in plan.lines}
    first, second = lines["north-1", "general cores"], lines["north-2", "general cores"]
    assert (first.need, first.missing, first.ask) == (32, 26, 99)
    assert (second.need, second.when, second.ask) == (96, "north-1 lost", 106)
    assert not plan.fits
    assert "north-1 lost" in plan.purpose
    (tmp_path / "plan.csv").write_text(PLAN)
    said = cli("limit", "plan", str(tmp_path / "plan.csv"), "--vendor", "hollowmere")
    assert "north-1 lost" in said
    assert "For the desk" in said


def test_a_message_of_a_failed_start_is_read(marit: SealPacket) -> None:
    text = "north-1: general cores are exhausted. Limit: 64, usage: 60, requested: 16."
    plan = marit.limits.plan_capacity("hollowmere", text)
    assert (plan.read_as, [(one.need, one.missing) for one in plan.lines]) == (
        "message",
        [(16, 10)],
    )
    assert plan.said == [
        "The message tells a use of 60, and the register has 58: bring it up to date."
    ]


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("It did not start.", "names no limit"),
        ("count,resource\nmany,general cores", "“many” in count"),
        ("count,resource\n4,", "names no resource"),
    ],
)
def test_what_cannot_be_read_is_said(marit: SealPacket, text: str, said: str) -> None:
    with pytest.raises(Refused, match=said):
        marit.limits.plan_capacity("hollowmere", text)


def test_what_is_missing_is_asked_for_partly_granted_and_enters_the_register(
    marit: SealPacket, desk: Standin
) -> None:
    plan = marit.limits.plan_capacity("hollowmere", PLAN)
    wanted = [
        {"region": one.region, "resource": one.resource, "wanted": one.ask}
        for one in plan.lines
        if one.ask
    ]
    draft = marit.limits.ask_capacity(
        ACCOUNT, wanted, purpose=plan.purpose, by=date.fromisoformat(SOON)
    )
    assert stops(draft) == []
    assert not [check for check in draft.checks if check.level == "warn"]
    packet = lodge(marit, draft.number)
    assert [(one.was, one.wanted, one.state) for one in packet.limits] == [
        (0, 96, "asked"),
        (64, 90, "asked"),
    ]
    first, second = (case.reference for case in packet.cases)
    desk.steer(case=first, ask="Sixty four is what that region has for you.")
    desk.steer(case=first, state="granted", granted=64)
    desk.steer(case=second, state="declined")
    packet = marit.packets.follow(packet.number)
    assert [(one.granted, one.state) for one in packet.limits] == [(64, "partly"), (64, "declined")]
    assert packet.limits[0].reason == "Sixty four is what that region has for you."
    (offered,) = packet.consequences
    assert (offered.record, offered.name, offered.now, offered.value) == (
        "limit",
        "HM-204471/north-2/general cores",
        "0",
        "64",
    )
    marit.packets.take_consequence(packet.number, offered.id)
    limit = marit.limits.get(offered.handle)
    assert limit.granted == 64
    assert [change.field for change in marit.limits.history(limit.id).items[0].changes] == [
        "granted"
    ]
    asked = marit.limits.limit_requests(limit.called)
    assert (asked[0].packet, asked[0].state) == (packet.number, "partly")
    marit.packets.undo_consequence(packet.number, offered.id)
    assert marit.limits.get(offered.handle).granted == 0


def test_a_limit_that_is_named_wrongly_is_warned_of(marit: SealPacket) -> None:
    packet = marit.packets.note("Cores", "", asset=ACCOUNT, need="capacity")
    packet = marit.packets.answer(packet.number, wanted="north-1 | general cores | 48 | 160")
    (warned,) = [check for check in packet.checks if check.code == "limit-now"]
    assert "the register has 64" in warned.sentence


def test_a_limit_that_comes_into_the_register_later_takes_the_grant(
    marit: SealPacket, desk: Standin
) -> None:
    wanted = [{"region": "east-1", "resource": "addresses", "wanted": 8}]
    draft = marit.limits.ask_capacity(
        ACCOUNT, wanted, purpose="A third hall.", by=date.fromisoformat(SOON)
    )
    (hinted,) = [check for check in draft.checks if check.code == "limit-unknown"]
    assert (hinted.level, "addresses in east-1" in hinted.sentence) == ("hint", True)
    packet = lodge(marit, draft.number)
    marit.limits.add(
        vendor=VENDOR, provider=ACCOUNT, region="east-1", resource="addresses", granted=0
    )
    desk.steer(case=packet.cases[0].reference, state="granted")
    packet = marit.packets.follow(packet.number)
    (offered,) = packet.consequences
    taken = marit.packets.take_consequence(packet.number, offered.id)
    assert taken.consequences[0].state == "taken"
    assert marit.limits.get(offered.handle).granted == 8


def test_a_desk_that_takes_no_limits_is_said(marit: SealPacket) -> None:
    before = len(list(marit.packets.list()))
    with pytest.raises(Refused, match="takes no rows of limits"):
        marit.limits.ask_capacity(
            "TN9-44120-A", [{"region": "x", "resource": "y", "wanted": 1}], purpose="More."
        )
    assert len(list(marit.packets.list())) == before, "nothing is noted"
