"""The leak check: an independent second pass that must find none of the originals in what goes out.

It shares nothing with the finder but the legend: the originals are searched as plain texts, whatever their case, in
the copy as it is and with every coat taken off, by a search of its own (native/originals.hpp). That one keeps a hash of
each original; whether what it suspects is one, the legend tells when all copies have been looked through.
"""

from __future__ import annotations

import base64
import io
import secrets
from collections.abc import Callable, Iterable, Iterator, Mapping
from dataclasses import dataclass, field
from itertools import islice
from typing import IO, Any

from sealpacket.core.kinds import NAMES
from sealpacket.core.redact import _native as native
from sealpacket.core.redact.pseudonyms import PLACEHOLDER, Legend
from sealpacket.core.redact.rules import ORDINARY
from sealpacket.core.redact.verify.bare import bare
from sealpacket.core.redact.verify.streams import streams_of

AT_ONCE = 10_000_000
"""So many originals are searched for at once, for each of which some 14 bytes are needed; more take several passes."""
_WINDOW = 1 << 20
_BARE = 8
"""An original shorter than this counts only where it stands alone, not inside a longer word."""
SAMPLE = 64 << 10
"""Beside so much of what is searched canaries are planted."""
_WIDEST_COAT = 4096
"""A coat of single characters is taken off so far around each of its marks at most."""
_WIDTH_OF_COAT, _LINE_OF_DUMP = 6, 128
"""A letter takes six bytes at most in a coat (`\\u0068`), and a dump is read line by line."""
_WIDEST = 100
_OF_A_SHAPE = frozenset(b"abcdefghijklmnopqrstuvwxyzABCDEFGHIJKLMNOPQRSTUVWXYZ0123456789@._:-")
"""A placeholder that keeps its shape has these signs."""


def _kind_of(placeholder: bytes) -> str:
    return placeholder[1 : placeholder.index(b":")].decode()


@dataclass(frozen=True)
class Leak:
    """An original that stands in the outgoing copy, at this byte offset for the first time."""

    placeholder: bytes
    original: bytes
    offset: int
    times: int
    where: str = ""
    """The part of the copy that this is an offset of: the member of an archive, a page; empty for the file itself."""

    @property
    def kind(self) -> str:
        """What kind of value it is, by its placeholder."""
        return _kind_of(self.placeholder)

    @property
    def place(self) -> str:
        """Where it stands, in words that a person can follow: page 2, or word/document.xml at byte 120."""
        if self.where.startswith("page "):
            return self.where
        return f"{self.where}, at byte {self.offset}" if self.where else f"at byte {self.offset}"


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


def still_there(report: LeakReport) -> list[dict[str, Any]]:
    """What a report may tell of the originals that were found: nothing that stands in them."""
    return [
        {"placeholder": one.placeholder.decode(), "where": one.place, "times": one.times}
        for one in report.leaks
    ]


IsPublic = Callable[[bytes], bool]
"""Whether a host is one whose pages anyone can open: such a name may be masked here and stand there."""


def none_is_public(_host: bytes) -> bool:
    """What holds where a plan masks all hosts."""
    return False


def leak_check(
    outgoing: Iterable[bytes],
    legend: Legend,
    *,
    exempt: Iterable[bytes] = (),
    is_public: IsPublic = none_is_public,
) -> LeakReport:
    """Search an outgoing copy, as a stream of bytes, for every original of the legend in all coats.

    `exempt` are values that the plan keeps (the case's own serial, say), which may therefore stand there; hosts of the
    legend that are public may, too.
    """
    found = Suspects()
    for check in checks_of(legend, exempt, max(legend.pairs, 1)):
        found.merge(check.stream(outgoing))
    return reports_of(legend, {"": found}, is_public)[""]


