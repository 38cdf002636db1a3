"""Lumenlathe's desk: a mail of a fixed form with one zip, and answers by mail to an address that nobody can guess."""

from __future__ import annotations

import smtplib
import zipfile
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests.conftest import Standin, add, lodge, stops, until

VENDOR = "lumenlathe"
KIOSK = "LK40-7731-0929"
NOTE = "Since opening time the card reader is dead and nobody can borrow; nothing was changed, a restart was tried."
ANSWERS = {"error_code": "E417", "enter": "yes", "since": "2026-11-23T08:40+00:00"}


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    """A packet about a kiosk with all that the desk wants to know."""
    packet = marit.packets.note("Card reader of the kiosk is dead", NOTE, asset=KIOSK)
    return marit.packets.answer(packet.number, **ANSWERS)


def taken(marit: SealPacket, number: str) -> PacketShown:
    """Lodged, and its reference has come by mail."""
    lodge(marit, number)
    return until(lambda: (packet := marit.packets.get(number)).reference and packet)


def last_mail(house: RunningHouse) -> EmailMessage:
    path = max(house.mail_folder.glob("*.eml"))
    message = message_from_bytes(path.read_bytes(), policy=policy.default)
    assert isinstance(message, EmailMessage)
    return message


def test_a_packet_goes_as_one_mail_with_one_zip_and_its_reference_comes_back(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown, tmp_path: Path
) -> None:
    assert stops(ready) == []
    typed = [question.id for question in ready.questions if question.answer.typed]
    assert len(typed) <= 5, "the rest is known"
    add(
        marit,
        ready.number,
        tmp_path / "service.log",
        b"08:40 E417 reader gone\na.reader@quillmere.example was there\n" * 50,
    )
    add(marit, ready.number, tmp_path / "more.txt", b"nothing else\n")
    packet = taken(marit, ready.number)
    assert (packet.life, packet.turn, (packet.reference or "")[:3]) == ("lodged", "vendor", "LL-")
    case = desk.case(packet.reference)
    assert case["from"] == "branches@quillmere.example"
    assert case["fields"]["serial"] == KIOSK
    assert case["fields"]["address"] == "3 Kettle Wharf\nKettle Wharf QM3 1KW" or "\n" in case["fields"]["address"]
    assert case["files"] == [f"{packet.number}-{KIOSK}.zip"]
    mail = last_mail(house)
    assert str(mail["Subject"]) == f"LL-CARE / LK-40 / {KIOSK} / E417"
    assert "+p-" in str(mail["Reply-To"])
    part = next(mail.iter_attachments())
    path = tmp_path / "sent.zip"
    content = part.get_content()
    path.write_bytes(content)
    with zipfile.ZipFile(path) as archive:
        assert archive.namelist() == ["service.log", "more.txt"]
        assert b"a.reader@" not in archive.read("service.log")


def test_it_asks_is_answered_sends_a_part_and_closes(marit: SealPacket, desk: Standin, ready: PacketShown) -> None:
    packet = taken(marit, ready.number)
    desk.steer(case=packet.reference, ask="Does the light of the reader blink?")
    asked = until(lambda: (p := marit.packets.get(packet.number)).turn == "ours" and p)
    assert (asked.messages[-1].text, asked.messages[-1].asks) == ("Does the light of the reader blink?", True)
    assert asked.messages[-1].mail, "the mail is kept as it came"
    marit.packets.reply(packet.number, "It blinks red, three times.")
    until(lambda: any("blinks red" in said for said in desk.case(packet.reference)["heard"]))
    desk.steer(case=packet.reference, ship="MF-99-1204")
    until(lambda: marit.packets.get(packet.number).told.get("Tracking number") == "MF-99-1204")
    for state, life in (("SOLVED", "answered"), ("CLOSED", "settled")):
        desk.steer(case=packet.reference, state=state)
        until(lambda life=life: marit.packets.get(packet.number).life == life)


def test_the_mail_is_kept_whole(marit: SealPacket, desk: Standin, ready: PacketShown, tmp_path: Path) -> None:
    packet = taken(marit, ready.number)
    target = marit.packets.fetch_mail(packet.number, packet.messages[0].id, tmp_path / "as-it-came.eml")
    assert b"Case: LL-" in target.read_bytes()


def test_a_mail_that_is_not_taken_is_a_refusal_with_a_cure(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    desk.steer(refuse="unknown_serial")
    lodge(marit, ready.number)
    packet = until(lambda: (p := marit.packets.get(ready.number)).life == "refused" and p)
    assert (packet.refusals[0].code, packet.refusals[0].act) == ("unknown_serial", "mend_asset")
    marit.packets.reopen(packet.number)
    marit.packets.answer(packet.number, error_code="E418")
    again = taken(marit, packet.number)
    assert desk.case(again.reference)["fields"]["error code"] == "E418"


def test_the_gate_takes_only_what_has_the_packets_own_address(
    marit: SealPacket, house: RunningHouse, ready: PacketShown
) -> None:
    address = f"cases+{ready.number.lower()}.aaaaaaaaaaaaaaaa@quillmere.example"
    for made_up in (address, "cases@quillmere.example", "marit.oswin@quillmere.example", "cases+p-1.b@x.example"):
        with (
            smtplib.SMTP("127.0.0.1", house.gate_port, timeout=10) as gate,
            pytest.raises(smtplib.SMTPRecipientsRefused),
        ):
            gate.sendmail("care@lumenlathe.example", [made_up], b"Subject: x\r\n\r\nStatus: CLOSED\r\n")


def test_while_the_house_is_away_the_desk_tries_again(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    house.end("mail gate")
    desk.steer(case=packet.reference, ask="Are you there?")
    house.begin("mail gate")
    until(lambda: marit.packets.get(packet.number).turn == "ours")


def test_a_desk_that_takes_no_mail_is_tried_again(marit: SealPacket, desk: Standin, ready: PacketShown) -> None:
    desk.steer(down=True)
    marit.packets.seal(ready.number)
    marit.packets.lodge(ready.number)
    until(lambda: "mail server does not take" in marit.packets.get(ready.number).lodge_words)
    desk.steer(down=False)
    until(lambda: marit.packets.get(ready.number).reference)


def test_a_mailbox_that_nobody_reads_stops_it(marit: SealPacket, ready: PacketShown) -> None:
    login = next(one for one in marit.logins.list() if one.name == "branches@quillmere.example")
    changed = marit.logins.change(login.id, login.version, mailbox_read=False)
    try:
        assert "mailbox-read" in stops(marit.packets.get(ready.number))
    finally:
        marit.logins.change(login.id, changed.version, mailbox_read=True)
