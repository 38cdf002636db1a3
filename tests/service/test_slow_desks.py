"""Desks that answer a byte now and then: they keep their own packets waiting, and nothing else."""

from __future__ import annotations

from collections.abc import Iterator
from pathlib import Path

import pytest

from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from tests.conftest import ARRAY, GOOD_ANSWERS, NOTE, add, until
from tests.dripping import dripping

HOUSE = {"DESK_TIMEOUT": "300"}
"""So long that nothing is given up while the test looks."""


@pytest.fixture
def slow_desk(house: RunningHouse) -> Iterator[None]:
    """Tarnfell's desk begins every answer, and never ends one."""
    house.end("stand-in tarnfell")
    with dripping(b"HTTP/1.1 200 OK\r\nX-A: ", house.standin_ports["tarnfell"]):
        yield
    house.begin("stand-in tarnfell")


def test_slow_desks_delay_no_redaction_and_no_other_kind_of_work(
    marit: SealPacket, slow_desk: None, tmp_path: Path
) -> None:
    numbers = []
    for number in range(6):
        packet = marit.packets.note(f"Volumes are slow {number}", NOTE, asset=ARRAY)
        marit.packets.answer(packet.number, **GOOD_ANSWERS)
        marit.packets.seal(packet.number)
        numbers.append(packet.number)
    for one in numbers:
        marit.packets.lodge(one)

    def states() -> list[str]:
        return sorted(marit.packets.get(one).lodge_state for one in numbers)

    held = until(lambda: (s := states()).count("sending") == 4 and s)
    other = marit.packets.note("The array is slow", asset=ARRAY)
    for name in "abc":
        shown = add(marit, other.number, tmp_path / f"{name}.log", b"client 10.40.1.1 asked\n")
        assert shown.exhibits[-1].state == "ready"
    assert states() == held, "the desk holds as many as before"
