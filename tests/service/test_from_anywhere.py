"""Drafts that begin anywhere: what a program tells, mails of our own people, and what a note's words name."""

from __future__ import annotations

import json
import smtplib
import threading
from collections.abc import Iterator
from http.server import BaseHTTPRequestHandler, HTTPServer
from typing import Any

import pytest

from sealpacket.app.context import AppContext
from sealpacket.channels.mail import compose
from sealpacket.client import Refused, SealPacket
from sealpacket.core.errors import Invalid
from sealpacket.demo.house import DRAFT_GATE, RunningHouse
from sealpacket.services.packets import tickets
from sealpacket.services.packets.inbound_mail.route import Post
from tests.conftest import ARRAY, until

TOLD = {
    "program": "Loans desk 4.2", "system": "loans-prod", "user": "ines.harrowgate", "screen": "Loans",
    "message": {"code": "LN-0417", "text": "The loan was not kept"},
    "stack": "at loans.keep(loan 17)\n at loans.main", "rights": ["loans: read", "loans: write refused"],
    "at": "2026-11-28T09:12:00+00:00", "thing": {"host": "br01-kiosk2.quillmere.example"},
    "ticket": "IT-40711", "note": "It happens with every second card.",
}  # fmt: skip


@pytest.fixture
def gate(inside: AppContext) -> Post:
    return Post(inside)


def mail(
    subject: str, text: str, sender: str = "Ines <ines@quillmere.example>", **more: Any
) -> bytes:
    return compose(sender, "packets@quillmere.example", subject, text, **more).as_bytes()


def packet_titled(client: SealPacket, title: str) -> Any:
    return [one for one in client.packets.list(query=title) if one.title == title]


def test_what_a_program_tells_becomes_a_draft(marit: SealPacket) -> None:
    packet = marit.packets.note_context(TOLD)
    assert packet.title == "LN-0417 The loan was not kept"
    assert packet.asset is not None
    assert packet.asset.serial == "LK40-7731-0927"
    assert (packet.ticket, packet.began_at and packet.began_at.isoformat()) == (
        "IT-40711", "2026-11-28T09:12:00+00:00",
    )  # fmt: skip
    assert "every second card" in packet.note
    assert "Screen: Loans" in packet.note
    packet = marit.packets.wait(packet.number)
    assert [one.name for one in packet.exhibits] == ["context.json"]
    assert packet.context is not None
    assert packet.context["rights"] == TOLD["rights"]


@pytest.mark.parametrize(
    "changed",
    [{"context": 2}, {"surprise": 1}, {"at": "yesterday"}, {"at": "2026-11-28T09:12:00"}, {"thing": "x"},
     {"stack": "x" * 200_001}, {"rights": ["x"] * 201}],
)  # fmt: skip
def test_what_does_not_fit_the_format_is_refused(
    marit: SealPacket, changed: dict[str, Any]
) -> None:
    with pytest.raises(Refused) as refused:
        marit.packets.note_context({**TOLD, **changed})
    assert refused.value.status in (400, 413, 422)


def test_a_mail_of_ours_makes_a_draft_with_its_files_once(marit: SealPacket, gate: Post) -> None:
    data = mail(
        "[IT-50001] Reader of br01-kiosk2 stays dark",
        "Since this morning.",
        files=[
            ("lendd.log", b"2026-11-28T08:00:00Z x\n"),
            ("../lendd.log", b"2026-11-28T09:00:00Z y\n"),
        ],
    )
    for _ in range(2):
        gate.take("packets@quillmere.example", data)
    found = packet_titled(marit, "[IT-50001] Reader of br01-kiosk2 stays dark")
    assert len(found) == 1
    packet = marit.packets.get(found[0].number)
    assert (packet.ticket, packet.noted_by) == (
        "IT-50001",
        "mail from ines@quillmere.example",
    )
    assert packet.asset is not None
    assert packet.asset.serial == "LK40-7731-0927"
    assert {one.name for one in packet.exhibits} == {"lendd.log", "lendd-2.log"}
    gate.take("packets@quillmere.example", mail("Re: [IT-50001] Reader", "It is the cable, too."))
    again = marit.packets.get(packet.number)
    assert "It is the cable, too." in again.note
    assert "ines@quillmere.example:" in again.note
    of_marit = mail("The loans desk is slow", "x", "Marit <Marit.Oswin@quillmere.example>")
    gate.take("packets@quillmere.example", of_marit)
    owner = packet_titled(marit, "The loans desk is slow")[0].owner
    assert owner == "mail from marit.oswin@quillmere.example", "a mail is nobody's account"


