"""Notices: who is notified of what, by which way, and when it is over."""

from __future__ import annotations

import base64
import email
import email.policy
import json
import threading
from collections.abc import Iterator
from datetime import UTC, datetime, timedelta
from http.server import BaseHTTPRequestHandler, ThreadingHTTPServer
from typing import Any

import httpx
import pytest
from icalendar import Calendar
from lxml import etree
from sqlalchemy import select

from sealpacket.app.context import AppContext
from sealpacket.channels.receiver import signature
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import NoticeShown, PacketShown
from sealpacket.demo.house import RunningHouse
from sealpacket.services.notices import news, reading, sending
from sealpacket.services.packets import lines
from sealpacket.services.packets.follow import tray
from sealpacket.store.models import Notice, NoticeSettings, Packet, VendorFeed
from tests import plain_http
from tests.conftest import Tarnfell, authorization, token_of, until

ATOM = "{http://www.w3.org/2005/Atom}"
QUESTION = "Which firmware do both controllers run?"


class Outside:
    """A receiver of webhooks and a giver of feeds outside the house."""

    def __init__(self) -> None:
        self.taken: list[tuple[dict[str, str], bytes]] = []
        self.status = 204
        self.feed: tuple[int, bytes] = (200, b"")
        outside = self

        class Handler(BaseHTTPRequestHandler):
            def do_POST(self) -> None:
                body = self.rfile.read(int(self.headers["Content-Length"]))
                if outside.status < 300:
                    head = {name.lower(): value for name, value in self.headers.items()}
                    outside.taken.append((head, body))
                self.send_response(outside.status)
                self.send_header("Content-Length", "0")
                self.end_headers()

            def do_GET(self) -> None:
                status, body = outside.feed
                self.send_response(status)
                self.send_header("Content-Length", str(len(body)))
                self.end_headers()
                self.wfile.write(body)

            def log_message(self, *_: object) -> None:
                pass

        self.server = ThreadingHTTPServer(("127.0.0.1", 0), Handler)
        self.address = f"http://127.0.0.1:{self.server.server_port}"
        threading.Thread(target=self.server.serve_forever, daemon=True).start()


OUTSIDE = Outside()
HOUSE = {
    "WEBHOOK_ADDRESSES": json.dumps([f"{OUTSIDE.address}/hooks"]),
    "NEWS_FEEDS": json.dumps({"tarnfell": f"{OUTSIDE.address}/news.atom"}),
}


@pytest.fixture
def outside() -> Iterator[Outside]:
    OUTSIDE.taken.clear()
    OUTSIDE.status = 204
    yield OUTSIDE


@pytest.fixture
def as_before(marit: SealPacket, inside: AppContext) -> Iterator[None]:
    """Marit's choices are the default again afterwards."""
    yield
    with inside.database.transaction() as session:
        for one in session.scalars(select(NoticeSettings)):
            session.delete(one)


def of(client: SealPacket, number: str | None) -> dict[str, NoticeShown]:
    """The notices of a packet, by kind."""
    return {one.kind: one for one in client.notices.list() if one.packet == number}


