"""The scanning engine: a stream in, its outgoing copy out, memory flat whatever the size."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from struct import Struct
from typing import Any

from re2 import _Anchor

from sealpacket.core.redact.anchors import LOW, SHIFT
from sealpacket.core.redact.catalogue import Catalogue, Finding
from sealpacket.core.redact.detectors import LEAVE
from sealpacket.core.redact.legend import Legend
from sealpacket.core.redact.placeholders import Placeholders

BLOCK = 1 << 20
HELD_BACK = 8 << 10
"""How much of an overlong line waits for what follows, so that no value is cut in two."""
LONGEST = 1 << 20
"""A value longer than this is masked in pieces."""
CACHE = 50_000

RECORD = Struct("<QIQIIB")
"""One finding: original offset and length, outgoing offset and length (bytes), line (from 1), place in KINDS;
UNSURE is added where a person had better look."""

UNSURE = 128

KINDS = (
    "mail", "phone", "ip", "mac", "host", "person", "card", "secret", "token", "key", "asset", "contract",
    "user", "hash", "licence", "iban", "national", "birth", "address", "place", "reader", "subject", "custom",
)  # fmt: skip
"""All kinds of sensitive value, in the order of their numbers in a RECORD; only ever added to."""

_MAGIC: tuple[tuple[bytes, str], ...] = (
    (b"%PDF", "a PDF"),
    (b"PK\x03\x04", "a zip archive or office document"),
    (b"\x1f\x8b", "a gzip file"),
    (b"BZh", "a bzip2 file"),
    (b"\xfd7zXZ", "an xz file"),
    (b"\x28\xb5\x2f\xfd", "a zstd file"),
    (b"\x89PNG", "a PNG picture"),
    (b"\xff\xd8\xff", "a JPEG picture"),
    (b"GIF8", "a GIF picture"),
    (b"SQLite format 3", "an SQLite file"),
    (b"\xff\xfe", "text in UTF-16"),
    (b"\xfe\xff", "text in UTF-16"),
    (b"\xd4\xc3\xb2\xa1", "a packet capture"),
    (b"\x0a\x0d\x0d\x0a", "a packet capture"),
    (b"{\\rtf", "a rich text document"),
)


class Held(Exception):
    """The content cannot be inspected, so it must not go out unless a person releases it."""


@dataclass
class Outcome:
    """What a redaction did. `counts` and `kept` are findings by kind; `reasons` why values were kept."""

    bytes_in: int = 0
    bytes_out: int = 0
    lines: int = 0
    counts: Counter[str] = field(default_factory=Counter)
    kept: Counter[str] = field(default_factory=Counter)
    reasons: dict[str, str] = field(default_factory=dict)
    legend: Legend = field(default_factory=Legend)


def redact(
    source: Iterable[bytes],
    catalogue: Catalogue,
    placeholders: Placeholders,
    outcome: Outcome,
    *,
    note: Callable[[bytes], Any] | None = None,
    progress: Callable[[int], Any] | None = None,
) -> Iterator[bytes]:
    """Yield `source` with every sensitive value replaced by its placeholder.

    `source` gives blocks of any size; `outcome` fills while this is iterated; `note` gets packed RECORDs of the
    findings in order; `progress` gets the bytes read so far after each block. Raises Held for what is no plain text
    in UTF-8, Latin-1 or ASCII.
    """
    run = _Run(catalogue, placeholders, outcome, note)
    for buffer, final in _buffers(source, run):
        yield run.scan(buffer, final)
        if progress:
            progress(outcome.bytes_in)


def _buffers(source: Iterable[bytes], run: _Run) -> Iterator[tuple[bytes, bool]]:
    """Blocks of about BLOCK bytes, each headed by what the one before left over; the last is marked."""
    pending = bytearray()
    first = True
    for block in source:
        if first and block:
            _refuse_known_binary(bytes(block[:16]))
            first = False
        if b"\0" in block:
            raise Held("It holds bytes that no text has, so it cannot be read as text.")
        pending += block
        while len(pending) >= BLOCK:
            head = bytes(pending[:BLOCK])
            del pending[:BLOCK]
            yield run.left + head, False
    yield run.left + bytes(pending), True


def _refuse_known_binary(head: bytes) -> None:
    for magic, words in _MAGIC:
        if head.startswith(magic):
            raise Held(f"It is {words}, which cannot be read yet.")


class _Run:
    """One pass over one stream."""

    def __init__(
        self,
        catalogue: Catalogue,
        placeholders: Placeholders,
        outcome: Outcome,
        note: Callable[[bytes], Any] | None,
    ) -> None:
        self.catalogue, self.placeholders, self.outcome, self.note = catalogue, placeholders, outcome, note
        self.left = b""
        self._known: dict[bytes, tuple[Finding, bytes] | None] = {}

    def scan(self, buffer: bytes, final: bool) -> bytes:
        """The outgoing form of all of the buffer that is settled; the rest is kept in `left` for the next one."""
        limit = len(buffer) if final else _settled(buffer)
        out: list[bytes] = []
        notes: list[bytes] = []
        outcome, note, known = self.outcome, self.note, self._known
        done = written = seen_line = 0
        line = outcome.lines + 1
        for start, end in self._matches(buffer, limit):
            if end >= limit and not final:
                # What touches the limit may go on behind it: it waits, unless it alone fills the buffer.
                if start > 0 or len(buffer) < LONGEST + BLOCK:
                    limit = start
                    break
                limit = end
            finding, placeholder = known[buffer[start:end]]  # type: ignore[misc]
            if finding.kept is not None:
                outcome.kept[finding.kind] += 1
                continue
            outcome.counts[finding.kind] += 1
            at, to = start + finding.start, start + finding.end
            out.append(buffer[done:at])
            out.append(placeholder)
            if note:
                written += at - done
                line += buffer.count(b"\n", seen_line, at)
                seen_line = at
                notes.append(
                    RECORD.pack(
                        outcome.bytes_in + at, to - at, outcome.bytes_out + written, len(placeholder), line,
                        _NUMBER[finding.kind] | (0 if finding.sure else UNSURE),
                    )
                )  # fmt: skip
                written += len(placeholder)
            done = to
        out.append(buffer[done:limit])
        copy = b"".join(out)
        if notes and note:
            note(b"".join(notes))
        outcome.bytes_in += limit
        outcome.bytes_out += len(copy)
        outcome.lines += buffer.count(b"\n", 0, limit)
        self.left = buffer[limit:]
        return copy

    def _matches(self, buffer: bytes, limit: int) -> Iterator[tuple[int, int]]:
        """Where something sensitive begins and ends with its context, in order; only where an anchor says so."""
        catalogue, size = self.catalogue, len(buffer)
        if catalogue.everywhere:
            yield from self._in_line(buffer, 0, size, limit, ~0)
            return
        hints, bits = catalogue.anchors.find(buffer), catalogue.anchors.bits
        pos = place = 0
        count = len(hints)
        while place < count:
            hint = hints[place] >> SHIFT
            if hint <= pos:
                place += 1
                continue
            start = max(pos, buffer.rfind(b"\n", pos, hint) + 1)
            if start >= limit:
                return
            end = buffer.find(b"\n", hint)
            end = size if end < 0 else end
            here = 0
            until = (end + 1) << SHIFT
            while place < count and hints[place] < until:
                here |= bits[hints[place] & LOW]
                place += 1
            pos = start
            for pair in self._in_line(buffer, start, end, limit, here):
                pos = pair[1]
                yield pair
            pos = max(pos, end)

    def _in_line(self, buffer: bytes, pos: int, stop: int, limit: int, bits: int) -> Iterator[tuple[int, int]]:
        """The same between two places, with the detectors and terms of these bits."""
        over = bits & self.catalogue.lines_bits
        while over and pos < stop:
            start, end = self.catalogue.over_lines(_UNANCHORED, buffer, pos, len(buffer))[0]
            if start < 0 or start > stop:
                break
            verdict = self._verdict(buffer[start:end])
            if verdict is not None:
                yield from self._between(buffer, pos, start, limit, bits)
                yield start, end
                pos = end
            else:
                yield from self._between(buffer, pos, start + 1, limit, bits)
                pos = start + 1
        if pos < stop:
            yield from self._between(buffer, pos, stop, limit, bits)

    def _between(self, buffer: bytes, pos: int, stop: int, limit: int, bits: int) -> Iterator[tuple[int, int]]:
        match, match_term = self.catalogue.scanners(bits)
        anchor, known, judge = _UNANCHORED, self._known, self._judge
        start, end = match(anchor, buffer, pos, stop)[0]
        term_start, term_end = match_term(anchor, buffer, pos, stop)[0] if match_term else _NO_MATCH
        while True:
            if 0 <= term_start < start or (start < 0 <= term_start):
                start, end = term_start, term_end
            if start < 0 or start >= limit:
                return
            text = buffer[start:end]
            verdict = known.get(text, _UNSEEN)
            if verdict is _UNSEEN:
                verdict = judge(text)
            if verdict is None:
                pos = _next_token(buffer, start, end)
            elif verdict[0].kind == LEAVE:
                pos = end
            else:
                finding = verdict[0]
                if finding.start > _LONG_CONTEXT and _WORTH_A_LOOK.search(text, 0, finding.start):
                    yield from self._between(
                        buffer, start, start + finding.start, limit, bits & self.catalogue.plain_bits
                    )
                yield start, end
                pos = start + finding.end
            if pos >= stop:
                return
            start, end = match(anchor, buffer, pos, stop)[0]
            if match_term and term_start < pos:
                term_start, term_end = match_term(anchor, buffer, pos, stop)[0] if term_start >= 0 else _NO_MATCH

    def _verdict(self, text: bytes) -> tuple[Finding, bytes] | None:
        verdict: tuple[Finding, bytes] | None = self._known.get(text, _UNSEEN)
        return self._judge(text) if verdict is _UNSEEN else verdict

    def _judge(self, text: bytes) -> tuple[Finding, bytes] | None:
        """The finding and its placeholder, remembered for each different text."""
        finding = self.catalogue.judge(text)
        verdict = None
        if finding is not None:
            verdict = finding, self.placeholders.of(finding.kind, finding.canonical)
            if finding.kind == LEAVE:
                pass
            elif finding.kept is None:
                self.outcome.legend.add(verdict[1], text[finding.start : finding.end])
            else:
                value = text[finding.start : finding.end].decode("utf-8", "replace")
                self.outcome.reasons[value] = finding.kept
        if len(self._known) >= CACHE:
            self._known.clear()
        self._known[text] = verdict
        return verdict


_UNSEEN: Any = object()
_UNANCHORED = _Anchor.UNANCHORED
_NO_MATCH = (-1, -1)
_LONG_CONTEXT = 8
_WORTH_A_LOOK = re.compile(rb"[0-9@\\]")
"""What stands before a value is looked at by itself if it is long and has such a sign: `server host 10.1.2.3 key …`."""
_NUMBER = {kind: number for number, kind in enumerate(KINDS)}


def _settled(buffer: bytes) -> int:
    """Up to where the buffer may be written: its last line end, or on an overlong line all but the last part."""
    newline = buffer.rfind(b"\n")
    if newline >= 0 and len(buffer) - newline <= BLOCK:
        return newline + 1
    return max(len(buffer) - HELD_BACK, 0)


def _next_token(buffer: bytes, start: int, end: int) -> int:
    """Where to go on after something that was nothing: behind its first run of letters and digits."""
    pos = start + 1
    while pos < end and buffer[pos : pos + 1].isalnum():
        pos += 1
    return pos
