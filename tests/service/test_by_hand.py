"""Desks that a person reaches: a web form, a hotline, and any vendor that nobody has described."""

from __future__ import annotations

from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from tests.conftest import add, stops

LIFT, TELEPHONES = "TB-2207-C", "CW2-88104"
NOTE = "The lift at Quay Street stops a hand's breadth above the first floor since this morning."
MAIL = b"""From: Thornbeck service <service@thornbeck.example>
To: ines.harrowgate@quillmere.example
Subject: Order 26/40311
Message-ID: <77-1@thornbeck.example>
Date: Fri, 27 Nov 2026 10:12:00 +0000

Good morning, could you tell us the code for the machine room? A fitter comes at 14:00.
"""


@pytest.fixture
def lift(marit: SealPacket, tmp_path: Path) -> PacketShown:
    """A sealed packet about a lift."""
    packet = marit.packets.note("Lift stops beside the floor", NOTE, asset=LIFT)
    marit.packets.answer(
        packet.number, inside="no", state="level", since="2026-11-20T07:40+00:00", caller="ines"
    )
    packet = add(
        marit, packet.number, tmp_path / "display.txt", b"display shows E31 at 10.40.3.7\n"
    )
    assert stops(packet) == []
    return marit.packets.seal(packet.number)


def entered(marit: SealPacket, packet: PacketShown, reference: str) -> PacketShown:
    marit.packets.lodge(packet.number)
    return marit.packets.enter_reference(packet.number, reference)


def test_nobody_looks_at_a_desk_that_is_reached_by_hand(
    marit: SealPacket, lift: PacketShown
) -> None:
    packet = entered(marit, lift, "26/40399")
    with pytest.raises(Refused) as refused:
        marit.packets.follow(packet.number)
    assert refused.value.code == "by-hand"
    assert "as a reply of the desk's" in refused.value.remedy


def test_an_unknown_vendor_is_told_when_it_began_and_what_was_tried(marit: SealPacket) -> None:
    noted = marit.packets.note(
        "The dock does not charge", began_at=datetime(2026, 11, 20, 16, 30, tzinfo=UTC)
    )
    marit.packets.name_unlisted(noted.number, vendor="Alder Docks", model="D7", serial="AD7-1")
    packet = marit.packets.get(noted.number)
    marit.packets.tried(packet.number, "Another cable", "no change")
    said = {one.id: one.answer.value or "" for one in marit.packets.get(packet.number).questions}
    assert said["since"].startswith("2026-11-20T16:30")
    assert "Another cable: no change" in said["tried"]


def test_a_form_is_entered_field_by_field(marit: SealPacket, lift: PacketShown) -> None:
    waiting = marit.packets.lodge(lift.number)
    assert (waiting.by_hand, waiting.lodge_state, waiting.turn) == (True, "by_hand", "ours")
    assert waiting.status_text == "To be entered by hand"
    guide = marit.packets.hand_guide(lift.number)
    assert [one.label for one in guide.cases[0].fields] == [
        "Unit number", "Building", "Condition", "Anybody inside", "Since (day)", "Since (time)", "Report",
        "Your name", "Your telephone",
    ]  # fmt: skip
    values = {one.label: one.value for one in guide.cases[0].fields}
    assert values["Condition"] == "It stops beside the floor", "by its label"
    assert values["Since (day)"] == "2026-11-20"
    assert [(one.name, one.exhibit) for one in guide.files] == [("display.txt", "display.txt")]
    ticked = marit.packets.tick_field(lift.number, "Building")
    assert [one.label for one in ticked.cases[0].fields if one.entered] == ["Building"]
    ticked = marit.packets.tick_field(lift.number, "Building", done=False)
    assert not any(one.entered for one in ticked.cases[0].fields)
    with pytest.raises(Refused):
        marit.packets.tick_field(lift.number, "Colour")
    with pytest.raises(Refused, match="has been changed since"):
        marit.packets.tick_field(lift.number, "Building", version=1)


def test_a_reference_is_checked_against_its_form(marit: SealPacket, lift: PacketShown) -> None:
    marit.packets.lodge(lift.number)
    with pytest.raises(Refused) as caught:
        marit.packets.enter_reference(lift.number, "40311")
    assert (caught.value.code, "26/40311" in caught.value.detail) == ("reference-form", True)
    at = datetime.now(UTC) - timedelta(hours=1)
    packet = marit.packets.enter_reference(lift.number, " 26/40001 ", at=at, spoke_to="the page")
    assert (packet.life, packet.reference, packet.turn) == ("lodged", "26/40001", "vendor")
    assert packet.lodged_at == at


