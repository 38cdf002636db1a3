"""Saddlewick's desk: a filled form and a packing list by SFTP; its papers bring the RMA and the tracking number."""

from __future__ import annotations

from concurrent.futures import ThreadPoolExecutor
from datetime import UTC, date, datetime, timedelta
from pathlib import Path

import pytest
from pypdf import PdfReader

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import Standin, add, lodge, stops, until

VENDOR = "saddlewick"
UPS = "SW3K-70455"
NOTE = "Since the power cut of Sunday the battery alarm is on; nothing was changed, a self-test was tried and failed."
SHIPPED = datetime.now(UTC).date() - timedelta(days=200)
ANSWERS = {
    "what": "battery",
    "since": "2026-11-22",
    "load": "2 kVA",
    "goods": "Battery SB-12 | 4 | 24",
    "safe": "yes",
}


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    """A claim for a battery within warranty."""
    packet = marit.packets.note("Battery of the UPS alarms", NOTE, asset=UPS, need="return")
    return marit.packets.answer(packet.number, **ANSWERS)


def acknowledged(marit: SealPacket, number: str) -> PacketShown:
    """Lodged, and its acknowledgement is picked up."""
    lodge(marit, number)
    return picked_up(marit, number)


def picked_up(marit: SealPacket, number: str) -> PacketShown:
    """What the desk says of a packet that is on its way, as soon as it says something."""

    def look() -> PacketShown | None:
        packet = (
            marit.packets.follow(number)
            if marit.packets.get(number).life in ("lodged", "answered")
            else None
        )
        packet = packet or marit.packets.get(number)
        return packet if packet.reference or packet.life == "refused" else None

    return until(look)  # type: ignore[return-value]


def test_a_claim_goes_as_form_and_list_and_comes_back_with_its_rma(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown, tmp_path: Path
) -> None:
    assert stops(ready) == []
    assert ready.ruling is not None and ready.ruling.route == "warranty"
    assert sum(question.answer.typed for question in ready.questions) <= 5
    add(marit, ready.number, tmp_path / "alarm.log", b"battery alarm on hr-ups.quillmere.example\n")
    packet = acknowledged(marit, ready.number)
    assert (packet.reference or "")[:4] == "RMA-"
    assert packet.cases[0].desk_facts["RMA number"] == packet.reference
    claim = desk.case(packet.number)
    assert (claim["fields"]["Serial"], claim["fields"]["Safe"], claim["fields"]["Return"]) == (
        UPS,
        "Yes",
        "battery",
    )
    assert claim["rows"] == [
        {"Line": "1", "Part": "Battery SB-12", "Serial": UPS, "Quantity": "4", "Weight kg": "24"}
    ]
    left = house.folder / "standins/saddlewick/files/in"
    assert b"quillmere" not in (left / f"{packet.number}_1.log").read_bytes()
    assert not list(left.glob(".*.part"))


