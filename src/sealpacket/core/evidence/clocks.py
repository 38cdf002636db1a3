"""The difference between the clocks of two logs, from events that are in both.

Lines are matched by words that are rare in both, such as numbers of sessions, requests or parts.
"""

from __future__ import annotations

import re
import statistics
from collections.abc import Iterable, Sequence
from dataclasses import dataclass, field
from datetime import datetime, timedelta
from zlib import crc32

_WORD = re.compile(r"[A-Za-z0-9][\w.:-]{3,63}")
_MOST_WORDS = 50_000
"""Different words of a log that are remembered; of more, a part that is the same in both logs."""
_RARE = 2
"""Maximum number of lines that share a word, for the word to identify an event."""
_RUN = 7
"""Matched lines that have to agree before a clock is believed to have jumped."""
_LEAST_JUMP = 0.8
_CLOSE = 2.0
"""Seconds by which lines about one event are apart at most, beside the error of the clocks."""
_FAR_APART = 4 * _RUN
_LONG_SPAN = 600.0

Timed = tuple[datetime, str]
"""A line with its time. Both logs must state an offset, or neither."""


@dataclass(frozen=True)
class Stretch:
    """Lines `first` to `last` of the second log, between two jumps of a clock.

    What has to be added to a moment of theirs is `offset` seconds at `start`, and `drift` more for each second after
    it. Lines between two stretches may belong to either.
    """

    first: int
    last: int
    start: datetime
    offset: float
    drift: float

    def at(self, moment: datetime) -> timedelta:
        """The offset to add to a time of the second log to get that of the first."""
        return timedelta(seconds=self.offset + self.drift * (moment - self.start).total_seconds())


@dataclass(frozen=True)
class ClockError:
    """How far two clocks are apart; `matched` lines were found in both logs. `stretches` lie one behind the other."""

    stretches: tuple[Stretch, ...]
    matched: int

    def at(self, line: int, moment: datetime) -> timedelta:
        """The offset to add to the time of a line of the second log (counted from 0)."""
        chosen = self.stretches[0]
        for one in self.stretches:
            if line >= one.first:
                chosen = one
        return chosen.at(moment)


@dataclass
class _Words:
    """The rare words of a log, with the lines where they are; at most _MOST_WORDS."""

    share: int = 1
    places: dict[str, list[tuple[int, datetime]]] = field(default_factory=dict)

    def add(self, number: int, moment: datetime, line: str) -> None:
        for word in _WORD.findall(line):
            if any(sign.isdigit() for sign in word) and crc32(word.encode()) % self.share == 0:
                found = self.places.setdefault(word, [])
                if len(found) <= _RARE:
                    found.append((number, moment))
        if len(self.places) > _MOST_WORDS:
            self.share *= 2
            self.places = {
                word: found
                for word, found in self.places.items()
                if crc32(word.encode()) % self.share == 0
            }


@dataclass(frozen=True)
class _Pair:
    line: int
    moment: datetime
    apart: float


def clock_error(first: Iterable[Timed], second: Iterable[Timed]) -> ClockError | None:
    """How far the clock of the second log is off that of the first; None where too few lines can be matched.

    A clock may run too fast or too slow and may have been set meanwhile; lines may be missing in either log.
    """
    words, others = _Words(), _Words()
    for number, (moment, line) in enumerate(first):
        words.add(number, moment, line)
    for number, (moment, line) in enumerate(second):
        others.add(number, moment, line)
    pairs = _without_strays(_pairs(words, others))
    if len(pairs) < 3:
        return None
    stretches = [_fitted(part) for part in _parts(pairs)]
    return ClockError(tuple(stretches), len(pairs))


def _pairs(words: _Words, others: _Words) -> list[_Pair]:
    """Pairs of lines about the same event, in the order of the second log; each line once."""
    found: dict[int, list[_Pair]] = {}
    for word, places in others.places.items():
        there = words.places.get(word, ())
        if len(places) > _RARE or len(there) != len(places):
            continue
        for (line, moment), (_, before) in zip(places, there, strict=True):
            pair = _Pair(line, moment, (before - moment).total_seconds())
            found.setdefault(line, []).append(pair)
    middle = (sorted(pairs, key=lambda one: one.apart)[len(pairs) // 2] for pairs in found.values())
    return sorted(middle, key=lambda one: one.line)


def _without_strays(pairs: Sequence[_Pair]) -> list[_Pair]:
    """Without pairs that have nothing in common with most of their neighbours: their words meant something else."""
    kept = []
    for place, pair in enumerate(pairs):
        around = pairs[max(0, place - _RUN) : place + _RUN + 1]
        near = sum(abs(one.apart - pair.apart) < _CLOSE for one in around) - 1
        if near >= min(3, len(around) - 1):
            kept.append(pair)
    return kept


def _parts(pairs: Sequence[_Pair]) -> list[list[_Pair]]:
    """The pairs between jumps of a clock."""
    jump = max(_LEAST_JUMP, 2.2 * _noise(pairs))
    parts: list[list[_Pair]] = [[pairs[0]]]
    for place in range(1, len(pairs)):
        before, after = parts[-1][-_RUN:], pairs[place : place + _RUN]
        was = statistics.median(one.apart for one in before)
        becomes = statistics.median(one.apart for one in after)
        drifted = _drift(parts[-1]) * (pairs[place].moment - before[-1].moment).total_seconds()
        nearer = abs(pairs[place].apart - becomes) < abs(pairs[place].apart - was)
        if abs(becomes - was - drifted) > jump and nearer:
            parts.append([pairs[place]])
        else:
            parts[-1].append(pairs[place])
    return parts


def _noise(pairs: Sequence[_Pair]) -> float:
    """Seconds by which nine in ten pairs are away from their neighbours at most, for whatever reason."""
    away = []
    for place, pair in enumerate(pairs):
        around = pairs[max(0, place - _RUN) : place + _RUN + 1]
        away.append(abs(pair.apart - statistics.median(one.apart for one in around)))
    return sorted(away)[len(away) * 9 // 10]


def _drift(part: Sequence[_Pair]) -> float:
    """Drift of the second clock against the first, in seconds a second; 0 if a part is too short."""
    start = part[0].moment
    spread = [((one.moment - start).total_seconds(), one.apart) for one in part]
    if len(spread) < _FAR_APART or spread[-1][0] - spread[0][0] < _LONG_SPAN:
        return 0.0
    half = len(spread) // 2
    slopes = [
        (b[1] - a[1]) / (b[0] - a[0])
        for a, b in zip(spread[:half], spread[half:], strict=False)
        if b[0] != a[0]
    ]
    return statistics.median(slopes) if slopes else 0.0


def _fitted(part: Sequence[_Pair]) -> Stretch:
    start, drift = part[0].moment, _drift(part)
    rests = [one.apart - drift * (one.moment - start).total_seconds() for one in part]
    middle = sorted(rests)[len(rests) // 4 : len(rests) - len(rests) // 4]
    return Stretch(part[0].line, part[-1].line, start, statistics.fmean(middle), drift)