def check_file(outgoing: IO[bytes], legend: Legend, *, exempt: Iterable[bytes] = ()) -> LeakReport:
    """The same for a file of any kind, which is unpacked as deep as it goes; `outgoing` can seek. Raises Blind."""
    found = Suspects()
    for check in checks_of(legend, exempt):
        found.merge(check.file(outgoing))
    return reports_of(legend, {"": found})[""]


def check_texts(
    texts: Mapping[str, bytes],
    legend: Legend,
    *,
    exempt: Iterable[bytes] = (),
    is_public: IsPublic = none_is_public,
) -> dict[str, LeakReport]:
    """The same for small files that leave together, by name; canaries are planted once, beside some of each.

    Raises Blind.
    """
    find_canaries_beside(texts.values())
    suspects = {name: Suspects() for name in texts}
    for check in checks_of(legend, exempt):
        for name, content in texts.items():
            suspects[name].merge(check.unpacked(io.BytesIO(content)))
    return reports_of(legend, suspects, is_public)


def checks_of(legend: Legend, exempt: Iterable[bytes], most: int = 0) -> Iterator[LeakCheck]:
    """What has to look through every copy, one after the other: one for so many originals (AT_ONCE)."""
    shares = -(-max(legend.pairs, 1) // (most or AT_ONCE))
    for share in range(shares):
        yield LeakCheck(legend, exempt, share, shares)


def reports_of(
    legend: Legend, suspects: Mapping[str, Suspects], is_public: IsPublic = none_is_public
) -> dict[str, LeakReport]:
    """What of the suspects of each copy is an original: the legend is gone through once, and only if there are any."""
    met = [place for one in suspects.values() for place in one.met]
    originals = {word for pair in met for word in (pair[0], pair[1].lower()) if word}
    wanted = native.Wanted(list(originals), list({around for _, around, _ in met if around}))
    for part in legend.parts() if met else ():
        wanted.look(part)
    pairs, placeholders = wanted.pairs(), wanted.placeholders()

    def is_hidden(around: bytes) -> bool:
        """Whether it is a placeholder. One that keeps its shape and is an original as well hides nothing."""
        return around in placeholders and (around.startswith(b"[") or around.lower() not in pairs)

    reports = {}
    for name, one in suspects.items():
        found: dict[tuple[bytes, bytes], tuple[tuple[int, str], int]] = {}
        for (text, around, within), (place, times) in one.met.items():
            for pair in pairs.get(text, ()) if not is_hidden(around) else ():
                if within and _kind_of(pair[0]) in NAMES and text.isalpha():
                    continue  # a part of a longer word, as `mallow` in `marshmallow`
                if _kind_of(pair[0]) == "host" and is_public(text):
                    continue  # each place tells by itself whether it is meant as ours
                first, before = found.get(pair, (place, 0))
                found[pair] = min(first, place), before + times
        leaks = (
            Leak(*pair, offset, times, where)
            for pair, ((offset, where), times) in sorted(found.items())
        )
        reports[name] = LeakReport(one.searched, one.too_short, tuple(leaks))
    return reports


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
        "octal": lambda v: b"".join(b"\\%03o" % byte for byte in v),
        "wide percent": lambda v: b"".join(b"%%u%04x" % byte for byte in v),
        "style sheets": lambda v: b"".join(b"\\%06x" % byte for byte in v),
        "wide letters": lambda v: "".join(chr(byte + 0xFEE0) for byte in v).encode(),
        "numbers": lambda v: b", ".join(b"%d" % byte for byte in v),
        "dump": lambda v: b"0000: %s\n0010: %s" % (v[:16].hex(" ", 2).encode(), v[16:].hex(" ", 2).encode()),
        "twice": lambda v: base64.b64encode(base64.b64encode(b"it is " + v + b" now")),
    }  # fmt: skip
    canaries = {name: secrets.token_hex(10).encode() for name in coats}
    legend = Legend()
    for name, value in canaries.items():
        legend.add(f"[canary:{name}]".encode(), value)
    planted = (
        sample
        + b"\n"
        + b"\n\n".join(coats[name](value) for name, value in canaries.items())
        + b"\n"
    )
    found = {leak.original for leak in leak_check([planted], legend).leaks}
    missed = sorted(name for name, value in canaries.items() if value not in found)
    if missed:
        raise Blind(f"canaries in these coats were not found: {', '.join(missed)}")


