"""Two logs of the same events whose clocks differ: how far is found within a second, whatever happened to them."""

from __future__ import annotations

import os
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta
from random import Random

import pytest

from sealpacket.core.evidence.clocks import Timed, clock_error

START = datetime(2026, 11, 23, 6, tzinfo=UTC)


@dataclass
class Pair:
    """Both logs, and for each line of the second what has to be added to its moment."""

    first: list[Timed]
    second: list[Timed]
    apart: list[float]


def make_pair(
    seed: int, *, offset: float, drift: float, jumps: int, lost: float, whole: bool
) -> Pair:
    """Some hours of both logs: each has lines of its own, and loses some of what both tell of.

    With `whole` they tell whole seconds.
    """
    chance = Random(seed)
    events, at = [], START
    while at < START + timedelta(hours=8):
        at += timedelta(seconds=chance.uniform(1, 30))
        events.append(at)
    steps = sorted(
        (chance.choice(events), chance.choice((-3600, -40, -5, 5, 60, 7200))) for _ in range(jumps)
    )
    pair = Pair([], [], [])
    for number, at in enumerate(events):
        ident = f"req-{chance.randint(10**6, 10**7)}"
        error = offset + drift * (at - START).total_seconds()
        error += sum(step for moment, step in steps if at >= moment)
        if chance.random() > lost:
            pair.first.append((at, f"array-a volume 7 {ident} queued in 14 ms"))
        if chance.random() < 0.3:
            pair.first.append((at, f"array-a flush {number % 9} of pool-1 took 4711 ms"))
        if chance.random() > lost:
            there = at + timedelta(seconds=chance.uniform(0, 0.4))
            pair.second.append(
                (there - timedelta(seconds=error), f"host br07: {ident} done, status 200")
            )
            pair.apart.append(error)
        if chance.random() < 0.3:
            pair.second.append(
                (at - timedelta(seconds=error), f"host br07: session-{chance.randint(1, 40)} idle")
            )
            pair.apart.append(error)
    if whole:
        pair.first = [(at.replace(microsecond=0), line) for at, line in pair.first]
        pair.second = [(at.replace(microsecond=0), line) for at, line in pair.second]
    return pair


@pytest.mark.parametrize("number", range(24))
def test_the_error_of_a_clock_is_found_within_a_second(number: int) -> None:
    chance = Random(f"{os.environ['SEALPACKET_SEED']} {number}")
    pair = make_pair(
        chance.randint(0, 10**9),
        offset=chance.choice((0, 0.5, -37, 3600, -86_400)),
        drift=chance.choice((0, 0.0001, -0.0003)),
        jumps=number % 4,
        lost=chance.choice((0, 0.2, 0.5)),
        whole=number % 3 == 0,
    )
    found = clock_error(pair.first, pair.second)
    assert found is not None
    assert len(found.stretches) <= 1 + number % 4
    sure = {line for one in found.stretches for line in range(one.first, one.last + 1)}
    wrong = [
        line
        for line, (moment, _) in enumerate(pair.second)
        if abs(found.at(line, moment).total_seconds() - pair.apart[line]) > 1
    ]
    # Where a clock was set, lines between the last match before and the first after may belong to either side.
    assert [line for line in wrong if line in sure] == [], found.stretches
    assert len(sure) > 0.9 * len(pair.second)


def test_logs_of_different_things_are_not_compared() -> None:
    first = [(START + timedelta(seconds=n), f"volume req-{n} queued") for n in range(500)]
    second = [(START + timedelta(seconds=n), f"door card-{n} opened") for n in range(500)]
    assert clock_error(first, second) is None


def test_words_that_mean_something_else_do_not_mislead() -> None:
    chance = Random(7)
    pair = make_pair(7, offset=120, drift=0, jumps=0, lost=0.3, whole=True)
    shuffled = [f"part-{n}" for n in range(200)]
    chance.shuffle(shuffled)
    first = pair.first + [
        (START + timedelta(seconds=40 * n), f"part-{n} counted") for n in range(200)
    ]
    second = pair.second + [
        (START + timedelta(seconds=41 * n), f"{one} seen") for n, one in enumerate(shuffled)
    ]
    found = clock_error(first, second)
    assert found is not None
    assert abs(found.at(10, pair.second[10][0]).total_seconds() - 120) < 1
