"""Caring for desks: trying and keeping sheets, drafts brought along, desks that call, and what was picked before."""

from __future__ import annotations

import hmac
import json
from pathlib import Path
from uuid import uuid4

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.client.models import PacketShown
from sealpacket.demo.house import RunningHouse
from sealpacket.demo.world import sheet_text
from tests import plain_http
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, Standin, Tarnfell, add, until


def test_a_sheet_comes_back_as_it_was_written(marit: SealPacket) -> None:
    assert marit.desk("tarnfell-support").yaml == sheet_text("tarnfell-support")
    assert marit.desk("pellwick-intake").yaml.startswith("# Pellwick's desk: XML")


def test_a_preview_shows_what_is_found_and_what_is_written(
    marit: SealPacket, teo: SealPacket
) -> None:
    text = sheet_text("hollowmere-requests")
    shown = marit.preview_sheet(text, seed=3, need="change")
    assert (shown.findings, shown.needs) == ([], ["capacity", "change", "question"])
    assert '"kind": "level"' in shown.cases[0].text
    assert any("the kind of need is change" in one.because for one in shown.answers)
    broken = marit.preview_sheet(text.replace("prefill: packet.title", "prefill: packet.titel"))
    assert (broken.findings[0].code, broken.cases) == ("unknown-fact", [])
    with pytest.raises(Refused, match="needs the role"):
        teo.preview_sheet(text)


def test_a_sheet_is_tried_at_its_stand_in_and_nowhere_else(
    marit: SealPacket, house: RunningHouse
) -> None:
    before = len(Standin(house, "ovenbird").look()["cases"])
    taken = marit.try_sheet(sheet_text("ovenbird-support"), "OBS4-551203")
    assert taken.status_text == "The stand-in takes it."
    assert Standin(house, "ovenbird").case(taken.reference)["fields"]["serial_no"] == "OBS4-551203"
    refused = marit.try_sheet(sheet_text("ovenbird-support"), "OBF2-118804")
    assert [reason.code for reason in refused.refusals] == ["contract_not_linked"]
    assert len(Standin(house, "ovenbird").look()["cases"]) == before + 1
    with pytest.raises(Refused, match="No stand-in is configured"):
        marit.try_sheet(
            sheet_text("ovenbird-support").replace("desk: ovenbird-support", "desk: ovenbird-real"),
            "OBS4-551203",
        )
    with pytest.raises(Refused, match="cannot be used"):
        marit.try_sheet("sheet: 2", "OBS4-551203")


def own_desk(marit: SealPacket) -> tuple[str, str]:
    """A vendor, a thing and a desk of one's own: the thing's serial, and the sheet."""
    mark = uuid4().hex[:8]
    marit.vendors.add(key=f"v{mark}", name=f"Vendor {mark}")
    marit.products.add(vendor=f"v{mark}", part_number="X-1", name="Thing")
    serial = marit.assets.add(vendor=f"v{mark}", product="X-1", serial=f"X-{mark}").serial
    text = sheet_text("tarnfell-support").replace("desk: tarnfell-support", f"desk: d{mark}")
    return serial, text.replace("vendor: tarnfell", f"vendor: v{mark}")


def test_a_draft_keeps_its_sheet_until_it_is_brought_along(marit: SealPacket) -> None:
    serial, text = own_desk(marit)
    marit.put_sheet(text)
    packet = marit.packets.note("Volumes are slow", NOTE, asset=serial)
    marit.packets.answer(packet.number, **GOOD_ANSWERS)
    with pytest.raises(Refused, match="has the newest sheet"):
        marit.packets.sheet_changes(packet.number)
    newer = text.replace("          - {value: latency, label: Slow answers}\n", "").replace(
        "In which time zone", "Where, by zone, and in"
    )
    marit.put_sheet(newer)
    waiting = marit.packets.get(packet.number)
    assert (waiting.sheet_version, waiting.sheet_waiting) == (1, 2)
    changes = marit.packets.sheet_changes(packet.number)
    assert {(one.what, one.answer) for one in changes.differences} >= {
        ("dropped", "volume/latency"),
        ("changed", ""),
    }
    brought = marit.packets.bring_along(packet.number)
    answers = {question.id: question.answer.value for question in brought.questions}
    assert (brought.sheet_version, brought.sheet_waiting, answers["category"]) == (2, None, None)
    assert answers["severity"] == "2", "what can stay stays"
    log = marit.custody(f"packet {packet.number}", limit=3)
    assert any(
        entry.action == "sheet renewed" and entry.detail["dropped"] == ["category"] for entry in log
    )