def test_a_later_mail_about_a_packet_under_way_waits_in_the_tray(
    marit: SealPacket, gate: Post
) -> None:
    gate.take("packets@quillmere.example", mail("[IT-50002] Array slow", "x"))
    number = packet_titled(marit, "[IT-50002] Array slow")[0].number
    with gate._app.database.transaction() as session:
        from sealpacket.services.packets import workbench

        workbench.find_packet(session, number).life = "refused"
    gate.take("packets@quillmere.example", mail("[IT-50002] Array slow again", "worse"))
    assert [one.subject for one in marit.tray.list() if "IT-50002" in one.subject] == [
        "[IT-50002] Array slow again"
    ]


def test_a_mail_through_the_gate_itself_makes_a_draft_and_is_answered(
    marit: SealPacket, house: RunningHouse
) -> None:
    data = mail("[IT-50003] The printer of Mill Green", "It prints nothing since 09:00.")
    with smtplib.SMTP("127.0.0.1", house.gate_port) as connection:
        connection.sendmail("ines@quillmere.example", [DRAFT_GATE], data)
        with pytest.raises(smtplib.SMTPDataError):
            connection.sendmail(
                "eve@elsewhere.example", [DRAFT_GATE], mail("x", "x", "eve@elsewhere.example")
            )
    noted = packet_titled(marit, "[IT-50003] The printer of Mill Green")[0]
    said = until(
        lambda: [
            one
            for path in house.mail_folder.glob("**/*.eml")
            if noted.number in (one := path.read_text(errors="replace")) and "IT-50003" in one
        ]
    )
    assert "To: ines@quillmere.example" in said[0]
    assert "Re: [IT-50003] The printer of Mill Green" in said[0]


def test_strangers_and_machines_make_no_drafts(marit: SealPacket, gate: Post) -> None:
    assert gate.wants("packets@quillmere.example")
    assert not gate.wants("nobody@quillmere.example")
    with pytest.raises(Invalid) as stranger:
        gate.take("packets@quillmere.example", mail("Hello", "x", "eve@elsewhere.example"))
    assert stranger.value.code == "not-ours"
    with pytest.raises(Invalid):
        gate.take("packets@quillmere.example", mail("Hello", "x", "eve@notquillmere.example"))
    data = b"Auto-Submitted: auto-replied\r\n" + mail("Out of office", "x")
    with pytest.raises(Invalid) as machine:
        gate.take("packets@quillmere.example", data)
    assert machine.value.code == "automatic"
    assert not packet_titled(marit, "Hello")


class _Desk(BaseHTTPRequestHandler):
    """Our service desk: keeps what it is told; `fails` so often first."""

    told: list[dict[str, Any]]
    fails: list[int]

    def do_POST(self) -> None:
        body = json.loads(self.rfile.read(int(self.headers["Content-Length"])))
        if body["ticket"] == "IT-60001" and self.fails:
            self.send_response(self.fails.pop())
        else:
            heads = {"by": self.headers["Authorization"], "as": self.headers["Accept-Encoding"]}
            self.told.append({**body, **heads})
            self.send_response(204)
        self.send_header("Content-Length", "0")
        self.end_headers()

    def log_message(self, format: str, *args: Any) -> None:
        """Nothing."""


@pytest.fixture
def service_desk(inside: AppContext, tmp_path: Any) -> Iterator[type[_Desk]]:
    handler = type("Desk", (_Desk,), {"told": [], "fails": []})
    server = HTTPServer(("127.0.0.1", 0), handler)
    threading.Thread(target=server.serve_forever, daemon=True).start()
    token = tmp_path / "token"
    token.write_text("tick-tock\n")
    inside.settings.service_desk = f"http://127.0.0.1:{server.server_port}/hook"
    inside.settings.service_desk_token_file = token
    yield handler
    server.shutdown()


