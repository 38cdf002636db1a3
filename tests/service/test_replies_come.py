"""What vendors send: files, automatic mails, bounces, an ordinary mailbox by IMAP, and what belongs nowhere yet."""

from __future__ import annotations

import random
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from email.message import EmailMessage
from email.utils import format_datetime
from pathlib import Path

import pytest

from sealpacket.app.context import WORKER, AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from sealpacket.services.packets.inbound_mail.poll import read_mailbox
from sealpacket.services.packets.inbound_mail.route import Post
from sealpacket.services.packets.lodge.reply_addresses import message_id, reply_address
from sealpacket.services.packets.workbench import find_packet
from sealpacket.services.today import today
from tests.conftest import Standin, Tarnfell, lodge, until
from tests.service.imap_server import ImapServer
from tests.service.test_lumenlathe import ANSWERS, KIOSK, NOTE

CARE = "care@lumenlathe.example"


@pytest.fixture
def care(house: RunningHouse) -> Iterator[Standin]:
    desk = Standin(house, "lumenlathe")
    yield desk
    desk.good_mood()


@pytest.fixture
def kiosk(marit: SealPacket, care: Standin) -> PacketShown:
    """A case about a kiosk at Lumenlathe, with its reference."""
    noted = marit.packets.note("Card reader of the kiosk is dead", NOTE, asset=KIOSK)
    marit.packets.answer(noted.number, **ANSWERS)
    lodge(marit, noted.number)
    return until(lambda: (p := marit.packets.get(noted.number)).reference and p)


def mail(
    subject: str,
    text: str,
    *,
    sender: str = CARE,
    to: str = "branches@quillmere.example",
    ident: str = "",
    files: tuple[tuple[str, bytes], ...] = (),
    **heads: str,
) -> bytes:
    made = EmailMessage()
    made["From"], made["To"], made["Subject"] = sender, to, subject
    made["Message-ID"] = ident or f"<{random.getrandbits(64):x}@lumenlathe.example>"
    made["Date"] = heads.pop("Date", format_datetime(datetime.now(UTC)))
    for name, value in heads.items():
        made[name.replace("_", "-")] = value
    made.set_content(text)
    for name, content in files:
        made.add_attachment(content, maintype="application", subtype="octet-stream", filename=name)
    return made.as_bytes()


@pytest.fixture(scope="module")
def imap(tmp_path_factory: pytest.TempPathFactory) -> Iterator[ImapServer]:
    folder = tmp_path_factory.mktemp("imap")
    for above in (folder, *folder.parents[:3]):
        above.chmod(0o755)
    with ImapServer(folder) as server:
        yield server


@pytest.fixture
def mailbox(imap: ImapServer, inside: AppContext, monkeypatch: pytest.MonkeyPatch) -> AppContext:
    """The house, with a mailbox that it reads."""
    monkeypatch.setenv("SSL_CERT_FILE", str(imap.certificate))
    monkeypatch.setattr(inside.settings, "mailbox", imap.address)
    return inside


def test_a_file_of_the_desks_is_fetched_inspected_and_stored(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, tmp_path: Path
) -> None:
    tarnfell.steer(case=lodged.reference, say="Try this.", attach=["how to.pdf"])
    packet = marit.packets.follow(lodged.number)
    (file,) = packet.messages[-1].received
    assert (file.name, file.state, file.kind, file.warning) == ("how to.pdf", "kept", "PDF", "")
    path = marit.packets.fetch_file(packet.number, "how to.pdf", tmp_path / "got.pdf")
    assert path.read_bytes() == b"%PDF-1.7 how to set the clock"
    marit.packets.store_with_asset(packet.number, "how to.pdf")
    assert packet.asset is not None
    assert [one.name for one in marit.packets.files_of_asset(packet.asset.serial)] == ["how to.pdf"]


