"""A mail changes a packet only if it answers us and comes from the desk; everything else is words, and none is lost."""

from __future__ import annotations

import random
import smtplib
from collections.abc import Iterator
from pathlib import Path

import pytest

from sealpacket.app.context import AppContext
from sealpacket.channels.mail import compose
from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.errors import Invalid, Unavailable
from sealpacket.core.sheets.mails import read_mail
from sealpacket.demo.house import DRAFT_GATE, RunningHouse
from sealpacket.services import liveness
from sealpacket.services.packets import tickets
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.inbound_mail import take
from sealpacket.services.packets.inbound_mail.poll import read_mailbox
from sealpacket.services.packets.inbound_mail.route import Post
from sealpacket.services.packets.lodge.reply_addresses import message_id, reply_address
from tests.conftest import Standin, lodge, until
from tests.core.hostile_mails import MAILS
from tests.service.imap_server import ImapServer
from tests.service.test_lumenlathe import ANSWERS, KIOSK, NOTE
from tests.service.test_replies_come import (
    bounce,
    care,
    imap,
    kiosk,
    mail,
    mailbox,
)

__all__ = ["care", "imap", "kiosk", "mailbox"]


@pytest.fixture
def fresh_kiosk(marit: SealPacket, care: Standin) -> Iterator[PacketShown]:
    """A case at the care desk, which has not given it a reference yet."""
    care.steer(mute=True)
    noted = marit.packets.note("Card reader of the kiosk is dead", NOTE, asset=KIOSK)
    marit.packets.answer(noted.number, **ANSWERS)
    lodge(marit, noted.number)
    yield until(lambda: (p := marit.packets.get(noted.number)).life == "lodged" and p)
    care.steer(mute=False)


def changed(before: PacketShown, after: PacketShown) -> bool:
    """Whether anything is otherwise but words that were added, which make it our turn."""
    return (before.life, before.desk_status, before.reference, before.lodge_state) != (
        after.life, after.desk_status, after.reference, after.lodge_state,
    )  # fmt: skip


CLOSED = "State: CLOSED\nStatus: CLOSED\nPaper: X1\n\nclosed by somebody"


@pytest.mark.parametrize("head", ["In_Reply_To", "References"])
@pytest.mark.parametrize("of", ["number", "made-up tag", "message"])
def test_a_message_id_that_can_be_guessed_opens_no_packet(
    marit: SealPacket,
    lodged: PacketShown,
    imap: ImapServer,
    mailbox: AppContext,
    head: str,
    of: str,
) -> None:
    comment = marit.packets.comment(lodged.number, "One thing more.").messages[-1].id
    before = marit.packets.get(lodged.number)
    key = {"number": lodged.number, "message": comment}.get(of, f"{lodged.number}.{'a' * 16}")
    words = f"{CLOSED} {random.random()}"
    forged = {head: f"<{key}@sealpacket.invalid>"}
    imap.deliver(mail("Re: x", words, sender="attacker@evil.example", **forged))
    read_mailbox(mailbox)
    after = marit.packets.get(lodged.number)
    assert not changed(before, after)
    assert len(after.messages) == len(before.messages)
    assert [one for one in marit.tray.list() if words.rsplit(maxsplit=1)[-1] in one.words]


@pytest.mark.parametrize("sender", ["attacker@evil.example", "j.holt@tarnfell.example"])
def test_a_mail_about_a_packet_of_another_way_is_words_that_wait(
    marit: SealPacket, lodged: PacketShown, imap: ImapServer, mailbox: AppContext, sender: str
) -> None:
    """The desk of this packet answers over HTTP; whoever writes by mail has been told a Message-ID at the most."""
    before = marit.packets.get(lodged.number)
    words = f"{CLOSED}\n\nCould you please send us the serial of drive {random.random()}?"
    ours = message_id(mailbox, lodged.number)
    imap.deliver(mail("Re: your case", words, sender=sender, In_Reply_To=ours))
    read_mailbox(mailbox)
    after = marit.packets.get(lodged.number)
    assert not changed(before, after)
    (said,) = after.messages[len(before.messages) :]
    assert words.rsplit("\n", maxsplit=1)[-1] in said.text
    assert "Paper: X1" in said.text, "nothing of it was taken out as if a desk had said it"
    assert (said.stranger, said.asks, after.turn) == (True, True, "ours")