def test_the_service_desk_is_told_how_its_ticket_stands_each_time_once(
    marit: SealPacket,
    inside: AppContext,
    service_desk: type[_Desk],
    monkeypatch: pytest.MonkeyPatch,
) -> None:
    monkeypatch.setattr(tickets, "_AGAIN", tickets._AGAIN * 0)
    packet = marit.packets.note("The array is slow", asset=ARRAY, ticket="IT-60001")

    def told() -> list[tuple[str, str]]:
        tickets.report_all(inside)
        mine = [one for one in service_desk.told if one["ticket"] == "IT-60001"]
        return [(one["state"], one["turn"]) for one in mine]

    service_desk.fails.append(503)
    assert told() == []
    assert "HTTP 503" in marit.packets.get(packet.number).ticket_trouble
    assert told() == [("drafting", "ours")]
    reported = marit.packets.get(packet.number)
    assert reported.ticket_trouble == ""
    assert told() == [("drafting", "ours")]
    assert marit.packets.get(packet.number).version == reported.version
    marit.packets.withdraw(packet.number, "It was the cable.")
    assert told() == [("drafting", "ours"), ("withdrawn", "none")]
    one = service_desk.told[-1]
    assert (one["by"], one["packet"]) == ("Bearer tick-tock", packet.number)
    assert one["as"] == "identity", "a packed answer is refused, so that none is asked for"
    assert one["link"].endswith(f"/packets/{packet.number}")


@pytest.mark.parametrize(
    ("words", "serial", "because"),
    [
        ("Card reader of LK40-7731-0927 stays dark", "LK40-7731-0927", "LK40-7731-0927"),
        ("br01-kiosk2 does not start", "LK40-7731-0927", "br01-kiosk2"),
        ("10.40.0.1 drops packets", "OBF2-118804", "10.40.0.1"),
        ("Firewall at the book store drops packets", "OBF2-118804", "Firewall"),
        ("Kiosk at Kettle Wharf is dark", "LK40-7731-0930", "Kettle Wharf"),
        ("The kiosk at kettle wharf is dark", "LK40-7731-0930", "kiosk"),
    ],
)
def test_what_a_note_is_about_is_suggested(
    marit: SealPacket, words: str, serial: str, because: str
) -> None:
    found = marit.packets.similar(words).named
    assert [one.asset.serial for one in found][:1] == [serial], found
    assert because.lower() in [word.lower() for word in found[0].because]


@pytest.mark.parametrize(
    "words", ["It is slow since this morning", "The kiosk is dark", "Error E0417 of 2026", ""]
)
def test_where_words_fit_too_many_nothing_is_suggested(marit: SealPacket, words: str) -> None:
    assert marit.packets.similar(words or "   ").named == []


def test_what_was_tried_is_kept_with_the_thing_and_carried_into_its_packets(
    marit: SealPacket, teo: SealPacket
) -> None:
    serial = "LK40-7731-0931"
    first = teo.packets.note("The screen is dark", asset=serial)
    step = teo.packets.tried(first.number, "Switched it off and on", "It stays dark")
    teo.packets.tried(first.number, "Other cable")
    second = marit.packets.note("The screen is dark again", asset=serial)
    asked = next(one for one in second.questions if one.id == "tried")
    lines = (asked.answer.value or "").splitlines()
    assert [line[17:] for line in lines] == ["Switched it off and on: It stays dark", "Other cable"]
    assert asked.answer.source and asked.answer.source.startswith("what was tried on")
    around = marit.assets.context(serial)
    assert [one.step for one in around.tried] == ["Other cable", "Switched it off and on"]
    assert {one.number for one in around.open} == {first.number, second.number}
    assert around.tried[0].by == "teo"
    teo.packets.untry(step.id)
    assert [one.step for one in marit.assets.context(serial).tried] == ["Other cable"]
    with pytest.raises(Refused):
        teo.packets.tried(first.number, "x", exhibit="nothing.png")


def test_what_was_tried_goes_out_redacted(marit: SealPacket) -> None:
    packet = marit.packets.note("The screen is dark", asset="LK40-7731-0932")
    marit.packets.tried(packet.number, "Asked jo.dunmore@quillmere.example", "no change")
    marit.packets.answer(packet.number, request="repair", tried=None)
    letter = marit.packets.letter(packet.number)
    said = "\n".join(case.text for case in letter.cases)
    assert "Asked " in said
    assert "jo.dunmore" not in said


def test_neighbours_and_changes_are_known_around_a_thing(marit: SealPacket) -> None:
    asset = marit.assets.get("LK40-7731-0926")
    marit.assets.change(asset.id, asset.version, software_version="7.5.0")
    around = marit.assets.context(asset.serial)
    assert [(one.field, one.new) for one in around.changes] == [("software_version", "7.5.0")]
    assert around.neighbours
    assert around.neighbours[0].same_model