def test_a_reference_is_used_once(marit: SealPacket, lift: PacketShown) -> None:
    entered(marit, lift, "26/40002")
    other = marit.packets.note("Lift stops again", NOTE, asset="TB-2211-A")
    marit.packets.answer(
        other.number, inside="no", state="level", since="2026-11-20T07:40+00:00", caller="ines"
    )
    marit.packets.seal(other.number)
    with pytest.raises(Refused) as caught:
        entered(marit, other, "26/40002")
    assert (caught.value.code, lift.number in caught.value.detail) == ("reference-used", True)


def test_answers_come_as_mail_or_words_and_count_once(
    marit: SealPacket, lift: PacketShown, tmp_path: Path
) -> None:
    packet = entered(marit, lift, "26/40003")
    (tmp_path / "answer.eml").write_bytes(MAIL)
    asked = marit.packets.take_reply(packet.number, file=tmp_path / "answer.eml")
    assert (asked.turn, asked.messages[-1].how) == ("ours", "hand")
    assert asked.messages[-1].by == "Thornbeck service <service@thornbeck.example>"
    assert "machine room" in asked.status_text
    again = marit.packets.take_reply(packet.number, file=tmp_path / "answer.eml")
    assert len(again.messages) == len(asked.messages)
    told = marit.packets.take_reply(
        packet.number, "The fitter was here.", by="Thornbeck", asks=False
    )
    assert [one.asks for one in told.messages] == [True, False]


def test_what_is_told_waits_until_somebody_has_passed_it_on(
    marit: SealPacket, lift: PacketShown
) -> None:
    packet = entered(marit, lift, "26/40004")
    after = marit.packets.comment(packet.number, "The door code is with Ines.")
    assert (after.turn, after.messages[-1].sent, after.messages[-1].how) == ("ours", False, "hand")
    after = marit.packets.pass_on(packet.number, after.messages[-1].id)
    assert (after.turn, after.messages[-1].sent) == ("vendor", True)
    over = marit.packets.settle(packet.number, cause="A worn switch", cure="It was replaced")
    assert (over.life, over.cure) == ("settled", "It was replaced")


def test_a_call_has_its_script(marit: SealPacket, cli: Callable[..., str]) -> None:
    packet = marit.packets.note(
        "Nobody can be called", "All telephones at the book store are silent.", asset=TELEPHONES
    )
    packet = marit.packets.answer(
        packet.number, extension="2100-2149", since="2026-11-20T07:40+00:00", caller="teo"
    )
    assert stops(packet) == []
    marit.packets.seal(packet.number)
    marit.packets.lodge(packet.number)
    guide = marit.packets.hand_guide(packet.number)
    assert (guide.by, guide.cases[0].opening) == (
        "telephone",
        "This is Quillmere County Libraries, customer CW-5120. I report a fault of our telephone system.",
    )
    system = next(one for one in guide.cases[0].fields if one.label == "System")
    assert system.spelled == "Charlie Whiskey two dash eight eight one zero four"
    assert guide.passcode_of == ""
    contract = marit.contracts.get("CW-5120")
    marit.contracts.change(contract.id, contract.version, passcode="heron-7-dusk")
    guide = marit.packets.hand_guide(packet.number)
    assert guide.passcode_of == contract.id
    assert "heron" not in guide.model_dump_json(), "it is shown on request"
    assert marit.contracts.passcode(guide.passcode_of) == "heron-7-dusk"
    said = cli("packet", "hand", packet.number)
    assert f"sealpacket contract passcode {contract.id}" in "".join(said.split("\n"))
    assert marit.packets.enter_reference(packet.number, "CW40718").life == "lodged"


def test_a_vendor_without_a_sheet_is_no_dead_end(marit: SealPacket) -> None:
    marit.vendors.add(key="wickham", name="Wickham Blinds")
    marit.products.add(vendor="wickham", part_number="WB-1", name="Blind")
    marit.assets.add(
        vendor="wickham", product="WB-1", serial="WB-100", name="Blind", site="quay-street"
    )
    packet = marit.packets.note(
        "The blind is stuck", "It does not move since Monday.", asset="WB-100"
    )
    assert (packet.desk, packet.by_hand, stops(packet)) == ("wickham-by-hand", True, [])
    marit.packets.seal(packet.number)
    marit.packets.lodge(packet.number)
    labels = [one.label for one in marit.packets.hand_guide(packet.number).cases[0].fields]
    assert labels[:3] == ["Subject", "Serial number", "Model"]
    assert marit.packets.enter_reference(packet.number, "anything 17").reference == "anything 17"


def test_a_desk_with_a_machine_has_no_guide(marit: SealPacket, sealed: PacketShown) -> None:
    with pytest.raises(Refused) as caught:
        marit.packets.hand_guide(sealed.number)
    assert caught.value.code == "not-by-hand"
