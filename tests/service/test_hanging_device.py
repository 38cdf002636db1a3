"""A device that answers nothing: it keeps its own kit waiting, and nothing else."""

from __future__ import annotations

from pathlib import Path

import pytest

from sealpacket.client import Refused, SealPacket
from sealpacket.demo import world
from tests.conftest import ARRAY, add, until
from tests.service.test_kits_in_the_house import kit

pytestmark = pytest.mark.usefixtures("devices")


def test_a_device_that_hangs_keeps_nothing_else_waiting(marit: SealPacket, tmp_path: Path) -> None:
    marit.kits.put(kit("try-hang", "id: a, what: x, ssh: print hang, secret: console, time: 600 s"))
    numbers = [
        marit.packets.note(f"Port {n} flaps", asset=world.SWITCH_SERIAL).number for n in "12"
    ]
    for number in numbers:
        marit.kits.collect(number, "try-hang", 1)

    def states() -> list[str]:
        return [marit.packets.get(number).kit_runs[0].state for number in numbers]

    until(lambda: states() == ["running", "waiting"])
    with pytest.raises(Refused) as twice:
        marit.kits.collect(numbers[0], "try-hang", 1)
    assert twice.value.code == "busy"
    other = marit.packets.note("The array is slow", asset=ARRAY)
    redacted = add(marit, other.number, tmp_path / "c.log", b"2026-11-28T08:00:00Z c0 slow\n")
    assert redacted.exhibits[0].state == "ready"
    assert states() == ["running", "waiting"]