@pytest.mark.parametrize(
    ("subject", "proof"), [("About {number}", False), ("Re: {reference}", False), ("Re: x", True)]
)
def test_the_domain_of_the_desk_settles_nothing_without_the_proof(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, subject: str, proof: bool
) -> None:  # fmt: skip
    heads = {"In_Reply_To": message_id(mailbox, kiosk.number)} if proof else {}
    title = subject.format(number=kiosk.number, reference=kiosk.reference)
    imap.deliver(mail(title, f"Case: {kiosk.reference}\nStatus: CLOSED\n\nDone.", **heads))
    read_mailbox(mailbox)
    after = marit.packets.get(kiosk.number)
    assert (after.life == "settled") is proof
    assert any(one.stranger for one in after.messages) is not proof


@pytest.mark.parametrize("found", ["dmarc=pass", "dmarc=fail", ""])
def test_where_a_server_is_trusted_the_desk_has_to_be_authentic(
    marit: SealPacket, kiosk: PacketShown, inside: AppContext, found: str
) -> None:
    inside.settings.mail_authority = "mx.quillmere.example"
    heads = {"Authentication_Results": f"mx.quillmere.example; {found}"} if found else {}
    text = f"Case: {kiosk.reference}\nStatus: CLOSED\n\nDone."
    Post(inside).take(reply_address(inside, kiosk.number), mail("Re: x", text, **heads))
    after = marit.packets.get(kiosk.number)
    assert (after.life == "settled") is (found == "dmarc=pass")
    assert "Done." in after.messages[-1].text


@pytest.mark.parametrize(
    "name", ["Message-ID <", "From <", "mails 3,000 deep", "a page of <![", "nothing"]
)
def test_what_cannot_be_read_waits_in_the_tray_and_the_mailbox_goes_on(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, name: str, tmp_path: Path
) -> None:  # fmt: skip
    before = {one.id for one in marit.tray.list()}
    mark = f"{random.getrandbits(64):x}"
    broken = MAILS[name] + f"\r\n{mark}\r\n".encode()
    imap.deliver(broken)
    good = f"A fitter comes, {mark}."
    imap.deliver(mail("Hello", good, to=reply_address(mailbox, kiosk.number)))
    assert read_mailbox(mailbox) == 2
    assert good in [one.text.strip() for one in marit.packets.get(kiosk.number).messages]
    (item,) = [one for one in marit.tray.list() if one.id not in before]
    assert mark.encode() in marit.tray.fetch(item.id, tmp_path / "it.eml").read_bytes()
    assert read_mailbox(mailbox) == 0