def test_a_question_is_noticed_until_it_is_answered(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    asked = of(marit, lodged.number)["asked"]
    assert asked.words == "Tarnfell Storage asks something."
    assert (asked.title, asked.reference) == (lodged.title, lodged.reference)
    assert asked.place == f"/packets/{lodged.number}/replies"
    assert not asked.read

    before = marit.notices.page().unread
    assert marit.notices.mark([asked.id]).unread == before - 1
    assert of(marit, lodged.number)["asked"].read
    assert marit.notices.mark([asked.id], read=False).unread == before
    assert asked.id in [one.id for one in marit.notices.list(unread=True)]

    marit.packets.reply(lodged.number, "7.4.2 on both.")
    assert "asked" not in of(marit, lodged.number)


def test_a_second_question_is_news(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    first = of(marit, lodged.number)["asked"]
    marit.notices.mark([first.id])
    tarnfell.steer(case=lodged.reference, ask="Does it stop when the replica is paused?")
    marit.packets.follow(lodged.number)
    second = of(marit, lodged.number)["asked"]
    assert second.id > first.id
    assert not second.read


def test_who_looks_after_it_is_notified_and_nobody_else(
    marit: SealPacket, teo: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    marit.packets.hand_over(lodged.number, "teo", "Ring them at nine.")
    assert "handed_over" in of(teo, lodged.number)
    assert "handed_over" not in of(marit, lodged.number), "she did it herself"
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    assert "asked" in of(teo, lodged.number)
    assert "asked" not in of(marit, lodged.number)
    marit.packets.take_over(lodged.number)
    assert of(teo, lodged.number) == {}
    assert "asked" in of(marit, lodged.number)


def test_a_notice_of_a_kind_that_was_chosen_for_all_packets_stays(
    marit: SealPacket, teo: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    teo.notices.choose({"asked": ("all", ["console"])})
    try:
        marit.packets.hand_over(lodged.number, "teo", "Ring them at nine.")
        tarnfell.steer(case=lodged.reference, ask=QUESTION)
        marit.packets.follow(lodged.number)
        assert {"asked", "handed_over"} <= set(of(teo, lodged.number))
        marit.packets.take_over(lodged.number)
        assert set(of(teo, lodged.number)) == {"asked"}
    finally:
        teo.notices.choose({"asked": ("mine", ["console"])})


def test_choices_count(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, as_before: None
) -> None:
    marit.notices.choose({"asked": ("none", [])})
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    assert "asked" not in of(marit, lodged.number)

    marit.notices.choose({"asked": ("mine", ["console"])}, vendors=["lumenlathe"])
    tarnfell.steer(case=lodged.reference, ask="Does it stop when the replica is paused?")
    marit.packets.follow(lodged.number)
    assert "asked" not in of(marit, lodged.number)

    chosen = marit.notices.choose(vendors=[], digest_by="vendor", digest_hour=6)
    assert (chosen.vendors, chosen.digest_by, chosen.digest_hour) == ([], "vendor", 6)
    tarnfell.steer(case=lodged.reference, ask="Since when?")
    marit.packets.follow(lodged.number)
    assert "asked" in of(marit, lodged.number)


def test_wrong_choices_say_what_is_wrong(marit: SealPacket, as_before: None) -> None:
    for wrong, said in (
        ({"sites": ["nowhere"]}, "nowhere"),
        ({"vendors": ["nobody"]}, "nobody"),
        ({"choices": {"asked": ("mine", ["webhook"])}}, "You have no webhook yet."),
        ({"digest_hour": 24}, "digest_hour"),
        ({"choices": {"asked": ("mine", ["pigeon"])}}, "choices.0.ways.0"),
        ({"choices": {"shouted": ("mine", ["console"])}}, "choices.0.kind"),
    ):
        with pytest.raises(Refused) as caught:
            marit.notices.choose(**wrong)  # type: ignore[arg-type]
        assert said in f"{caught.value.detail} {caught.value.facts}", wrong
    with pytest.raises(Refused, match="allows no webhook"):
        marit.notices.set_webhook("https://elsewhere.example/in")


def mails_to(house: RunningHouse, address: str) -> list[tuple[str, str]]:
    """Subject and text of the mails to somebody, in order."""
    found = []
    for path in sorted((house.mail_folder).glob("*.eml")):
        message = email.message_from_bytes(path.read_bytes(), policy=email.policy.default)
        if message["To"] == address:
            body = message.get_body()
            found.append((str(message["Subject"]), body.get_content() if body else ""))
    return found


def test_mail_says_what_happened_and_nothing_that_was_typed(
    marit: SealPacket,
    house: RunningHouse,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    as_before: None,
) -> None:
    own = marit.notices.choose({"asked": ("mine", ["console", "mail"])})
    assert own.mail and own.mail_configured
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    subject = f"{lodged.number}: Tarnfell Storage asks something."
    found = until(lambda: [one for one in mails_to(house, str(own.mail)) if one[0] == subject])
    assert len(found) == 1
    text = found[0][1]
    assert f"{house.address}/packets/{lodged.number}/replies" in text
    assert str(lodged.reference) in text
    assert lodged.title not in text
    assert QUESTION not in text


def test_a_digest_comes_once_a_day_without_what_is_over(
    marit: SealPacket,
    house: RunningHouse,
    inside: AppContext,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    as_before: None,
) -> None:
    digest = ("mine", ["digest"])
    choices = {"asked": digest, "lodged": digest, "replied": digest, "due_soon": digest}
    own = marit.notices.choose(choices, digest_by="vendor", digest_hour=0)
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    before = len(mails_to(house, str(own.mail)))
    assert sending.send_digests(inside) == 1
    sent = mails_to(house, str(own.mail))[before:]
    assert [subject for subject, _ in sent] == ["1 notice of Tarnfell Storage"]
    assert lodged.number in sent[0][1]
    assert sending.send_digests(inside) == 0, "once a day"

    with inside.database.transaction() as session:
        for one in session.scalars(select(NoticeSettings)):
            one.digest_on = None
    marit.packets.reply(lodged.number, "7.4.2 on both.")
    assert sending.send_digests(inside) == 0, "what was told, and what is over, does not come again"


def test_a_webhook_is_signed_and_waits_for_its_receiver(
    marit: SealPacket,
    inside: AppContext,
    lodged: PacketShown,
    tarnfell: Tarnfell,
    outside: Outside,
    as_before: None,
) -> None:
    made = marit.notices.set_webhook(f"{outside.address}/hooks/marit")
    marit.notices.choose({"asked": ("mine", ["webhook"])})
    outside.status = 503
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    trouble = until(lambda: marit.notices.settings().webhook_trouble)
    assert trouble == "It answered with HTTP 503."
    assert "asked" not in of(marit, lodged.number), "not chosen for the console"

    outside.status = 204
    with inside.database.transaction() as session:
        for one in session.scalars(select(NoticeSettings)):
            one.next_try_at = None
    head, body = until(lambda: outside.taken and outside.taken[0])
    given = json.loads(body)
    assert (given["kind"], given["packet"], given["title"]) == ("asked", lodged.number, "")
    moment = int(head["webhook-timestamp"])
    signed = signature(made.secret, head["webhook-id"], moment, body)
    assert head["webhook-signature"] == signed
    assert base64.b64decode(signed.removeprefix("v1,"))
    until(lambda: marit.notices.settings().webhook_trouble == "")
    assert marit.notices.end_webhook().webhook == ""


def test_the_feed_is_private_and_can_be_changed(
    marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell, as_before: None
) -> None:
    first = marit.notices.new_feed()
    marit.notices.choose({"asked": ("mine", ["feed"])})
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    answer = plain_http.get(first)
    assert answer.headers["content-type"].startswith("application/atom+xml")
    entries = etree.fromstring(answer.content).findall(f"{ATOM}entry")
    titles = [one.findtext(f"{ATOM}title") for one in entries]
    assert titles == [f"{lodged.number}: Tarnfell Storage asks something."]
    assert lodged.title not in answer.text

    second = marit.notices.new_feed()
    assert plain_http.get(first).status_code == 404
    assert plain_http.get(second).status_code == 200
    marit.notices.end_feed()
    assert plain_http.get(second).status_code == 404


def test_the_calendar_has_what_is_due(
    marit: SealPacket, lodged: PacketShown, as_before: None
) -> None:
    address = marit.new_calendar()
    marit.packets.note_shipment(
        lodged.number, "to_vendor", "The old shelf", due_on=datetime.now(UTC).date()
    )
    marit.packets.grant_access(
        lodged.number, who="A technician", what="Array A",
        until=datetime.now(UTC) + timedelta(hours=3),
    )  # fmt: skip
    calendar = Calendar.from_ical(plain_http.get(address).content)
    said = [str(one["summary"]) for one in calendar.walk("VEVENT")]
    known = f"{lodged.number} Tarnfell Storage"
    for expected in (
        f"{known} {lodged.reference}: first answer due",
        f"{known} {lodged.reference}: access ends",
        f"{known}: return due at the vendor",
    ):
        assert expected in said
    assert not any("shelf" in one for one in said), "nothing that was typed"
    marit.notices.choose({"due_soon": ("none", [])})
    assert "first answer due" not in plain_http.get(address).text
    marit.end_calendar()


def test_what_becomes_due_is_noticed(
    marit: SealPacket, lodged: PacketShown, inside: AppContext
) -> None:
    assert "due_soon" not in of(marit, lodged.number)
    with inside.database.transaction() as session:
        packet = session.scalars(select(Packet).where(Packet.number == lodged.number)).one()
        packet.lodged_at = datetime.now(UTC) - timedelta(hours=3.5)
    assert "due_soon" in of(marit, lodged.number)
    with inside.database.transaction() as session:
        packet = session.scalars(select(Packet).where(Packet.number == lodged.number)).one()
        packet.lodged_at = datetime.now(UTC) - timedelta(hours=5)
    found = of(marit, lodged.number)
    assert "overdue" in found
    assert "due_soon" not in found
    lines.renew_due(inside)
    assert of(marit, lodged.number)["overdue"].id == found["overdue"].id, "noticed once"


def test_people_without_an_account_are_kept_informed_by_mail(
    marit: SealPacket, house: RunningHouse, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    person = marit.people.add(key="nell", name="Nell Barrow", mail="nell.barrow@quillmere.example")
    shown = marit.packets.keep_informed(lodged.number, ["nell"])
    assert [one.name for one in shown.informed] == [person.name]
    assert shown.version > lodged.version
    with pytest.raises(Refused, match="is not a person in the register"):
        marit.packets.keep_informed(lodged.number, ["nell", "nobody-such"])
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    found = until(lambda: mails_to(house, person.mail))
    assert [subject for subject, _ in found] == [
        f"{lodged.number}: Tarnfell Storage asks something."
    ]
    assert QUESTION not in found[0][1]
    assert marit.packets.keep_informed(lodged.number, []).informed == []


def test_whoever_is_informed_is_notified_of_a_colleagues_packet(
    marit: SealPacket, pauli: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    marit.packets.take_over(lodged.number)
    marit.packets.keep_informed(lodged.number, ["pauli"])
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    assert "asked" in of(pauli, lodged.number)


def test_news_of_products_that_we_have(
    marit: SealPacket, inside: AppContext, outside: Outside
) -> None:
    entry = (
        "<entry><id>urn:n:{id}</id><title>{title}</title><updated>2026-11-30T09:00:00Z</updated>"
        '<link href="https://tarnfell.example/{id}"/><summary type="html">{text}</summary></entry>'
    )

    def fed(*entries: str) -> None:
        whole = f'<feed xmlns="http://www.w3.org/2005/Atom">{"".join(entries)}</feed>'
        outside.feed = (200, whole.encode())
        with inside.database.transaction() as session:
            for one in session.scalars(select(VendorFeed)):
                session.delete(one)
        news.read_all(inside)

    product = next(one.product for one in marit.assets.list() if one.serial == "TN9-44120-A")
    fed(
        entry.format(
            id=1, title="Release 7.4.3", text=f"For the {product}: &lt;b&gt;mends&lt;/b&gt; E-3312."
        ),
        entry.format(id=2, title="Our new office", text="Come and see."),
    )
    found = marit.notices.news("tarnfell")
    assert [one.title for one in found.items] == ["Release 7.4.3"]
    assert found.items[0].summary == f"For the {product}: mends E-3312."
    assert found.items[0].link == "https://tarnfell.example/1"
    told = [one for one in marit.notices.list() if one.kind == "product_news"]
    assert [(one.title, one.vendor) for one in told] == [("Release 7.4.3", "Tarnfell Storage")]
    fed(entry.format(id=1, title="Release 7.4.3", text=f"For the {product}."))
    assert len(marit.notices.news().items) == 1, "it is kept once"

    for wrong in (b"no feed at all", b'<!DOCTYPE feed [<!ENTITY a "b">]><feed>&a;</feed>'):
        outside.feed = (200, wrong)
        with inside.database.transaction() as session:
            for one in session.scalars(select(VendorFeed)):
                session.delete(one)
        news.read_all(inside)
        assert marit.notices.news().feeds[0].trouble == "It is no feed in Atom or RSS."
    outside.feed = (500, b"")
    with inside.database.transaction() as session:
        for one in session.scalars(select(VendorFeed)):
            session.delete(one)
    news.read_all(inside)
    assert marit.notices.news().feeds[0].trouble == "It answered with HTTP 500."


def test_what_matches_no_packet_is_noticed_until_it_is_dealt_with(
    marit: SealPacket, inside: AppContext
) -> None:
    tray.put_unread(inside, b"From: somebody\r\n\r\nIt hums.")
    item = next(one for one in marit.tray.list() if one.subject == "A mail that cannot be read")
    (told,) = [one for one in marit.notices.list() if one.kind == "unplaced"]
    assert (told.title, told.place, told.packet) == (item.subject, "/", None)
    marit.tray.discard(item.id, "It is nobody's.")
    assert "unplaced" not in [one.kind for one in marit.notices.list()]


def events_of(house: RunningHouse, client: SealPacket, found: list[Any]) -> threading.Thread:
    """Listen to a person's stream in a thread; what it says is added to the list."""

    def listen() -> None:
        headers = authorization(client)
        with httpx.stream(
            "GET",
            f"{house.address}/api/v1/notices/stream",
            headers=headers,
            trust_env=False,
            timeout=60,
        ) as answer:
            found.append(answer.headers["content-type"])
            for line in answer.iter_lines():
                if line.startswith("data:"):
                    found.append(json.loads(line.removeprefix("data:")))
                if found[-1] == {"unread": 1}:
                    return

    thread = threading.Thread(target=listen, daemon=True)
    thread.start()
    return thread


def test_an_open_console_hears_of_it(
    marit: SealPacket, house: RunningHouse, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    marit.notices.mark(everything=True)
    heard: list[Any] = []
    thread = events_of(house, marit, heard)
    until(lambda: len(heard) > 1)
    assert heard[0].startswith("text/event-stream")
    assert heard[1] == {"unread": 0}
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    until(lambda: heard[-1] == {"unread": 1})
    thread.join(30)


def test_the_stream_is_for_those_who_are_signed_in(house: RunningHouse) -> None:
    answer = plain_http.get(f"{house.address}/api/v1/notices/stream")
    assert answer.status_code == 401


def test_nobody_reads_or_marks_the_notices_of_others(
    marit: SealPacket, pauli: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, ask=QUESTION)
    marit.packets.follow(lodged.number)
    asked = of(marit, lodged.number)["asked"]
    pauli.notices.mark([asked.id])
    assert not of(marit, lodged.number)["asked"].read
    assert token_of(pauli) != token_of(marit)


def test_old_notices_go(marit: SealPacket, inside: AppContext, lodged: PacketShown) -> None:
    with inside.database.transaction() as session:
        rows = session.scalars(select(Notice).where(Notice.subject == lodged.number)).all()
        for one in rows:
            one.at = datetime.now(UTC) - timedelta(days=100)
    reading.forget_old(inside)
    assert not set(of(marit, lodged.number)) & {"lodged", "replied"}
