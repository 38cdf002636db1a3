"""What a sheet lets through its desk takes, and what its desk would refuse the checks stop before. Prints its tables."""

from __future__ import annotations

from dataclasses import replace
from typing import Any
from uuid import uuid4

import pytest

from sealpacket.channels import DeskRefused, Parcel
from sealpacket.client import SealPacket
from sealpacket.core.sheets import Fact, sample_packet
from sealpacket.core.sheets.defects import defects
from sealpacket.demo.house import STANDINS, RunningHouse
from tests.conftest import Standin, stops
from tests.service.desk_numbers import (
    NOT_SENT,
    SPOKEN,
    against,
    facts_for,
    said_of,
    said_soon,
    sheet_of,
    stopped,
    way_to,
)
from tests.some import ALL, SAMPLES, SEED

EVERY = 1 if ALL else 4
"""Of good packets for each desk; `make fuzz` takes 200, and sends every defect to the slow desks as well."""


@pytest.mark.parametrize("vendor", sorted(STANDINS))
def test_no_good_packet_is_refused_by_its_desk(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    sheet = sheet_of(marit, vendor)
    refused: dict[str, Any] = {}
    numbers, different = [], set()
    with way_to(house, sheet, vendor) as desk:
        for seed in range(SAMPLES):
            number = f"S-{uuid4().hex[:8]}"
            sample = sample_packet(sheet, seed, facts_for(vendor, sheet, number, seed))
            numbers.append(number)
            different.add(
                str(sorted((a.question, a.value or "") for a in sample.answers if a.shown))
            )
            try:
                for place, case in enumerate(sample.cases):
                    desk.lodge(Parcel(f"{number}/{place}", number, case, []))
            except DeskRefused as refusal:
                refused[number] = (seed, refusal.body)
    if vendor in SPOKEN:
        refused |= said_of(Standin(house, vendor), numbers)
    print(f"{vendor}: {SAMPLES} good packets, {len(refused)} refused")
    assert refused == {}
    assert len(different) > SAMPLES * 0.8, "they are not all the same packet"


@pytest.mark.parametrize("vendor", sorted(STANDINS))
def test_what_a_desk_would_refuse_is_stopped_before(
    house: RunningHouse, marit: SealPacket, vendor: str
) -> None:
    """Both ways: each defect is a stop of ours; and there is none that the desk refuses and we let through."""
    sheet, rows, waiting = sheet_of(marit, vendor), [], {}
    with way_to(house, sheet, vendor) as desk:
        for place, kind in enumerate(sheet.kinds):
            for draft in defects(sheet, facts_for(vendor, sheet, "D-0", place)):
                number = f"D-{uuid4().hex[:8]}"
                facts = {**draft.facts, "packet.number": Fact(value=number, source="a defect")}
                some = vendor not in SPOKEN or len(rows) % EVERY == SEED % EVERY
                theirs = (
                    against(desk, sheet, replace(draft, facts=facts), number) if some else NOT_SENT
                )
                if vendor in SPOKEN and not theirs:
                    waiting[number] = len(rows)
                rows.append((f"{kind.need}: {draft.name}", stopped(sheet, draft), theirs))
    for number, told in said_soon(house, vendor, waiting).items():
        rows[waiting[number]] = (*rows[waiting[number]][:2], told)
    print(f"\n{vendor}: {len(rows)} defects")
    for name, ours, theirs in rows:
        print(
            f"  {name:56}  we: {', '.join(sorted(set(ours))) or '-':24}  desk: {theirs[:60] or 'takes it'}"
        )
    assert len({name.partition(": ")[2] for name, _, _ in rows}) >= 40
    assert [name for name, ours, _ in rows if not ours] == []
    assert sum(theirs not in ("", NOT_SENT) for _, _, theirs in rows) >= 8, (
        "the desk is strict as well"
    )


@pytest.mark.parametrize(
    ("vendor", "asset", "answers"),
    [
        ("tarnfell", "TN9-44120-A", {"category": "volume/latency", "severity": "3", "began_at": "2026-11-20T07:40+00:00"}),
        ("ovenbird", "OBS4-551203", {"kind": "hw_fault", "effect": "degraded", "reply_by": "mail"}),
        ("lumenlathe", "LK40-7731-0929", {"error_code": "E417", "enter": "yes", "since": "2026-11-22T08:40+00:00"}),
        ("pellwick", "PW-LIC-5520", {"area": "backup/fails", "impact": "hindered", "since": "2026-11-22T08:40+00:00"}),
        ("saddlewick", "SW3K-70455", {"what": "battery", "since": "2026-11-22", "load": "2 kVA",
                                      "goods": "Battery SB-12 | 4 | 24", "safe": "yes"}),
    ],
)  # fmt: skip
def test_a_hardware_fault_takes_five_answers_at_most(
    marit: SealPacket, vendor: str, asset: str, answers: dict[str, str]
) -> None:
    """Title, note and thing are given when it is noted; everything else is prefilled with its source."""
    note = "Since this morning it does not work; nothing was changed before, and a restart was tried without effect."
    packet = marit.packets.note("It does not do what it should", note, asset=asset)
    packet = marit.packets.answer(packet.number, **answers)
    assert stops(packet) == []
    rest = [
        question
        for question in packet.questions
        if question.answer.value and not question.answer.typed
    ]
    print(f"{vendor}: {len(answers)} typed, {len(rest)} prefilled: "
          + "; ".join(f"{q.id} from {q.answer.source}" for q in rest))  # fmt: skip
    assert len(answers) <= 5
    assert all(question.answer.source for question in rest)


def test_a_desk_does_refuse_what_is_not_good(house: RunningHouse, marit: SealPacket) -> None:
    """The measure above could fail: with a serial that the vendor does not know every sample is refused."""
    sheet = sheet_of(marit, "tarnfell")
    sample = sample_packet(sheet, 1, {"asset.serial": "TN9-00000-Z"})
    with way_to(house, sheet, "tarnfell") as desk, pytest.raises(DeskRefused):
        desk.lodge(Parcel("x", f"S-{uuid4().hex[:8]}", sample.cases[0], []))