def test_a_fault_of_ours_costs_no_mail(
    marit: SealPacket, kiosk: PacketShown, imap: ImapServer, mailbox: AppContext, monkeypatch: pytest.MonkeyPatch
) -> None:  # fmt: skip
    words = f"Which kiosk is it? {random.random()}"
    monkeypatch.setattr(take, "take_in", lambda *_, **__: 1 // 0)
    imap.deliver(mail("Hello", words, to=reply_address(mailbox, kiosk.number)))
    assert read_mailbox(mailbox) == 1
    assert [one for one in marit.tray.list() if one.words == words]


def test_a_mailbox_that_cannot_be_read_is_said_by_health(
    mailbox: AppContext, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(mailbox.settings, "mailbox", "imaps://a:b@127.0.0.1:1/INBOX")
    assert liveness.health(mailbox).mailbox
    read_mailbox(mailbox)
    assert not liveness.health(mailbox).mailbox


def test_free_words_of_the_desk_are_kept_and_wait(
    marit: SealPacket, kiosk: PacketShown, inside: AppContext
) -> None:
    post, address = Post(inside), reply_address(inside, kiosk.number)
    post.take(address, mail("Re: x", "Case: LL-1\nOther: words\n"))
    post.take(address, mail("Re: x", "", files=(("label.pdf", b"%PDF-1.7 x"),)))
    said = marit.packets.get(kiosk.number).messages[-2:]
    assert "label.pdf" in said[1].text
    assert [one.name for one in said[1].received] == ["label.pdf"]


@pytest.mark.parametrize("failed", ["<{number}@sealpacket.invalid>", "<x@elsewhere.example>"])
def test_a_bounce_without_our_tag_takes_nothing_back(
    marit: SealPacket, fresh_kiosk: PacketShown, inside: AppContext, failed: str
) -> None:
    address = reply_address(inside, fresh_kiosk.number)
    Post(inside).take(address, bounce(address, failed.format(number=fresh_kiosk.number)))
    after = marit.packets.get(fresh_kiosk.number)
    assert not changed(fresh_kiosk, after)
    assert [one.asks for one in after.messages] == [False], "it is kept beside it"


def test_a_bounce_of_the_case_says_that_it_came_back(
    marit: SealPacket, fresh_kiosk: PacketShown, inside: AppContext
) -> None:
    address = reply_address(inside, fresh_kiosk.number)
    Post(inside).take(address, bounce(address, message_id(inside, fresh_kiosk.number)))
    after = marit.packets.get(fresh_kiosk.number)
    assert (after.life, after.lodge_state) == ("sealed", "stalled")
    assert "No such mailbox" in after.lodge_status_text


def ours(subject: str, text: str, sender: str = "marit.oswin@quillmere.example") -> bytes:
    return compose(sender, DRAFT_GATE, subject, text).as_bytes()


def test_a_mail_to_the_draft_address_acts_as_a_mail(marit: SealPacket, inside: AppContext) -> None:
    title = f"The loans desk is slow {random.random()}"
    Post(inside).take(DRAFT_GATE, ours(title, "x"))
    (found,) = marit.packets.list(query=title)
    packet = marit.packets.get(found.number)
    assert (packet.noted_by, packet.owner) == ("mail from marit.oswin@quillmere.example",) * 2
    log = marit.custody(f"packet {found.number}")
    assert {one.actor for one in log} == {"mail from marit.oswin@quillmere.example"}
    for sender in (
        "marit.oswin@quillmere.example <x@evil.example>",
        "x@quillmere.example.evil.example",
    ):
        with pytest.raises(Invalid) as refused:
            Post(inside).take(DRAFT_GATE, ours(title, "x").replace(
                b"From: marit.oswin@quillmere.example", f"From: {sender}".encode()))  # fmt: skip
        assert refused.value.code == "not-ours"


def test_every_mail_to_the_draft_address_counts(
    inside: AppContext, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(take, "MAILS_AN_HOUR", 3)
    post = Post(inside)
    with pytest.raises(Unavailable) as refused:
        for number in range(4):
            post.take(DRAFT_GATE, ours("[IT-90002] The same ticket", f"line {number}"))
    assert refused.value.code == "mail-rate"


@pytest.mark.parametrize(
    "head", ["Precedence: bulk", "Auto-Submitted: auto-replied", "List-Id: <x.y>"]
)
def test_what_no_person_wrote_makes_no_draft(
    marit: SealPacket, inside: AppContext, head: str
) -> None:
    title = f"Out of office {random.random()}"
    with pytest.raises(Invalid) as refused:
        Post(inside).take(DRAFT_GATE, f"{head}\r\n".encode() + ours(title, "x"))
    assert refused.value.code == "automatic"
    assert marit.packets.list(query=title) == []


def test_what_answers_a_report_of_ours_makes_no_draft(
    marit: SealPacket, house: RunningHouse, inside: AppContext
) -> None:
    title = f"Printer away {random.getrandbits(40)}"
    with smtplib.SMTP("127.0.0.1", house.gate_port) as gate:
        gate.sendmail("marit.oswin@quillmere.example", [DRAFT_GATE], ours(title, "x"))
    (noted,) = marit.packets.list(query=title)
    tickets.report_all(inside)
    report = until(
        lambda: [
            one
            for path in house.mail_folder.glob("**/*.eml")
            if noted.number in (one := path.read_text(errors="replace")) and title in one
        ]
    )[0]
    assert "Auto-Submitted: auto-generated" in report
    ident = next(line for line in report.splitlines() if line.startswith("Message-ID: "))
    answer = ours(f"Out of office: Re: {title}", "I am away.")
    heads = f"In-Reply-To: {ident.removeprefix('Message-ID: ')}\r\n".encode()
    Post(inside).take(DRAFT_GATE, heads + answer)
    assert [one.number for one in marit.packets.list(query=title)] == [noted.number]
    assert "I am away." in marit.packets.get(noted.number).note


def test_what_says_that_it_is_from_a_desk_is_not_hidden_by_others(
    inside: AppContext, marit: SealPacket
) -> None:
    senders = [f"spam{number}@elsewhere.example" for number in range(3)]
    for number, sender in enumerate([*senders, "care@lumenlathe.example"]):
        head = f"From: {sender}\r\nMessage-ID: <order-{number}@x>\r\nSubject: It\r\n\r\n"
        data = f"{head}About nothing {number}".encode()
        tray.put(inside, data, read_mail(data))
    found = marit.tray.list()
    mine = [one.words for one in found if "About nothing" in one.words]
    assert mine[0] == "About nothing 3"
    assert marit.today().tray_count == len(found)