def test_a_question_an_answer_and_a_parcel(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = acknowledged(marit, ready.number)
    desk.steer(case=packet.number, ask="Is it the upper or the lower tray?")
    asked = marit.packets.follow(packet.number)
    assert (asked.turn, asked.messages[-1].asks) == ("ours", True)
    marit.packets.reply(packet.number, "The upper one.")
    until(lambda: "The upper one." in desk.case(packet.number)["heard"].values())
    desk.steer(case=packet.number, ship="MF-77-0031")
    sent = marit.packets.follow(packet.number)
    facts = sent.cases[0].desk_facts
    assert (sent.life, facts["Carrier"], facts["Tracking number"]) == (
        "answered",
        "Marram Freight",
        "MF-77-0031",
    )
    desk.steer(case=packet.number, state="CLOSED")
    assert marit.packets.follow(packet.number).life == "settled"


def test_a_replacement_is_checked_by_its_label_and_swapped_in_one_step(
    marit: SealPacket, teo: SealPacket, desk: Standin, tmp_path: Path
) -> None:
    marit.assets.add(
        vendor=VENDOR, product="SP-3000", serial="SW3K-71001", site="book-store", shipped_on=SHIPPED
    )
    draft = marit.packets.note("The UPS is dead", NOTE, need="return", asset="SW3K-71001")
    marit.packets.answer(draft.number, **ANSWERS)
    packet = acknowledged(marit, draft.number)
    desk.steer(case=packet.number, ship="MF-77-0032", serial="SW3K-90112", return_by="2026-12-20")
    told = marit.packets.follow(packet.number).told_of_shipment
    assert (told.serial, told.return_by) == ("SW3K-90112", date(2026, 12, 20))

    number = packet.number
    sent = marit.packets.note_shipment(number, "to_us", "The new UPS")
    marit.packets.note_shipment(
        number, "to_vendor", "The dead UPS", late_cost_minor=24000, currency="GBP"
    )
    unit, back = sorted(marit.packets.get(number).shipments, key=lambda one: one.way)
    assert sent.shipments[0].tracking == "MF-77-0032"
    assert (back.due_on, back.late_cost_minor) == (date(2026, 12, 20), 24000)

    def refused(label: str, code: str, client: SealPacket = marit, which: str = unit.id) -> None:
        with pytest.raises(Refused) as caught:
            client.packets.receive_unit(which, label)
        assert caught.value.code == code
        assert not any(one.arrived_on for one in marit.packets.get(number).shipments)
        assert marit.assets.get("SW3K-71001").status != "retired"

    refused("SW3K-90113", "other-unit")
    refused("SW3K-71001", "other-unit")
    refused("https://example.test/", "invalid")
    refused("SW3K-90112", "invalid", which=back.id)
    refused("SW3K-90112", "not-allowed", teo)
    swapped = marit.packets.receive_unit(unit.id, "SN:SW3K-90112;PN:SP-3000")
    assert next(one for one in swapped.shipments if one.id == unit.id).arrived_on
    assert marit.assets.get("SW3K-71001").status == "retired"
    assert marit.coverage("SW3K-90112", "return").route == "warranty"
    with pytest.raises(Refused, match="It arrived on"):
        marit.packets.receive_unit(unit.id, "SW3K-90112")
    arrived = [x for x in marit.custody(f"packet {number}") if x.action == "shipment arrived"]
    assert [(x.detail["old"], x.detail["new"]) for x in arrived] == [("SW3K-71001", "SW3K-90112")]


def test_a_paper_that_several_pick_up_at_once_is_read_once(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = acknowledged(marit, ready.number)
    for tray in ("upper", "middle", "lower"):
        desk.steer(case=packet.number, ask=f"Is it the {tray} tray?")
        with ThreadPoolExecutor(6) as several:
            seen = list(several.map(marit.packets.follow, [packet.number] * 6))
        assert {one.turn for one in seen} == {"ours"}
    asked = [message.text for message in marit.packets.get(packet.number).messages if message.asks]
    assert asked == [f"Is it the {tray} tray?" for tray in ("upper", "middle", "lower")]


def test_a_support_case_would_be_the_wrong_way(marit: SealPacket) -> None:
    old = marit.packets.note("Battery of the UPS alarms", NOTE, asset="SW3K-61008")
    assert "wrong-route" in stops(old), "its warranty has ended; support is no matter of this desk"


def test_without_the_consent_nothing_goes(marit: SealPacket, ready: PacketShown) -> None:
    from sealpacket.client import Refused

    with pytest.raises(Refused, match="Without this consent"):
        marit.packets.answer(ready.number, safe="no")


def test_a_refusal_is_picked_up_and_mended(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    desk.steer(refuse="not_safe")
    packet = acknowledged(marit, ready.number)
    assert (packet.life, packet.refusals[0].code) == ("refused", "not_safe")
    marit.packets.reopen(packet.number)
    assert (acknowledged(marit, packet.number).reference or "")[:4] == "RMA-"


def test_a_server_with_another_host_key_gets_nothing(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    known = house.folder / "known_hosts"
    kept = known.read_text()
    known.write_text(
        kept.replace("ssh-ed25519 AAAA", "ssh-ed25519 AAAB") if "AAAB" not in kept else ""
    )
    try:
        marit.packets.seal(ready.number)
        marit.packets.lodge(ready.number)
        until(lambda: "host key" in marit.packets.get(ready.number).lodge_status_text)
        assert not (house.folder / f"standins/saddlewick/files/in/{ready.number}.pdf").exists()
    finally:
        known.write_text(kept)
    marit.packets.try_now(ready.number)
    assert picked_up(marit, ready.number).reference


def test_the_form_in_the_bag_is_the_one_that_went_out(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown, tmp_path: Path
) -> None:
    import zipfile

    packet = acknowledged(marit, ready.number)
    bag = marit.packets.fetch_bag(packet.number, tmp_path / "bag.zip")
    with zipfile.ZipFile(bag) as archive:
        name = next(n for n in archive.namelist() if n.endswith(f"written/{packet.number}.pdf"))
        sealed = archive.read(name)
    assert (
        sealed == (house.folder / f"standins/saddlewick/files/in/{packet.number}.pdf").read_bytes()
    )
    path = tmp_path / "form.pdf"
    path.write_bytes(sealed)
    assert (PdfReader(path).get_fields() or {})["Serial"]["/V"] == UPS


def test_a_fault_that_is_under_way_becomes_a_claim_with_its_answers_and_exhibits(
    marit: SealPacket, tmp_path: Path
) -> None:
    fault = marit.packets.note("Battery of the UPS alarms", NOTE, asset=UPS)
    marit.packets.answer(fault.number, since="2026-11-22", load="2 kVA")
    add(marit, fault.number, tmp_path / "self-test.log", b"self-test failed at 08:10\n")
    claim = marit.packets.claim(fault.number, "They want the battery back.")
    assert (claim.need, claim.follows, claim.desk_name) == (
        "return",
        fault.number,
        "Saddlewick claims",
    )
    assert claim.note.startswith("They want the battery back.")
    values = {one.id: one.answer.value for one in claim.questions}
    assert (values["since"], values["load"]) == ("2026-11-22", "2 kVA")
    claim = marit.packets.wait(claim.number)
    assert [(one.name, one.state) for one in claim.exhibits] == [("self-test.log", "ready")]
    assert marit.packets.get(fault.number).life == "drafting", "it goes on as it was"
    with pytest.raises(Refused, match="is a return already"):
        marit.packets.claim(claim.number)
