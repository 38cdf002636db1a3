"""The leak check: an independent second pass that must find none of the originals in what goes out.

It shares nothing with the finder but the legend: the originals are searched as plain texts, whatever their case, in
the copy as it is and with every coat taken off, by another engine (Hyperscan).
"""

from __future__ import annotations

import base64
import secrets
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass
from typing import IO

import hyperscan

from sealpacket.core.redact.bare import bare, streams_of
from sealpacket.core.redact.legend import Legend

_BATCH = 40_000
_WINDOW = 1 << 20
_BARE = 8
"""An original shorter than this counts only where it stands alone, not inside a longer word."""
_SHORTEST = 4
_SAMPLE = 64 << 10


@dataclass(frozen=True)
class Leak:
    """An original that stands in the outgoing copy, at this byte offset for the first time."""

    placeholder: bytes
    original: bytes
    offset: int
    times: int

    @property
    def kind(self) -> str:
        """What kind of value it is, by its placeholder."""
        return self.placeholder[1 : self.placeholder.index(b":")].decode()


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
    """Search an outgoing copy, as a stream of bytes, for every original of the legend in all coats.

    `exempt` are values that the plan keeps (the case's own serial, say), which may therefore stand there.
    """
    search = LeakCheck(legend, exempt)
    search.through(outgoing)
    return search.report()


def check_file(outgoing: IO[bytes], legend: Legend, *, exempt: Iterable[bytes] = ()) -> LeakReport:
    """The same for a file of any kind, which is unpacked as deep as it goes; `outgoing` can seek. Raises Blind."""
    return LeakCheck(legend, exempt).file(outgoing)


class Blind(Exception):
    """The leak check did not find what was planted for it."""


def find_canaries(sample: bytes) -> None:
    """Plant canaries in a piece of a copy, each in a coat of its own, and look for them. Raises Blind."""
    coats: dict[str, Callable[[bytes], bytes]] = {
        "plain": lambda v: v, "percent": lambda v: b"".join(b"%%%02X" % byte for byte in v),
        "base64": lambda v: base64.b64encode(b"it is " + v + b" now"), "hex": lambda v: (b"it is " + v).hex().encode(),
        "entities": lambda v: b"".join(b"&#%d;" % byte for byte in v),
        "escapes": lambda v: b"".join(b"\\u%04x" % byte for byte in v),
        "quoted-printable": lambda v: b"".join(b"=%02X" % byte for byte in v),
        "colours": lambda v: v[:5] + b"\x1b[1m" + v[5:], "wide": lambda v: b"".join(b"%c\0" % byte for byte in v),
        "broken": lambda v: v[:7] + b"\n" + v[7:],
        "twice": lambda v: base64.b64encode(base64.b64encode(b"it is " + v + b" now")),
    }  # fmt: skip
    canaries = {name: secrets.token_hex(10).encode() for name in coats}
    legend = Legend()
    for name, value in canaries.items():
        legend.add(f"[canary:{name}]".encode(), value)
    planted = sample + b"\n" + b"\n\n".join(coats[name](value) for name, value in canaries.items()) + b"\n"
    found = {leak.original for leak in leak_check([planted], legend).leaks}
    missed = sorted(name for name, value in canaries.items() if value not in found)
    if missed:
        raise Blind(f"canaries in these coats were not found: {', '.join(missed)}")


class LeakCheck:
    """All originals of a legend, made ready once and searched for in one copy after the other."""

    def __init__(self, legend: Legend, exempt: Iterable[bytes]) -> None:
        kept = {value.lower() for value in exempt}
        self._pairs = [(p, o) for p, o in legend.originals() if len(o) >= _SHORTEST and o.lower() not in kept]
        self._too_short = sum(1 for _ in legend.originals()) - len(self._pairs)
        labels = legend.placeholders()
        pairs = self._pairs
        self._databases = [_Database(pairs[i : i + _BATCH], labels) for i in range(0, len(pairs), _BATCH)]
        self._longest = max((len(o) for _, o in pairs), default=0)

    def file(self, outgoing: IO[bytes]) -> LeakReport:
        """Search a file of any kind.

        First of all canaries, random secrets in every coat, are planted in what is searched. Raises Blind if one of
        them is not found: then nothing that this check says can be trusted.
        """
        outgoing.seek(0)
        find_canaries(outgoing.read(_SAMPLE))
        for stream in streams_of(outgoing):
            self.through(stream)
        return self.report()

    def through(self, blocks: Iterable[bytes]) -> None:
        """Look through one stream."""
        if not self._pairs:
            return
        for window in _windows(blocks, self._longest * 3):
            for number, form in enumerate(bare(window.data)):
                here = window if number == 0 else _Window(form, window.base, 0, True, coat=True)
                for database in self._databases:
                    database.search(here)

    def report(self) -> LeakReport:
        """What was found since the last report."""
        leaks = tuple(leak for database in self._databases for leak in database.leaks())
        for database in self._databases:
            database.forget()
        return LeakReport(len(self._pairs), self._too_short, leaks)


@dataclass(frozen=True)
class _Window:
    """A stretch of the copy that overlaps the one before. Matches that end before `fresh` were judged there; one that
    ends with the window waits for the next, since its right edge is not known yet."""

    data: bytes
    base: int
    fresh: int
    last: bool
    coat: bool = False

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
            if window.coat and len(original) < _BARE:
                return  # what was decoded is full of short words that nobody wrote
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

    def forget(self) -> None:
        """Begin anew."""
        self._found.clear()

    def leaks(self) -> Iterator[Leak]:
        for ident, (offset, times) in sorted(self._found.items()):
            placeholder, original = self._pairs[ident]
            yield Leak(placeholder, original, offset, times)