def find_canaries_beside(copies: Iterable[bytes]) -> None:
    """The same once for copies that are searched together, beside the beginning of each. Raises Blind."""
    beginnings = [copy[:SAMPLE] for copy in copies]
    find_canaries(b"\n".join(one[: SAMPLE // len(beginnings)] for one in beginnings))


@dataclass
class Suspects:
    """What looks like an original in a copy: text in lower case, the word in brackets or of a shape around it, which
    may be a placeholder (empty if there is none), whether it is a part of a longer word; and where it was first and how
    often."""

    searched: int = 0
    too_short: int = 0
    met: dict[tuple[bytes, bytes, bool], tuple[tuple[int, str], int]] = field(default_factory=dict)
    where: str = ""
    """The part that is searched just now."""

    def note(self, key: tuple[bytes, bytes, bool], place: tuple[int, str], times: int = 1) -> None:
        """It was met once more, at an offset in a part."""
        first, before = self.met.get(key, (place, 0))
        self.met[key] = min(first, place), before + times

    def merge(self, other: Suspects) -> None:
        """Those of the same copy, of other originals."""
        self.searched += other.searched
        self.too_short += other.too_short
        self.goes_on(other)

    def goes_on(self, other: Suspects) -> None:
        """Those of another part of the same copy."""
        for key, (place, times) in other.met.items():
            self.note(key, place, times)


class LeakCheck:
    """Originals of a legend, made ready once and searched for in one copy after the other: one of so many shares."""

    def __init__(
        self, legend: Legend, exempt: Iterable[bytes], share: int = 0, shares: int = 1
    ) -> None:
        self._exempt = sorted({value.lower() for value in exempt})
        self._originals = native.Originals(
            -(-legend.pairs // shares), self._exempt, ORDINARY, share, shares
        )
        for part in legend.parts():
            self._originals.add(part)
        self._originals.close()
        self.searched = self._originals.searched
        self.too_short = 0 if share else self._originals.not_searched

    def file(self, outgoing: IO[bytes]) -> Suspects:
        """Search a file of any kind.

        First of all canaries, random secrets in every coat, are planted in what is searched. Raises Blind if one of
        them is not found: then nothing that this check says can be trusted.
        """
        outgoing.seek(0)
        find_canaries(outgoing.read(SAMPLE))
        return self.unpacked(outgoing)

    def unpacked(self, outgoing: IO[bytes]) -> Suspects:
        """The same where canaries were found before, in something that this goes with."""
        found = Suspects(self.searched, self.too_short)
        for stream in streams_of(outgoing):
            found.where = stream.where
            self._through(stream.blocks, found)
        return found

    def part(self, outgoing: IO[bytes], start: int, end: int) -> Suspects:
        """Search one part of a large text; what lies over its beginning is searched as well, so that the parts of a
        text, each searched by itself, find all that the whole has. Canaries are planted in the first. Raises Blind."""
        begin = max(start - self.overlap, 0)
        outgoing.seek(begin)
        if start == 0:
            find_canaries(outgoing.read(SAMPLE))
            outgoing.seek(begin)
        blocks = (outgoing.read(min(_WINDOW, end - place)) for place in range(begin, end, _WINDOW))
        goes_on = outgoing.seek(0, 2) > end
        outgoing.seek(begin)
        found = Suspects(self.searched, self.too_short)
        self._through(blocks, found, begin, start - begin, goes_on=goes_on)
        return found

    def stream(self, outgoing: Iterable[bytes]) -> Suspects:
        """Search a stream of bytes as it is, in all coats."""
        found = Suspects(self.searched, self.too_short)
        self._through(outgoing, found)
        return found

    @property
    def overlap(self) -> int:
        """How much of what came before is looked at again: the longest original in its widest coat."""
        return self._originals.longest * _WIDTH_OF_COAT + _LINE_OF_DUMP

    def _through(
        self,
        blocks: Iterable[bytes],
        found: Suspects,
        base: int = 0,
        seen: int = 0,
        *,
        goes_on: bool = False,
    ) -> None:
        """Look through one stream, which begins at `base`; what ends in its first `seen` bytes was judged elsewhere."""
        if not self.searched:
            return
        for window in _windows(blocks, self.overlap, base, seen, goes_on=goes_on):
            forms = bare(
                window.data, min(self.overlap, _WIDEST_COAT), blanks=self._originals.any_blank
            )
            self._search(window, self._originals.search(window.data), found)
            # What was decoded is full of short words that nobody wrote: only long ones count.
            for text, joins in islice(forms, 1, None):
                look = self._originals
                places = look.search_long(text) if joins is None else look.search_over(text, joins)
                self._search(_Window(text, window.base, 0, True), places, found)

    def _search(self, window: _Window, places: list[tuple[int, int]], found: Suspects) -> None:
        for start, end in places:
            text = window.data[start:end]
            within = _inside_word(window.data, start, end, text)
            if not window.is_new(end) or (within and len(text) < _BARE):
                continue
            around = _around(window.data, start, end)
            if around is None or self._inside_kept(window.data, start, end):
                continue
            found.note((text.lower(), around, within), (window.base + start, found.where))

    def _inside_kept(self, window: bytes, start: int, end: int) -> bool:
        """Whether it is a part of something that the plan keeps: of a host's full name, its network's."""
        found = window[start:end].lower()
        for value in self._exempt:
            if len(value) <= len(found) or found not in value:
                continue
            begin = max(end - len(value), 0)
            at = window[begin : start + len(value)].lower().find(value)
            if at >= 0 and begin + at <= start and begin + at + len(value) >= end:
                return True
        return False


def _around(window: bytes, start: int, end: int) -> bytes | None:
    """What stands around a place and may be a placeholder: all from a bracket to the next, or the word it is a part of;
    nothing if there is no more. None in the kind of what looks like a label, which is no value of anyone's."""
    opening = window.rfind(b"[", max(start - 24, 0), start)
    closing = window.find(b"]", end, end + 24)
    if opening >= 0 and closing >= 0:
        around = window[opening : closing + 1]
        if PLACEHOLDER.fullmatch(around):
            return None if end <= window.index(b":", opening) else around
    first, last = start, end
    while start > 0 and end - start < _WIDEST and window[start - 1] in _OF_A_SHAPE:
        start -= 1
    while end < len(window) and end - start < _WIDEST and window[end] in _OF_A_SHAPE:
        end += 1
    around = window[start:end].strip(b".:-")
    return around if len(around) > last - first else b""


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


def _windows(
    blocks: Iterable[bytes], overlap: int, base: int, seen: int, *, goes_on: bool
) -> Iterator[_Window]:
    data, fresh, pending, size = b"", seen, list[bytes](), 0
    for block in blocks:
        pending.append(block)
        size += len(block)
        if size < _WINDOW:
            continue
        tail = data[-overlap:]
        base += len(data) - len(tail)
        data, fresh = b"".join((tail, *pending)), len(tail) or seen
        pending.clear()
        size = 0
        yield _Window(data, base, fresh, False)
    tail = data[-overlap:]
    base += len(data) - len(tail)
    yield _Window(b"".join((tail, *pending)), base, len(tail) or seen, not goes_on)


def _is_word(byte: bytes) -> bool:
    return byte.isalnum() or byte == b"_"


def _inside_word(window: bytes, start: int, end: int, original: bytes) -> bool:
    before, after = window[start - 1 : start] if start else b"", window[end : end + 1]
    return (_is_word(before) and _is_word(original[:1])) or (
        _is_word(after) and _is_word(original[-1:])
    )
