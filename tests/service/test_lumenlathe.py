"""Lumenlathe's desk: a mail of a fixed form with one zip, and answers by mail to an address that nobody can guess."""

from __future__ import annotations

import smtplib
import zipfile
from email import message_from_bytes, policy
from email.message import EmailMessage
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets.inbound_mail.take import MAILS_AN_HOUR
from sealpacket.services.packets.lodge.reply_addresses import reply_address
from sealpacket.settings import Settings
from tests.conftest import Standin, add, lodge, stops, until

VENDOR = "lumenlathe"
KIOSK = "LK40-7731-0929"
NOTE = "Since opening time the card reader is dead and nobody can borrow; nothing was changed, a restart was tried."
ANSWERS = {"error_code": "E417", "enter": "yes", "since": "2026-11-23T08:40+00:00"}


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    """A packet about a kiosk with all that the desk wants to know."""
    return prepared(marit)


def prepared(marit: SealPacket) -> PacketShown:
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
    assert case["fields"]["address"] == "88 Harrow Road\nHarrow Road QM1 7HR"
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


def test_a_question_about_a_contract_asks_for_no_fault(marit: SealPacket) -> None:
    noted = marit.packets.note(
        "Is the statement right?",
        "The statement lists a kiosk that went back.",
        asset=KIOSK,
        need="question",
    )
    wanted = " ".join(check.sentence for check in noted.checks if check.level != "pass")
    assert "error code" not in wanted
    assert "May the engineer" not in wanted
    assert not any(check.code.startswith("evidence") for check in noted.checks)