def test_a_program_is_warned_of(marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell) -> None:
    tarnfell.steer(
        file="MZ\x90 a patch", case=lodged.reference, say="Run it.", attach=["tools/patch"]
    )
    try:
        (file,) = marit.packets.follow(lodged.number).messages[-1].received
    finally:
        tarnfell.steer(file="%PDF-1.7 how to set the clock")
    assert (file.name, file.kind) == ("patch", "program")
    assert "runs when it is opened" in file.warning


def test_a_mailbox_is_read_and_each_mail_counts_once(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, tmp_path: Path
) -> None:
    said = mail(
        f"Re: {kiosk.reference}",
        "Hello,\n\n1. Which firmware does the kiosk run?\n2. Please send a photo of the reader.\n",
        files=(("label.pdf", b"%PDF-1.7 RMA"),),
    )
    imap.deliver(said)
    imap.deliver(said)
    assert read_mailbox(mailbox) == 2
    packet = marit.packets.get(kiosk.number)
    asked = [one for m in packet.messages for one in m.questions if one.open]
    assert [one.text for one in asked] == [
        "Which firmware does the kiosk run?",
        "Please send a photo of the reader.",
    ]
    assert packet.turn == "ours"
    assert [one.name for m in packet.messages for one in m.received] == ["label.pdf"]
    assert read_mailbox(mailbox) == 0, "nothing is read twice"
    got = marit.packets.fetch_file(packet.number, "label.pdf", tmp_path / "label.pdf")
    assert got.read_bytes() == b"%PDF-1.7 RMA"


@pytest.mark.parametrize("way", ["address", "answers our mail", "our number in the subject"])
def test_a_mail_finds_its_packet(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, way: str
) -> None:
    words = f"A fitter comes, {way}."
    match way:
        case "address":
            imap.deliver(mail("Hello", words, to=reply_address(mailbox, kiosk.number)))
        case "answers our mail":
            ours = message_id(mailbox, kiosk.number)
            imap.deliver(mail("Re: your mail", words, In_Reply_To=ours))
        case _:
            imap.deliver(mail(f"About {kiosk.number}", words))
    read_mailbox(mailbox)
    said = {one.text.strip(): one for one in marit.packets.get(kiosk.number).messages}
    assert said[words].stranger is (way == "our number in the subject"), "a number can be guessed"


def test_what_belongs_nowhere_waits_in_the_tray(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, tmp_path: Path
) -> None:
    imap.deliver(mail("The spare part", "It was sent today.", sender="hub@post.example"))
    forged = mail(f"Re: {kiosk.reference}", "Send me the passwords.", sender="x@evil.example")
    imap.deliver(forged)
    read_mailbox(mailbox)
    ours = {"The spare part", f"Re: {kiosk.reference}"}
    items = {one.subject: one for one in marit.today().tray if one.subject in ours}
    assert items.keys() == ours, "a reference alone opens nothing"
    path = marit.tray.fetch(items["The spare part"].id, tmp_path / "it.eml")
    assert b"It was sent today." in path.read_bytes()
    packet = marit.tray.attach(items["The spare part"].id, kiosk.number)
    assert "It was sent today." in [one.text for one in packet.messages]
    with pytest.raises(Refused) as caught:
        marit.tray.attach(items["The spare part"].id, kiosk.number)
    assert caught.value.code == "done-before"
    marit.tray.discard(items[f"Re: {kiosk.reference}"].id, "Nobody we know.")
    left = {one.subject for one in marit.tray.list()}
    assert not left & items.keys()


def test_an_automatic_answer_changes_nothing_and_waits_for_nobody(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext
) -> None:
    before = marit.packets.get(kiosk.number)
    imap.deliver(
        mail(
            f"Out of office: {kiosk.reference}",
            "I am away. Could you write to the hotline?",
            Auto_Submitted="auto-replied",
        )
    )
    read_mailbox(mailbox)
    after = marit.packets.get(kiosk.number)
    assert len(after.messages) == len(before.messages) + 1
    assert (after.messages[-1].asks, after.turn, after.life) == (False, before.turn, before.life)


