"""Several writers of one log, each with its own clock: how far they are apart."""

from __future__ import annotations

import statistics
from collections import defaultdict
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from itertools import islice, pairwise

from sealpacket.core.evidence.logfile import JITTER

_LINES = 20_000
_WORDS = 4
"""Maximum number of words after the time among which the writer's name is sought."""
_MOST_WRITERS = 12
_LEAST_SHARE = 0.02
_IN_ORDER = 0.98
"""The share of a writer's lines that are not before the line before them."""


@dataclass(frozen=True)
class WriterClock:
    """A writer, by the word that its lines have, and how many seconds its clock is ahead of the first writer's."""

    name: str
    lines: int
    ahead: float


def writer_clocks(lines: Iterable[tuple[datetime, str]]) -> list[WriterClock]:
    """The writers of a log whose times go back and forth; empty if no word distinguishes them.

    The first is the one with most lines. A log that one clock wrote has no such word.
    """
    timed = [(at, text.split()[:_WORDS]) for at, text in islice(lines, _LINES)]
    for place in range(_WORDS):
        names = _names_at(timed, place)
        if 2 <= len(names) <= _MOST_WRITERS and _each_in_order(timed, place, names):
            return _clocks(timed, place, names)
    return []


Timed = tuple[datetime, list[str]]


def _names_at(timed: Sequence[Timed], place: int) -> list[str]:
    """The words at a place; empty if lines lack it or have too many different ones there."""
    counts: dict[str, int] = defaultdict(int)
    for _, words in timed:
        if len(words) > place:
            counts[words[place]] += 1
            if len(counts) > 4 * _MOST_WRITERS:
                return []
    names = [name for name, count in counts.items() if count >= len(timed) * _LEAST_SHARE]
    if sum(counts[name] for name in names) < len(timed) * 0.95:
        return []
    return sorted(names, key=lambda name: (-counts[name], name))


def _each_in_order(timed: Sequence[Timed], place: int, names: Sequence[str]) -> bool:
    """Whether the lines of each writer are in order, while those of all together are not."""
    latest: dict[str, datetime] = {}
    late = steps = 0
    for at, words in timed:
        name = words[place] if len(words) > place else ""
        if name not in names:
            continue
        before = latest.get(name)
        late += before is not None and at < before - JITTER
        latest[name] = max(at, before) if before is not None else at
    steps = sum(b[0] < a[0] - JITTER for a, b in pairwise(timed))
    return late <= len(timed) * (1 - _IN_ORDER) and steps > 10 * late and steps > 0


def _clocks(timed: Sequence[Timed], place: int, names: Sequence[str]) -> list[WriterClock]:
    """How far each is ahead of the first, from lines that are next to each other in the log."""
    apart: dict[str, list[float]] = defaultdict(list)
    counts: dict[str, int] = defaultdict(int)
    last: datetime | None = None
    for at, words in timed:
        name = words[place] if len(words) > place else ""
        counts[name] += 1
        if name == names[0]:
            last = at
        elif last is not None and name in names:
            apart[name].append((at - last).total_seconds())
    first = WriterClock(names[0], counts[names[0]], 0.0)
    others = [
        WriterClock(name, counts[name], statistics.median(apart[name]))
        for name in names[1:]
        if apart[name]
    ]
    return [first, *others]
