"""A short form of the storm, of which `make fuzz` plays more; and replies that come doubled, forged and in any order."""

from __future__ import annotations

import os
import random

import pytest

from sealpacket.app.context import AppContext
from sealpacket.client import SealPacket
from sealpacket.demo.house import RunningHouse
from tests.some import ALL
from tests.storm import Letters, Storm, wanted

PROCESSES = 2
PACKETS, FAULTS = (60, 20) if ALL else (12, 8)
EACH, FORGED = (20, 5) if ALL else (8, 3)


@pytest.mark.timeout(1800)
def test_nothing_is_lost_and_nothing_done_twice(house: RunningHouse) -> None:
    storm = Storm(house, house.client(), int(os.environ["SEALPACKET_SEED"]))
    storm.prepare(PACKETS)
    storm.lodge_in(FAULTS)
    assert sum(storm.faults.values()) == FAULTS
    assert storm.until_all(lambda packet: packet.life == "lodged" and bool(packet.reference)) == {}
    at_desks = storm.count_at_desks()
    for number, references in at_desks.items():
        packet = storm.client.packets.get(number)
        assert len(references) == wanted(packet), (number, references, storm.faults)
        assert {case.reference for case in packet.cases} == set(references)
    storm.close_all()
    assert storm.until_all(lambda packet: packet.life == "settled") == {}


def test_each_reply_counts_once_in_its_place_and_forged_ones_not_at_all(
    marit: SealPacket, house: RunningHouse, inside: AppContext
) -> None:
    storm = Storm(house, marit, int(os.environ["SEALPACKET_SEED"]))
    storm.prepare(4, ["lumenlathe"])
    storm.lodge_all()
    assert storm.until_all(lambda packet: bool(packet.reference)) == {}
    letters = Letters(marit, inside, [*storm.numbers])
    refused = letters.take(letters.write(EACH, FORGED, random.Random(storm.seed)))
    assert refused == FORGED * len(storm.numbers)
    assert letters.wrong(EACH) == {}