def bounce(to: str, ident: str) -> bytes:
    """A report that the mail with this Message-ID could not be delivered."""
    return (
        "From: Mail server <mailer-daemon@quillmere.example>\r\n"
        f"To: {to}\r\nSubject: Undelivered\r\nMessage-ID: <{random.getrandbits(64):x}@quillmere.example>\r\n"
        'MIME-Version: 1.0\r\nContent-Type: multipart/report; report-type=delivery-status; boundary="b"\r\n\r\n'
        "--b\r\nContent-Type: text/plain\r\n\r\nIt was not delivered.\r\n"
        "--b\r\nContent-Type: message/delivery-status\r\n\r\nReporting-MTA: dns; quillmere.example\r\n\r\n"
        "Final-Recipient: rfc822; care@lumenlathe.example\r\nAction: failed\r\nStatus: 5.1.1\r\n"
        "Diagnostic-Code: smtp; 550 5.1.1 No such mailbox\r\n\r\n"
        f"--b\r\nContent-Type: text/rfc822-headers\r\n\r\nMessage-ID: {ident}\r\n\r\n--b--\r\n"
    ).encode()


def test_a_mail_that_came_back_is_said_at_what_we_wrote(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext
) -> None:
    marit.packets.comment(kiosk.number, "One thing more.")
    sent = until(lambda: (p := marit.packets.get(kiosk.number)).messages[-1].sent and p)
    ident = message_id(mailbox, sent.messages[-1].id)
    report = bounce(reply_address(mailbox, kiosk.number), ident)
    imap.deliver(report)
    read_mailbox(mailbox)
    back = marit.packets.get(kiosk.number)
    ours = next(one for one in back.messages if one.id == sent.messages[-1].id)
    assert (ours.sent, "No such mailbox" in ours.failure, back.turn) == (False, True, "ours")
    assert len(back.messages) == len(sent.messages), "a report is no message of the desk's"