def test_it_asks_is_answered_sends_a_part_and_closes(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    desk.steer(case=packet.reference, ask="Does the light of the reader blink?")
    asked = until(lambda: (p := marit.packets.get(packet.number)).turn == "ours" and p)
    assert (asked.messages[-1].text, asked.messages[-1].asks) == (
        "Does the light of the reader blink?",
        True,
    )
    assert asked.messages[-1].mail, "the mail is kept as it came"
    marit.packets.reply(packet.number, "It blinks red, three times.")
    until(lambda: any("blinks red" in said for said in desk.case(packet.reference)["heard"]))
    desk.steer(case=packet.reference, ship="MF-99-1204")
    until(
        lambda: (
            marit.packets.get(packet.number).cases[0].desk_facts.get("Tracking number")
            == "MF-99-1204"
        )
    )
    for state, life in (("SOLVED", "answered"), ("CLOSED", "settled")):
        desk.steer(case=packet.reference, state=state)
        until(lambda life=life: marit.packets.get(packet.number).life == life)


def test_the_mail_is_kept_whole(
    marit: SealPacket, desk: Standin, ready: PacketShown, tmp_path: Path
) -> None:
    packet = taken(marit, ready.number)
    target = marit.packets.fetch_mail(
        packet.number, packet.messages[0].id, tmp_path / "as-it-came.eml"
    )
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
    for made_up in (
        address,
        "cases@quillmere.example",
        "marit.oswin@quillmere.example",
        "cases+p-1.b@x.example",
    ):
        with (
            smtplib.SMTP("127.0.0.1", house.gate_port, timeout=10) as gate,
            pytest.raises(smtplib.SMTPRecipientsRefused),
        ):
            gate.sendmail(
                "care@lumenlathe.example", [made_up], b"Subject: x\r\n\r\nStatus: CLOSED\r\n"
            )


def test_while_the_house_is_away_the_desk_tries_again(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    house.end("mail gate")
    desk.steer(case=packet.reference, ask="Are you there?")
    house.begin("mail gate")
    until(lambda: marit.packets.get(packet.number).turn == "ours")


def test_a_desk_that_takes_no_mail_is_tried_again(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    desk.steer(down=True)
    marit.packets.seal(ready.number)
    marit.packets.lodge(ready.number)
    until(lambda: "mail server does not take" in marit.packets.get(ready.number).lodge_status_text)
    desk.steer(down=False)
    until(lambda: marit.packets.get(ready.number).reference)


def test_a_mailbox_that_nobody_reads_stops_it(marit: SealPacket, ready: PacketShown) -> None:
    login = next(one for one in marit.logins.list() if one.name == "branches@quillmere.example")
    changed = marit.logins.change(login.id, login.version, mailbox_read=False)
    try:
        assert "mailbox-read" in stops(marit.packets.get(ready.number))
    finally:
        marit.logins.change(login.id, changed.version, mailbox_read=True)


def written_to(
    house: RunningHouse, packet: PacketShown, text: bytes, sender: str = "care@lumenlathe.example"
) -> None:
    """A mail to the packet's own address."""
    opened = AppContext(Settings(**settings_of(house)), lambda *_args, **_more: None)
    address = reply_address(opened, packet.number)
    with smtplib.SMTP("127.0.0.1", house.gate_port, timeout=10) as gate:
        gate.sendmail(sender, [address], text)


def settings_of(house: RunningHouse) -> dict[str, str]:
    known = house.environment()
    names = ("DATABASE_URL", "KEY_FILE", "SEAL_KEY_FILE", "BLOBS", "MAIL_GATE")
    return {name.lower(): known[f"SEALPACKET_{name}"] for name in names}


def test_free_words_of_the_desk_wait_for_us(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    head = b"From: Pat Care <pat@lumenlathe.example>\r\nSubject: Kiosk\r\n"
    written_to(
        house, packet, head + b"\r\nWhich firmware does the kiosk run? We can come on Tuesday.\r\n"
    )
    asked = marit.packets.get(packet.number)
    assert (asked.turn, asked.messages[-1].asks, asked.messages[-1].stranger) == (
        "ours",
        True,
        False,
    )
    assert asked.messages[-1].sender == "Pat Care <pat@lumenlathe.example>"
    assert packet.number in [one.number for one in marit.today().ours]


def test_mails_without_an_id_are_all_kept_and_repetitions_once(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    before = sum(1 for path in (house.folder / "blobs").rglob("*") if path.is_file())
    for words in (b"first", b"second", b"first", b"first"):
        written_to(
            house, packet, b"From: care@lumenlathe.example\r\nSubject: x\r\n\r\n" + words + b"\r\n"
        )
    texts = [message.text for message in marit.packets.get(packet.number).messages]
    assert (texts.count("first"), texts.count("second")) == (1, 1)
    after = sum(1 for path in (house.folder / "blobs").rglob("*") if path.is_file())
    assert after == before + 2, "a repetition leaves no file behind"


def test_a_mail_of_somebody_else_changes_nothing_and_is_told(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    written_to(
        house,
        packet,
        b"From: care@evil.example\r\nSubject: x\r\n\r\nStatus: CLOSED\r\n\r\nAll done.\r\n",
    )
    after = marit.packets.get(packet.number)
    assert (after.life, after.turn) == ("lodged", "ours")
    assert (after.messages[-1].stranger, after.messages[-1].sender) == (True, "care@evil.example")


def test_a_folded_reference_is_one_line_and_answers_still_go(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    marit.packets.seal(ready.number)
    desk.steer(mute=True)
    marit.packets.lodge(ready.number)
    packet = marit.packets.wait(ready.number)
    body = b"From: care@lumenlathe.example\r\n\r\nCase: LL-55012\r\n  Bcc: evil@evil.example\r\nStatus: OPEN\r\n\r\nHello\r\n"
    written_to(house, packet, body)
    packet = marit.packets.get(ready.number)
    assert packet.reference == "LL-55012 Bcc: evil@evil.example"
    marit.packets.reply(packet.number, "Thank you.")
    assert until(lambda: marit.packets.get(packet.number).messages[-1].sent)
    assert last_mail(house)["Bcc"] is None


def test_more_mails_than_a_desk_writes_have_to_come_later(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown
) -> None:
    packet = taken(marit, ready.number)
    with pytest.raises(smtplib.SMTPDataError) as caught:
        for number in range(MAILS_AN_HOUR + 1):
            written_to(house, packet, b"From: care@lumenlathe.example\r\n\r\nmail %d\r\n" % number)
    assert caught.value.smtp_code == 451
    desk.steer(case=packet.reference, state="SOLVED")
    assert taken(marit, prepared(marit).number).reference, "one mail that waits holds up no other"
    assert marit.packets.get(packet.number).desk_status == "OPEN"
