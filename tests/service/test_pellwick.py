"""Pellwick's desk: XML that its schema allows, files that only its certificate opens, and units."""

from __future__ import annotations

from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from tests import plain_http
from tests.conftest import Standin, add, lodge, stops, until
from tests.some import SOON

VENDOR = "pellwick"
LICENCE = "PW-LIC-5520"
NOTE = "Since Saturday the job of the catalogue fails; nothing was changed before, and a restart was tried."
ANSWERS = {"area": "backup/fails", "impact": "endangered", "since": "2026-11-21T02:10+00:00"}


@pytest.fixture
def ready(marit: SealPacket) -> PacketShown:
    packet = marit.packets.note("Backup of the catalogue fails", NOTE, asset=LICENCE)
    return marit.packets.answer(packet.number, **ANSWERS)


def test_a_fault_goes_as_xml_and_its_files_under_the_certificate(
    marit: SealPacket, house: RunningHouse, desk: Standin, ready: PacketShown, tmp_path: Path
) -> None:
    assert stops(ready) == []
    assert sum(question.answer.typed for question in ready.questions) <= 4
    add(
        marit,
        ready.number,
        tmp_path / "job.log",
        b"job catalogue failed on bs-array-a.quillmere.example\n",
    )
    letter = marit.packets.letter(ready.number)
    assert letter.cases[0].text.startswith("<?xml")
    assert letter.files == ["PF-01-job.log"]
    packet = lodge(marit, ready.number)
    assert (packet.life, (packet.reference or "")[:4]) == ("lodged", "PWK-"), packet.status_text
    case = desk.case(packet.reference)
    assert case["severity"] == "B", "the desk sets it from the impact"
    assert list(case["files"]) == ["PF-01-job.log.p7m"]
    clear = (
        house.folder / f"standins/pellwick/files/{packet.reference}-PF-01-job.log.p7m"
    ).read_bytes()
    assert clear.startswith(b"job catalogue failed on ")
    assert b"quillmere" not in clear
    assert marit.packets.follow(packet.number).cases[0].desk_facts["Severity"] == "B"


def test_the_severity_is_the_desks_and_its_words_are_told(ready: PacketShown) -> None:
    assert ready.severity is not None
    assert (ready.severity.set_by, ready.severity.level) == ("desk", "")
    assert len(ready.severity.levels) == 4
    assert ready.severity.escalation[0].action == "call the duty lead"


def test_what_the_schema_would_refuse_is_a_stop_with_its_words(
    marit: SealPacket, ready: PacketShown
) -> None:
    asset = marit.assets.add(
        vendor="pellwick", product="PW-BK9", serial="PWLIC99", software_version="9.3.1"
    )
    packet = marit.packets.note("Backup of the catalogue fails", NOTE, asset=asset.serial)
    packet = marit.packets.answer(packet.number, **ANSWERS)
    found = [
        check for check in packet.checks if check.code == "written-form" and check.level == "stop"
    ]
    assert "PW-LIC-" in found[0].sentence


def test_versions_of_the_product_are_offered_and_another_one_goes_on(
    marit: SealPacket, ready: PacketShown
) -> None:
    asked = next(one for one in ready.questions if one.id == "version")
    assert [(one.value, one.why) for one in asked.suggested] == [("9.4", "current version")], (
        "all but the one that it has"
    )
    packet = marit.packets.answer(ready.number, version="9.9")
    asked = next(one for one in packet.questions if one.id == "version")
    assert (asked.answer.value, asked.fault) == ("9.9", None)


def test_help_is_paid_with_units(marit: SealPacket, desk: Standin) -> None:
    packet = marit.packets.note("Help with the upgrade on a Saturday", "Two days of help to bring all agents to 9.4.",
                                asset=LICENCE, need="help")  # fmt: skip
    assert packet.ruling is not None and packet.ruling.route == "units"
    shown = {question.id for question in packet.questions}
    assert {"service", "days", "wanted"} <= shown
    assert not {"impact", "area"} & shown
    packet = marit.packets.answer(packet.number, service="on-site", days="2 days", wanted=SOON)
    assert "place" in {question.id for question in packet.questions}
    assert not any(check.code == "no-exhibit" for check in packet.checks), "nothing technical"
    packet = lodge(marit, packet.number)
    assert "<days>2</days>" in desk.case(packet.reference)["text"]
    assert "PW-7790" in desk.case(packet.reference)["text"]


def test_it_asks_is_answered_and_closes(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = lodge(marit, ready.number)
    desk.steer(case=packet.reference, ask="Which agent is it?")
    asked = marit.packets.follow(packet.number)
    assert (asked.turn, asked.messages[-1].asks) == ("ours", True)
    marit.packets.reply(packet.number, "The one on the <catalogue> & its twin.")
    until(
        lambda: (
            desk.case(packet.reference)["remarks"][-1]["text"]
            == "The one on the <catalogue> & its twin."
        )
    )
    desk.steer(case=packet.reference, state="done")
    assert marit.packets.follow(packet.number).life == "settled"


def test_a_refusal_in_xml_is_read(marit: SealPacket, desk: Standin, ready: PacketShown) -> None:
    desk.steer(refuse="not_covered")
    packet = lodge(marit, ready.number)
    assert (packet.life, packet.refusals[0].code, packet.refusals[0].act) == (
        "refused",
        "not_covered",
        "open_ruling",
    )


@pytest.mark.parametrize(
    ("document", "code"),
    [
        (b"<intake", "not_xml"),
        (b"<intake xmlns='urn:pellwick:intake:3'/>", "schema"),
        (b"<!DOCTYPE x [<!ENTITY a 'b'>]><intake>&a;</intake>", "schema"),
    ],
)
def test_the_stand_in_is_strict(desk: Standin, document: bytes, code: str) -> None:
    headers = {"Authorization": f"Bearer {desk.token}"}
    told = plain_http.post(
        f"{desk.address}/intakes",
        content=document,
        headers=headers,
    )
    assert told.status_code == 422
    assert f'code="{code}"' in told.text
    assert plain_http.post(f"{desk.address}/intakes", content=b"").status_code == 401


def test_the_stand_in_takes_no_file_in_clear(
    marit: SealPacket, desk: Standin, ready: PacketShown
) -> None:
    packet = lodge(marit, ready.number)
    headers = {"Authorization": f"Bearer {desk.token}"}
    url = f"{desk.address}/intakes/{packet.reference}/files/PF-01-a.log.p7m"
    told = plain_http.put(url, content=b"in clear", headers=headers)
    assert (told.status_code, 'code="not_for_us"' in told.text) == (422, True)