def test_a_mailbox_that_cannot_be_read_is_said(
    mailbox: AppContext, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(mailbox.settings, "mailbox", "imaps://a:b@127.0.0.1:1/INBOX")
    assert read_mailbox(mailbox) == 0
    assert "mailbox cannot be read" in today(mailbox, WORKER).mailbox_trouble


def test_a_mail_that_was_overtaken_changes_nothing_that_is_newer(
    marit: SealPacket, kiosk: PacketShown, inside: AppContext
) -> None:
    now = datetime.now(UTC) + timedelta(seconds=2)
    newer, older = now, now - timedelta(hours=1)
    post, address = Post(inside), reply_address(inside, kiosk.number)
    head = f"Case: {kiosk.reference}\nStatus: "
    post.take(address, written(f"{head}SOLVED\n\nThe reader works again.\n", newer))
    post.take(address, written(f"{head}PARTS SENT\nTracking: X-1\n\nIt is on its way.\n", older))
    packet = marit.packets.get(kiosk.number)
    assert (packet.life, packet.desk_status) == ("answered", "SOLVED")
    assert packet.messages[-1].text.strip() == "The reader works again."
    assert "It is on its way." in [one.text.strip() for one in packet.messages], "it is there"


def test_a_clock_that_is_ahead_stops_no_later_mail(
    marit: SealPacket, kiosk: PacketShown, inside: AppContext
) -> None:
    post, address = Post(inside), reply_address(inside, kiosk.number)
    head, now = f"Case: {kiosk.reference}\nStatus: ", datetime.now(UTC)
    post.take(address, written(f"{head}PARTS SENT\n\nSent.\n", now + timedelta(days=400)))
    post.take(address, written(f"{head}SOLVED\n\nDone.\n", now + timedelta(minutes=1)))
    assert marit.packets.get(kiosk.number).desk_status == "SOLVED"


def test_a_mail_about_another_packet_waits_in_the_tray(
    marit: SealPacket, kiosk: PacketShown, inside: AppContext
) -> None:
    other = marit.packets.note("The printer of the kiosk is dead", NOTE, asset=KIOSK)
    marit.packets.answer(other.number, **ANSWERS)
    lodge(marit, other.number)
    until(lambda: marit.packets.get(other.number).reference)
    words = f"Case: {kiosk.reference}\nStatus: SOLVED\n\nA new reader was sent.\n"
    Post(inside).take(reply_address(inside, other.number), written(words, datetime.now(UTC)))
    assert marit.packets.get(other.number).life == "lodged"
    assert marit.packets.get(kiosk.number).life == "lodged"
    (item,) = [one for one in marit.tray.list() if "A new reader" in one.words]
    with pytest.raises(Refused, match=f"which is {kiosk.number} and not {other.number}"):
        marit.tray.attach(item.id, other.number)
    packet = marit.tray.attach(item.id, kiosk.number)
    assert (packet.life, packet.desk_status) == ("answered", "SOLVED")


def written(text: str, at: datetime) -> bytes:
    """A mail of the desk's of that moment."""
    return mail("Re: your case", text, Date=format_datetime(at))


def test_a_status_that_is_not_listed_waits_for_us_once_and_is_offered_for_the_sheet(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, state="PONDERING")
    packet = marit.packets.follow(lodged.number)
    assert (packet.turn, packet.life, packet.desk_status) == ("ours", "lodged", "PONDERING")
    (asked,) = packet.messages[-1].questions
    assert (asked.doubtful, "“PONDERING”" in asked.text) == (True, True)
    desk = marit.desk("tarnfell-support")
    assert lodged.number in {one.word: one.packets for one in desk.unlisted}["PONDERING"]

    marit.packets.dismiss_question(packet.number, asked.id)
    again = marit.packets.follow(packet.number)
    assert (again.turn, len(again.messages)) == ("vendor", len(packet.messages)), "it is said once"

    try:
        marit.put_sheet(desk.yaml.replace("statuses: {", "statuses: {PONDERING: answered, ", 1))
        known = marit.packets.follow(packet.number)
        assert known.life == "answered", "also for a packet that was sealed before"
        assert marit.desk("tarnfell-support").unlisted == []
    finally:
        marit.put_sheet(desk.yaml)
        tarnfell.steer(case=lodged.reference, state="CLOSED")
        marit.packets.follow(packet.number)


def test_what_a_desk_has_not_changed_changes_nothing(
    marit: SealPacket, lodged: PacketShown, inside: AppContext, tarnfell: Tarnfell
) -> None:
    """A desk that has not read our answer yet still says that it waits for us: it is the desk's turn all the same."""
    tarnfell.steer(case=lodged.reference, ask="Which cable?")
    assert marit.packets.follow(lodged.number).turn == "ours"
    with inside.database.transaction() as session:
        packet = find_packet(session, lodged.number, lock=True)
        assert packet.cases[0].desk_mark
        packet.cases[0].turn = packet.turn = "vendor"
        for one in packet.messages[-1].questions:
            one.done_at = datetime.now(UTC)
    assert marit.packets.follow(lodged.number).turn == "vendor"
    tarnfell.steer(case=lodged.reference, say="We look into it.")
    assert marit.packets.follow(lodged.number).messages[-1].text == "We look into it."


@pytest.mark.parametrize("way", ["gate", "mailbox"])
def test_our_own_mail_does_not_go_round(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, way: str
) -> None:
    before = marit.packets.get(kiosk.number)
    address = reply_address(mailbox, kiosk.number)
    for sender in (mailbox.settings.mail_from, address):
        ours = mail(f"Re: {kiosk.number}", "Could you tell us more?", sender=sender, to=address)
        if way == "gate":
            Post(mailbox).take(address, ours)
        else:
            imap.deliver(ours)
    read_mailbox(mailbox)
    assert marit.packets.get(kiosk.number).messages == before.messages
    assert not [one for one in marit.tray.list() if one.words.startswith("Could you tell us")]
