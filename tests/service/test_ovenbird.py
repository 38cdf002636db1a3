"""Ovenbird's desk: a form with files, a login that must have the contract, and looking how it stands."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path
from typing import Any

import httpx
import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.core.life import DeliveryState, Life
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.world import sheet_text
from sealpacket.services.packets.lodge.deliveries import deliver
from sealpacket.services.packets.workbench import find_packet
from tests import plain_http
from tests.conftest import Standin, add, stops, until

SWITCH, FIREWALL = "OBS4-551203", "OBF2-118804"
NOTE = "Ports 12 to 24 of the switch lose their link every few minutes since the night."
ANSWERS = {"kind": "hw_fault", "effect": "degraded", "reply_by": "mail", "contact": "teo"}


class Ovenbird(Standin):
    """The stand-in's control, and a customer of its own."""

    def __init__(self, house: RunningHouse) -> None:
        super().__init__(house, "ovenbird")

    def post(
        self, fields: dict[str, str], files: Any = (), who: str = "teo.valcourt@quillmere.example"
    ) -> httpx.Response:
        parts = [(name, (None, value)) for name, value in fields.items()]
        return plain_http.post(
            f"{self.address}/requests",
            files=[*parts, *files],
            auth=(who, self.token),
        )


@pytest.fixture
def ovenbird(house: RunningHouse) -> Iterator[Ovenbird]:
    desk = Ovenbird(house)
    yield desk
    desk.steer(down=False, slow=0, refuse=None)


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    """A packet about a switch with all that the desk wants to know."""
    packet = marit.packets.note("Ports lose their link", NOTE, asset=SWITCH)
    return marit.packets.answer(packet.number, **ANSWERS)


def lodged(marit: SealPacket, number: str) -> PacketShown:
    marit.packets.seal(number)
    marit.packets.lodge(number)
    return marit.packets.wait(number)


def test_a_packet_goes_as_a_form_with_its_files_and_comes_back_with_a_reference(
    marit: SealPacket, ovenbird: Ovenbird, ready: PacketShown, tmp_path: Path
) -> None:
    assert stops(ready) == []
    typed = [question.id for question in ready.questions if question.answer.typed]
    assert len(typed) <= 4, "the rest is known"
    add(
        marit,
        ready.number,
        tmp_path / "ports.log",
        b"port 12 down\nhost br03-switch1.quillmere.example reloads\n",
    )
    packet = lodged(marit, ready.number)
    assert (packet.life, packet.turn, (packet.reference or "")[:4]) == (
        "lodged",
        "vendor",
        "OBR-",
    ), packet.status_text
    case = ovenbird.case(packet.reference)
    assert case["account"] == "teo.valcourt@quillmere.example"
    assert {name: case["fields"][name] for name in ("serial_no", "contract_no", "line", "kind", "contact_name")} == {
        "serial_no": SWITCH, "contract_no": "4388", "line": "switch", "kind": "hw_fault", "contact_name": "Teo Valcourt",
    }  # fmt: skip
    assert [file["name"] for file in case["files"]] == ["ports.log"]


def test_a_repeated_lodge_makes_no_second_case(
    marit: SealPacket, ovenbird: Ovenbird, ready: PacketShown, inside: AppContext
) -> None:
    """Ovenbird knows no keys: it is asked for our number before a case is sent again."""
    packet = lodged(marit, ready.number)
    before = len(ovenbird.look()["cases"])
    with (
        inside.database.transaction() as session
    ):  # as if the worker had died before it heard the answer
        kept = find_packet(session, packet.number, lock=True)
        kept.life, kept.reference = Life.SEALED, None
        kept.delivery.state, kept.delivery.tried = DeliveryState.SENDING, 0
        case = kept.cases[0]
        case.sent, case.begun, case.reference, case.life = False, True, None, None
        ident = kept.id
    deliver(inside, ident, 0)
    again = marit.packets.get(packet.number)
    assert (again.life, again.reference) == ("lodged", packet.reference)
    assert len(ovenbird.look()["cases"]) == before


def test_the_desk_asks_is_answered_solves_and_closes(
    marit: SealPacket, ovenbird: Ovenbird, ready: PacketShown
) -> None:
    packet = lodged(marit, ready.number)
    ovenbird.steer(case=packet.reference, ask="Which cable lengths?")
    asked = marit.packets.follow(packet.number)
    assert (asked.turn, asked.messages[-1].text, asked.messages[-1].asks) == (
        "ours",
        "Which cable lengths?",
        True,
    )
    marit.packets.reply(packet.number, "Thirty metres, all of them.")
    until(
        lambda: any(
            note["body"].startswith("Thirty") for note in ovenbird.case(packet.reference)["notes"]
        )
    )
    assert marit.packets.follow(packet.number).turn == "vendor"
    for state, life in (("Solved", "answered"), ("Closed", "settled")):
        ovenbird.steer(case=packet.reference, state=state)
        packet = marit.packets.follow(packet.number)
        assert packet.life == life


