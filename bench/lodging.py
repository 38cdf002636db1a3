"""Lodging and replies: that nothing is lost or doubled whatever is killed, and how fast packets leave."""

from __future__ import annotations

import os
import random
import statistics
import sys
import time
from concurrent.futures import ThreadPoolExecutor
from pathlib import Path
from typing import Any
from unittest.mock import patch

from figures import figure, house_of_its_own, seconds

from sealpacket.app.context import AppContext
from sealpacket.services.packets.inbound_mail import take
from sealpacket.settings import Settings

sys.path.insert(0, str(Path(__file__).parent.parent))
from tests.storm import Letters, Storm, wanted

SEED = int(os.environ.get("SEALPACKET_SEED", "1"))
PACKETS, FAULTS = 500, 200
WRITTEN_TO, EACH, FORGED = 100, 49, 2
"""Packets that get replies; to each so many, every one twice; so many forged ones to each."""
AT_ONCE, STEADY = 200, 200
WORKERS, BELOW = 4, 0.7
"""Packets are lodged by so many workers: first all at once, then at this part of what they can."""
SMALL = ["tarnfell", "ovenbird", "pellwick"]
"""Desks over HTTP that want one case of a packet."""


def exactly_once() -> list[dict[str, Any]]:
    """Packets to all desks, while whatever has to do with them is killed or stopped."""
    with house_of_its_own() as house:
        storm = Storm(house, house.client(), SEED, patience=1800)
        storm.prepare(PACKETS)
        took = seconds(lambda: storm.lodge_in(FAULTS))
        left = storm.until_all(lambda packet: packet.life == "lodged" and bool(packet.reference))
        packets = [storm.client.packets.get(number) for number in storm.numbers]
        at_desks = storm.count_at_desks()
        more = sum(max(0, len(at_desks[p.number]) - wanted(p)) for p in packets)
        storm.close_all()
        open_still = storm.until_all(lambda packet: packet.life == "settled")
        for number, standing in {**left, **open_still}.items():
            print(number, standing, file=sys.stderr)
    return [
        figure(f"{FAULTS} faults while {PACKETS} packets were lodged, seed {SEED}", took, "s"),
        figure("  of them lost", len(left), "packets", 0),
        figure("  lodged twice", more, "cases", 0),
        figure("  not settled in the end", len(open_still), "packets", 0),
    ]


def replies() -> list[dict[str, Any]]:
    """Replies in any order, each twice, some forged."""
    with house_of_its_own() as house:
        storm = Storm(house, house.client(), SEED)
        storm.prepare(WRITTEN_TO, ["lumenlathe"])
        storm.lodge_all()
        assert not storm.until_all(lambda packet: bool(packet.reference))
        environment = {k: v for k, v in house.environment().items() if k.startswith("SEALPACKET_")}
        with patch.dict(os.environ, environment), patch.object(take, "MAILS_AN_HOUR", 10**6):
            inside = AppContext(Settings(console=None), lambda *_args, **_more: None)
            chance = random.Random(SEED)  # noqa: S311 - an order, no secret
            letters = Letters(storm.client, inside, [*storm.numbers])
            written = letters.write(EACH, FORGED, chance)
            begun = time.perf_counter()
            refused = letters.take(written)
            took = time.perf_counter() - begun
            wrong = letters.wrong(EACH)
    return [
        figure("replies by mail, doubled, in any order, some forged", len(written), "mails"),
        figure("  taken in", len(written) / took, "1/s"),
        figure("  packets that do not have each once and in place", len(wrong), "packets", 0),
        figure("  forged ones taken", FORGED * WRITTEN_TO - refused, "mails", 0),
    ]


def pace() -> list[dict[str, Any]]:
    """How many small packets leave in a second, and how long one waits in the queue below that."""
    with house_of_its_own() as house:
        storm = Storm(house, house.client(), SEED)
        storm.prepare(AT_ONCE + STEADY, SMALL)
        numbers = [*storm.numbers]
        house.end("worker")
        with ThreadPoolExecutor(4) as threads:
            list(threads.map(storm.client.packets.lodge, numbers[:AT_ONCE]))
        for place in range(WORKERS):
            house.begin(f"worker {place + 1}")
        at_once = numbers[:AT_ONCE]
        lodged = sorted(_lodged_at(storm, number) for number in reversed(at_once))
        lodged = lodged[AT_ONCE // 3 :]  # all workers are up by then
        rate = (len(lodged) - 1) / (lodged[-1] - lodged[0])
        asked = _at_a_rate(storm, numbers[AT_ONCE:], rate * BELOW)
        waits = [_lodged_at(storm, number) - at for number, at in asked.items()]
    below = f"  from asking to the desk's answer at {rate * BELOW:.0f} a second"
    return [
        figure(f"small packets lodged by {WORKERS} workers", rate, "1/s", at_least=50),
        figure(f"{below}, median", statistics.median(waits), "s"),
        figure(f"{below}, p95", statistics.quantiles(waits, n=20)[-1], "s", 1),
    ]


def _at_a_rate(storm: Storm, numbers: list[str], rate: float) -> dict[str, float]:
    """Ask for lodging at so many a second; by packet, when it was asked for."""
    begun = time.time()

    def ask(place: int) -> tuple[str, float]:
        time.sleep(max(0.0, begun + place / rate - time.time()))
        at = time.time()
        storm.client.packets.lodge(numbers[place])
        return numbers[place], at

    with ThreadPoolExecutor(8) as threads:
        return dict(threads.map(ask, range(len(numbers))))


def _lodged_at(storm: Storm, number: str) -> float:
    """When it was lodged, waited for without asking often: whoever asks takes the processor from the workers."""
    end = time.monotonic() + storm.patience
    while time.monotonic() < end:
        at = storm.client.packets.get(number).lodged_at
        if at is not None:
            return at.timestamp()
        time.sleep(1)
    raise AssertionError(f"{number} was not lodged")


def figures() -> list[dict[str, Any]]:
    """Everything about lodging and replies."""
    return [*pace(), *replies(), *exactly_once()]
