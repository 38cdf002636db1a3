"""The leak check: an independent second pass that must find none of the originals in what goes out.

It shares nothing with the finder but the legend: the originals are searched as plain texts, whatever their case, by
another engine (Hyperscan).
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from dataclasses import dataclass

import hyperscan

from sealpacket.core.redact.legend import Legend

_BATCH = 40_000
_WINDOW = 1 << 20
_BARE = 8
"""An original shorter than this counts only where it stands alone, not inside a longer word."""
_SHORTEST = 4


@dataclass(frozen=True)
class Leak:
    """An original that stands in the outgoing copy, at this byte offset for the first time."""

    placeholder: bytes
    original: bytes
    offset: int
    times: int


@dataclass(frozen=True)
class LeakReport:
    """`searched` originals were looked for; `too_short` cannot be looked for alone."""

    searched: int
    too_short: int
    leaks: tuple[Leak, ...]

    @property
    def clean(self) -> bool:
        """Whether nothing was found."""
        return not self.leaks


def leak_check(outgoing: Iterable[bytes], legend: Legend, *, exempt: Iterable[bytes] = ()) -> LeakReport:
    """Search an outgoing copy for every original of the legend.

    `exempt` are values that the plan keeps (the case's own serial, say), which may therefore stand there.
    """
    kept = {value.lower() for value in exempt}
    pairs = [(p, o) for p, o in legend.originals() if len(o) >= _SHORTEST and o.lower() not in kept]
    too_short = sum(1 for _ in legend.originals()) - len(pairs)
    labels = legend.placeholders()
    databases = [_Database(pairs[i : i + _BATCH], labels) for i in range(0, len(pairs), _BATCH)]
    for window in _windows(outgoing, max((len(o) for _, o in pairs), default=0)):
        for database in databases:
            database.search(window)
    leaks = tuple(leak for database in databases for leak in database.leaks())
    return LeakReport(len(pairs), too_short, leaks)


@dataclass(frozen=True)
class _Window:
    """A stretch of the copy that overlaps the one before. Matches that end before `fresh` were judged there; one that
    ends with the window waits for the next, since its right edge is not known yet."""

    data: bytes
    base: int
    fresh: int
    last: bool

    def is_new(self, end: int) -> bool:
        return end >= self.fresh and (self.last or end < len(self.data))


def _windows(blocks: Iterable[bytes], longest: int) -> Iterator[_Window]:
    overlap = longest + 2
    data, base, pending = b"", 0, bytearray()
    for block in blocks:
        pending += block
        if len(pending) < _WINDOW:
            continue
        tail = data[-overlap:]
        base += len(data) - len(tail)
        data = tail + bytes(pending)
        pending.clear()
        yield _Window(data, base, len(tail), False)
    tail = data[-overlap:]
    base += len(data) - len(tail)
    yield _Window(tail + bytes(pending), base, len(tail), True)


def _is_word(byte: bytes) -> bool:
    return byte.isalnum() or byte == b"_"


class _Database:
    def __init__(self, pairs: list[tuple[bytes, bytes]], labels: frozenset[bytes]) -> None:
        self._pairs = pairs
        self._labels = labels
        self._found: dict[int, tuple[int, int]] = {}
        if not pairs:
            raise ValueError("nothing to search for")
        self._database = hyperscan.Database(mode=hyperscan.HS_MODE_BLOCK)
        self._database.compile(
            expressions=[original for _, original in pairs],
            ids=list(range(len(pairs))),
            elements=len(pairs),
            flags=[hyperscan.HS_FLAG_CASELESS] * len(pairs),
            literal=True,
        )

    def search(self, window: _Window) -> None:
        def on_match(ident: int, _start: int, end: int, _flags: int, _context: object) -> None:
            original = self._pairs[ident][1]
            start = end - len(original)
            if not window.is_new(end) or self._inside_word(window.data, start, end, original):
                return
            if self._inside_label(window.data, start, end):
                return
            first, times = self._found.get(ident, (window.base + start, 0))
            self._found[ident] = (first, times + 1)

        self._database.scan(window.data, match_event_handler=on_match)

    @staticmethod
    def _inside_word(window: bytes, start: int, end: int, original: bytes) -> bool:
        if len(original) >= _BARE:
            return False
        before, after = window[start - 1 : start] if start else b"", window[end : end + 1]
        return (_is_word(before) and _is_word(original[:1])) or (_is_word(after) and _is_word(original[-1:]))

    def _inside_label(self, window: bytes, start: int, end: int) -> bool:
        opening = window.rfind(b"[", max(start - 24, 0), start)
        closing = window.find(b"]", end, end + 24)
        return opening >= 0 and closing >= 0 and window[opening : closing + 1] in self._labels

    def leaks(self) -> Iterator[Leak]:
        for ident, (offset, times) in sorted(self._found.items()):
            placeholder, original = self._pairs[ident]
            yield Leak(placeholder, original, offset, times)