def test_a_login_without_the_contract_is_stopped_before_the_desk_would_refuse_it(
    marit: SealPacket, ovenbird: Ovenbird
) -> None:
    packet = marit.packets.note(
        "The image does not boot",
        "After the update the firewall does not start.",
        asset=FIREWALL,
    )
    marit.packets.change(packet.number, login="teo.valcourt@quillmere.example")
    packet = marit.packets.answer(packet.number, **{**ANSWERS, "kind": "sw_fault"})
    assert stops(packet) == ["cover"]
    cures = [(cure.code, cure.target) for cure in packet.ruling.cures]  # type: ignore[union-attr]
    # Other tests of this house may have tied another login to the contract; it is offered first.
    assert cures[-1] == ("tie_contract", "4471")
    assert {code for code, _target in cures[:-1]} <= {"use_login"}
    with pytest.raises(Refused, match="not tied to contract 4471"):
        marit.packets.seal(packet.number)
    told = ovenbird.post({**GOOD, "contract_no": "4471", "serial_no": FIREWALL, "line": "firewall"})
    assert [problem["kind"] for problem in told.json()["problems"]] == ["contract_not_linked"]


def test_a_refusal_says_what_to_do_and_nothing_is_lost(
    marit: SealPacket, ovenbird: Ovenbird, ready: PacketShown
) -> None:
    ovenbird.steer(refuse="serial_not_covered")
    packet = lodged(marit, ready.number)
    assert packet.life == "refused"
    assert (packet.refusals[0].code, packet.refusals[0].act) == ("serial_not_covered", "mend_asset")
    draft = marit.packets.reopen(packet.number)
    assert draft.life == "drafting"
    assert lodged(marit, draft.number).life == "lodged"


def test_a_desk_that_is_closed_is_tried_again(
    marit: SealPacket, ovenbird: Ovenbird, ready: PacketShown
) -> None:
    ovenbird.steer(down=True)
    marit.packets.seal(ready.number)
    marit.packets.lodge(ready.number)
    until(lambda: "not well" in marit.packets.get(ready.number).lodge_status_text)
    ovenbird.steer(down=False)
    assert until(lambda: marit.packets.get(ready.number).reference)


GOOD = {"your_reference": "X-1", "kind": "hw_fault", "subject": "Ports", "description": NOTE, "line": "switch",
        "serial_no": SWITCH, "contract_no": "4388", "effect": "minor", "contact_name": "Teo", "contact_email": "t@q.example",
        "reply_by": "mail"}  # fmt: skip


@pytest.mark.parametrize(
    ("changes", "files", "kind"),
    [
        ({"serial_no": ""}, [], "missing"),
        ({"colour": "red"}, [], "unknown_field"),
        ({"kind": "wish"}, [], "not_allowed"),
        ({"description": "too short"}, [], "length"),
        ({"kind": "sw_fault"}, [], "missing"),
        ({"reply_by": "phone"}, [], "missing"),
        ({"subject": "x" * 101}, [], "too_long"),
        ({"serial_no": "TN9-44120-A"}, [], "serial_not_covered"),
        ({}, [("file", ("a.exe", b"x"))], "file_type"),
        ({}, [("file", ("a.log", b""))], "file_size"),
        ({}, [("file", (f"{n}.log", b"x")) for n in range(6)], "too_many_files"),
        ({}, [("other", ("a.log", b"x"))], "unknown_field"),
    ],
)
def test_the_stand_in_has_rules_of_its_own(
    ovenbird: Ovenbird, changes: dict[str, str], files: Any, kind: str
) -> None:
    told = ovenbird.post(
        {**GOOD, "your_reference": f"X-{kind}-{len(str(changes))}", **changes}, files
    )
    assert told.status_code == 422
    assert kind in [problem["kind"] for problem in told.json()["problems"]]


def test_the_stand_in_knows_who_is_speaking(ovenbird: Ovenbird) -> None:
    assert ovenbird.post(GOOD, who="nobody@quillmere.example").status_code == 401
    assert plain_http.get(f"{ovenbird.address}/requests/OBR-1").status_code == 401


def test_a_sheet_with_faults_is_not_taken_and_all_of_them_are_told(
    marit: SealPacket, teo: SealPacket
) -> None:
    text = (
        sheet_text("ovenbird-support")
        .replace("prefill: packet.title", "prefill: packet.titel")
        .replace("{reference}/notes", "notes")
    )
    found = marit.lint_sheet(text).items
    assert [(one.level, one.code) for one in found] == [
        ("stop", "unknown-fact"),
        ("stop", "no-reference"),
    ]
    before = {desk.key: desk.version for desk in marit.desks()}
    with pytest.raises(Refused, match=f"Line {found[0].line}, .*packet.titel.* There are 1 more"):
        marit.put_sheet(text)
    assert {desk.key: desk.version for desk in marit.desks()} == before
    with pytest.raises(Refused, match="needs the role"):
        teo.lint_sheet(text)