def call(
    house: RunningHouse, desk: str, body: bytes, secret: str, header: str = "X-Tarnfell-Signature"
) -> int:
    signature = hmac.new(secret.encode(), body, "sha256").hexdigest()
    url = f"{house.address}/hooks/{desk}"
    return plain_http.post(url, content=body, headers={header: signature}).status_code


def test_a_desk_calls_and_we_look(
    house: RunningHouse, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    tarnfell.steer(case=lodged.reference, ask="Which firmware?")
    asked = until(lambda: (packet := marit.packets.get(lodged.number)).turn == "ours" and packet)
    assert asked.messages[-1].text == "Which firmware?"


def test_a_call_that_is_not_signed_does_nothing(
    house: RunningHouse, marit: SealPacket, lodged: PacketShown, tarnfell: Tarnfell
) -> None:
    body = json.dumps({"case": {"reference": lodged.reference, "state": "CLOSED"}}).encode()
    assert call(house, "tarnfell-support", body, "made-up") == 403
    assert call(house, "tarnfell-support", body, tarnfell.token, header="X-Other") == 403
    assert call(house, "ovenbird-support", body, tarnfell.token) == 404, (
        "a desk that is polled does not call"
    )
    assert call(house, "nobody", body, tarnfell.token) == 404
    assert call(house, "tarnfell-support", b"x" * 70_000, tarnfell.token) == 413
    assert call(house, "tarnfell-support", b"[" * 5000, tarnfell.token) == 204
    assert call(house, "tarnfell-support", body, tarnfell.token) == 204
    marit.packets.follow(lodged.number)
    assert marit.packets.get(lodged.number).life == "lodged", (
        "what a call says is looked up, not believed"
    )


def test_what_was_picked_for_this_model_is_said(marit: SealPacket, lodged: PacketShown) -> None:
    again = marit.packets.note("Volumes on the array answer slowly", NOTE, asset=ARRAY)
    category = next(question for question in again.questions if question.id == "category")
    assert category.answer.value is None, "said, never filled in"
    assert category.suggested[0].value == "volume/latency"
    assert "same model: " in category.suggested[0].why


def test_a_file_of_another_vendors_packet_is_told(marit: SealPacket, tmp_path: Path) -> None:
    content = f"a log with {uuid4().hex}\n".encode()
    first = marit.packets.note("Ports lose their link", NOTE, asset="OBS4-551203")
    add(marit, first.number, tmp_path / "both.log", content)
    second = marit.packets.note("Volumes are slow", NOTE, asset=ARRAY)
    packet = add(marit, second.number, tmp_path / "same.log", content)
    warned = next(check for check in packet.checks if check.code == "file-of-another")
    assert (warned.target, first.number in warned.sentence) == ("same.log", True)


def test_a_serial_of_another_model_is_told(marit: SealPacket) -> None:
    serial, _ = own_desk(marit)
    asset = marit.assets.get(serial)
    marit.products.add(vendor=asset.vendor, part_number="Y-1", name="Other thing")
    for number in range(3):
        marit.assets.add(
            vendor=asset.vendor, product="Y-1", serial=f"YY-{number}{uuid4().int % 10**6:06d}-Q"
        )
    odd = marit.assets.add(
        vendor=asset.vendor, product="X-1", serial=f"YY-9{uuid4().int % 10**6:06d}-Q"
    )
    text = sheet_text("tarnfell-support").replace(
        "desk: tarnfell-support", f"desk: {asset.vendor}d"
    )
    marit.put_sheet(text.replace("vendor: tarnfell", f"vendor: {asset.vendor}"))
    packet = marit.packets.note("It does not start", NOTE, asset=odd.serial)
    warned = next(check for check in packet.checks if check.code == "serial-model")
    assert "looks like one of Other thing, and the register says Thing" in warned.sentence


def test_people_who_are_away_and_their_needs_are_kept(marit: SealPacket) -> None:
    key = f"p-{uuid4().hex[:6]}"
    person = marit.people.add(
        key=key, name="Pat Away", mail="pat@quillmere.example", phone="+441632960155", reach_by="mail",
        access_needs="a relay service", away_from_on="2026-01-01", away_until_on="2099-01-01",
    )  # fmt: skip
    shown = next(
        one for one in marit.packets.note("x y z", NOTE, asset=ARRAY).people if one.key == key
    )
    assert shown.away == "2099-01-01"
    with pytest.raises(Refused, match="before away_from_on"):
        marit.people.change(person.id, person.version, away_until_on="2025-01-01")
