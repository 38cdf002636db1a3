"""The scanning engine: a stream in, its outgoing copy out, memory flat whatever the size."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, field
from struct import Struct
from typing import Any, NamedTuple

from re2 import _Anchor

from sealpacket.core.redact.anchors import LOW, SHIFT
from sealpacket.core.redact.catalogue import Catalogue, Finding
from sealpacket.core.redact.coats import Coated, tokens_in, views_of, wrapped_tokens_in
from sealpacket.core.redact.detectors import LEAVE
from sealpacket.core.redact.kinds import KINDS
from sealpacket.core.redact.legend import Legend
from sealpacket.core.redact.placeholders import Placeholders
from sealpacket.core.redact.wrapping import OPEN_ENDED, goes_on, wrapped_ends

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


class Span(NamedTuple):
    """A stretch that is replaced. What stands beneath a coat, or is broken over lines, is in `inner`: the findings as
    kind, placeholder and original; `kind` is the first one's."""

    start: int
    end: int
    instead: bytes
    kind: str
    sure: bool = True
    inner: tuple[tuple[str, bytes, bytes], ...] = ()

    def findings(self, buffer: bytes) -> tuple[tuple[str, bytes, bytes], ...]:
        """Its findings, the one that stands there plainly included."""
        return self.inner or ((self.kind, self.instead, buffer[self.start : self.end]),)


def redact(
    source: Iterable[bytes],
    catalogue: Catalogue,
    placeholders: Placeholders,
    outcome: Outcome,
    *,
    note: Callable[[bytes], Any] | None = None,
    progress: Callable[[int], Any] | None = None,
    run: Run | None = None,
) -> Iterator[bytes]:
    """Yield `source`, text in any 8-bit encoding, with every sensitive value replaced by its placeholder.

    `source` gives blocks of any size; `outcome` fills while this is iterated; `note` gets packed RECORDs of the
    findings in order; `progress` gets the bytes read so far after each block.
    """
    run = run or Run(catalogue, placeholders, outcome)
    for buffer, final in _buffers(source, run):
        yield run.scan(buffer, final, note)
        if progress:
            progress(outcome.bytes_in)


def _buffers(source: Iterable[bytes], run: Run) -> Iterator[tuple[bytes, bool]]:
    """Blocks of about BLOCK bytes, each headed by what the one before left over; the last is marked."""
    pending = bytearray()
    for block in source:
        pending += block
        while len(pending) >= BLOCK:
            head = bytes(pending[:BLOCK])
            del pending[:BLOCK]
            yield run.left + head, False
    yield run.left + bytes(pending), True


class Run:
    """One pass over one stream, or over many small texts: what was judged once is remembered."""

    def __init__(self, catalogue: Catalogue, placeholders: Placeholders, outcome: Outcome) -> None:
        self.catalogue, self.placeholders, self.outcome = catalogue, placeholders, outcome
        self.special_bits = catalogue.coat_bits | catalogue.lines_bits
        self.left = b""
        self._wraps = False
        self._known: dict[bytes, tuple[Finding, bytes] | None] = {}

    def text(self, text: bytes) -> bytes:
        """A whole small text with its values replaced; counted, but in no stream."""
        return self._replaced(text, self.spans(text), len(text))

    def spans(self, text: bytes) -> list[Span]:
        """What is to be replaced in a whole small text; counted."""
        return self._count(text, list(self._spans(text, len(text), 0)))

    def scan(self, buffer: bytes, final: bool, note: Callable[[bytes], Any] | None = None) -> bytes:
        """The outgoing form of all of the buffer that is settled; the rest is kept in `left` for the next one."""
        limit = len(buffer) if final else _settled(buffer)
        spans = []
        for span in self._spans(buffer, limit, 0):
            if span.end >= limit and not final:
                # What touches the limit may go on behind it: it waits, unless it alone fills the buffer.
                if span.start > 0 or len(buffer) < LONGEST + BLOCK:
                    limit = span.start
                    break
                limit = span.end
            spans.append(span)
        outcome = self.outcome
        copy = self._replaced(buffer, self._count(buffer, spans), limit)
        if note:
            note(b"".join(self._records(buffer, spans)))
        outcome.bytes_in += limit
        outcome.bytes_out += len(copy)
        outcome.lines += buffer.count(b"\n", 0, limit)
        self.left = buffer[limit:]
        return copy

    @staticmethod
    def _replaced(buffer: bytes, spans: list[Span], limit: int) -> bytes:
        out: list[bytes] = []
        done = 0
        for span in spans:
            out.append(buffer[done : span.start])
            out.append(span.instead)
            done = span.end
        out.append(buffer[done:limit])
        return b"".join(out)

    def _count(self, buffer: bytes, spans: list[Span]) -> list[Span]:
        counts, add = self.outcome.counts, self.outcome.legend.add
        for span in spans:
            if span.inner:
                for kind, placeholder, original in span.inner:
                    counts[kind] += 1
                    add(placeholder, original)
            else:
                counts[span.kind] += 1
                add(span.instead, buffer[span.start : span.end])
        return spans

    def _records(self, buffer: bytes, spans: list[Span]) -> Iterator[bytes]:
        outcome = self.outcome
        shift = seen = 0
        line = outcome.lines + 1
        for span in spans:
            line += buffer.count(b"\n", seen, span.start)
            seen = span.start
            yield RECORD.pack(
                outcome.bytes_in + span.start, span.end - span.start, outcome.bytes_out + span.start + shift,
                len(span.instead), line, _NUMBER[span.kind] | (0 if span.sure else UNSURE),
            )  # fmt: skip
            shift += len(span.instead) - (span.end - span.start)

    def _spans(self, buffer: bytes, limit: int, depth: int) -> Iterator[Span]:
        """What is replaced, in order and without overlaps; only where an anchor says that something may stand."""
        before, self._wraps = self._wraps, False
        lines = list(self._spans_of_lines(buffer, limit, depth))
        wraps, self._wraps = self._wraps, before
        broken = list(self._broken(buffer, limit, depth, wraps=wraps)) if depth < 2 and b"\n" in buffer else []
        return iter(_without_overlaps([*lines, *broken]) if broken else lines)

    def _spans_of_lines(self, buffer: bytes, limit: int, depth: int) -> Iterator[Span]:
        catalogue, size = self.catalogue, len(buffer)
        if catalogue.everywhere:
            yield from self._spans_here(buffer, 0, size, limit, ~0, depth)
            return
        hints, bits = catalogue.anchors.find(buffer), catalogue.anchors.bits
        special = self.special_bits
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
            if here & self.catalogue.wrap_bit:
                self._wraps = True
            if here & special:
                for span in self._spans_here(buffer, start, end, limit, here, depth):
                    pos = span.end
                    yield span
            else:
                for span in self._between(buffer, start, end, limit, here, hints[place - 1] >> SHIFT):
                    pos = span.end
                    yield span
            pos = max(pos, end)

    def _spans_here(self, buffer: bytes, start: int, stop: int, limit: int, bits: int, depth: int) -> Iterator[Span]:
        """The same on one line, its coats taken off as well."""
        if bits & self.catalogue.coat_bits and depth < DEEPEST:
            plain = list(self._plain(buffer, start, stop, limit, bits))
            coated = self._beneath(buffer[start:stop], start, bits, depth)
            yield from (span for span in _without_overlaps([*plain, *coated]) if span.start < limit)
        else:
            yield from self._plain(buffer, start, stop, limit, bits)

    def _beneath(self, raw: bytes, base: int, bits: int, depth: int) -> Iterator[Span]:
        """What stands in a coat on this line."""
        for view in views_of(raw) if bits & self.catalogue.mark_bit else ():
            places, text = view.places, view.text
            for found in self._spans(text, len(text), depth + 1):
                start, end = places[found.start], places[found.end]
                yield found._replace(start=base + start, end=base + max(end, start + 1), inner=found.findings(text))
        if bits & self.catalogue.token_bit:
            for coated in tokens_in(raw):
                span = self._redressed(coated, base, depth)
                if span is not None:
                    yield span

    def _redressed(self, coated: Coated, base: int, depth: int) -> Span | None:
        """A token with what stands beneath its coat replaced, in the same coat again; None if nothing does."""
        beneath = list(self._spans(coated.beneath, len(coated.beneath), depth + 1))
        if not beneath:
            return None
        instead = coated.put_on(self._replaced(coated.beneath, beneath, len(coated.beneath)))
        inner = tuple(one for span in beneath for one in span.findings(coated.beneath))
        sure = all(span.sure for span in beneath)
        return Span(base + coated.start, base + coated.end, instead, beneath[0].kind, sure, inner)

    def _broken(self, buffer: bytes, limit: int, depth: int, *, wraps: bool) -> Iterator[Span]:
        """What is broken over the ends of lines that were wrapped at one width; and base64 over several lines."""
        for end in wrapped_ends(buffer):
            if end >= limit:
                return
            before = max(buffer.rfind(b"\n", 0, end) + 1, end - _AROUND)
            skip = end + 1 + len(buffer[end + 1 : end + 40]) - len(buffer[end + 1 : end + 40].lstrip(b" \t"))
            close = buffer.find(b"\n", skip)
            close = len(buffer) if close < 0 else close
            after = buffer[skip : min(close, skip + _AROUND)]
            cut = end - (buffer[end - 1 : end] in (b"\r", b"\\", b"="))
            head = buffer[before:cut]
            for found in self._spans_of_lines(head + after, len(head) + len(after), DEEPEST):
                if found.start < len(head) < found.end and (
                    found.kind not in OPEN_ENDED or goes_on(buffer, before, end)
                ):
                    to = skip + found.end - len(head)
                    yield found._replace(
                        start=before + found.start, end=to, instead=found.instead + buffer[cut:skip],
                        inner=found.findings(head + after),
                    )  # fmt: skip
        for coated in wrapped_tokens_in(buffer) if wraps else ():
            span = self._redressed(coated, 0, depth)
            if span is not None:
                yield span

    def _plain(self, buffer: bytes, pos: int, stop: int, limit: int, bits: int) -> Iterator[Span]:
        """What stands there plainly, between two places, by the detectors and terms of these bits."""
        over = bits & self.catalogue.lines_bits
        while over and pos < stop:
            start, end = self.catalogue.over_lines(_UNANCHORED, buffer, pos, len(buffer))[0]
            if start < 0 or start > stop:
                break
            verdict = self._verdict(buffer[start:end])
            if verdict is None:
                yield from self._between(buffer, pos, start + 1, limit, bits)
                pos = start + 1
                continue
            yield from self._between(buffer, pos, start, limit, bits)
            if verdict[0].kept is None:
                yield Span(start + verdict[0].start, start + verdict[0].end, verdict[1], verdict[0].kind)
            pos = end
        if pos < stop:
            yield from self._between(buffer, pos, stop, limit, bits)

    def _between(  # noqa: PLR0912 - the hot loop: a call for each branch would cost more than it tells
        self, buffer: bytes, pos: int, stop: int, limit: int, bits: int, last: int = 1 << 62, *, within: bool = False
    ) -> Iterator[Span]:
        """Between two places of a line; `last` is where its last anchor ends: behind it there is nothing. `within` what
        stands before a value it is not looked still deeper."""
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
                finding, placeholder = verdict
                value = start + finding.start
                if finding.kind in _SOFT and finding.start and (better := self._better(buffer, value, end, stop, bits)):
                    value, end, (finding, placeholder) = better
                    start, text = value - finding.start, buffer[value - finding.start : end]
                if finding.start > _LONG_CONTEXT and not within and _WORTH_A_LOOK.search(text, 0, finding.start):
                    yield from self._between(buffer, start, value, limit, bits & self.catalogue.plain_bits, within=True)
                pos = start + finding.end
                if finding.kept is None:
                    yield Span(value, pos, placeholder, finding.kind, finding.sure)
                else:
                    self.outcome.kept[finding.kind] += 1
            if pos >= stop or pos >= last:
                return
            start, end = match(anchor, buffer, pos, stop)[0]
            if match_term and term_start < pos:
                term_start, term_end = match_term(anchor, buffer, pos, stop)[0] if term_start >= 0 else _NO_MATCH

    def _better(
        self, buffer: bytes, value: int, end: int, stop: int, bits: int
    ) -> tuple[int, int, tuple[Finding, bytes]] | None:
        """What is known exactly, or has a form of its own, where a label alone says that someone or something is named.

        `owner = Marit Oswin` is a person whom we know, not a user called Marit.
        """
        match, match_term = self.catalogue.scanners(bits & self.catalogue.plain_bits)
        for find in (match_term, match):
            if find is None:
                continue
            start, until = find(_UNANCHORED, buffer, value, stop)[0]
            if start < value or start >= end:
                continue
            verdict = self._verdict(buffer[start:until])
            if verdict is not None and verdict[0].kind != LEAVE and until >= end:
                return start + verdict[0].start, start + verdict[0].end, verdict
        return None

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
            elif finding.kept is not None:
                value = text[finding.start : finding.end].decode("utf-8", "replace")
                self.outcome.reasons[value] = finding.kept
        if len(self._known) >= CACHE:
            self._known.clear()
        self._known[text] = verdict
        return verdict


def _without_overlaps(spans: list[Span]) -> list[Span]:
    """In order; of two that overlap the longer stays, and of the other what sticks out."""
    chosen: list[Span] = []
    for span in sorted(spans, key=lambda one: (one.start, -one.end)):
        last = chosen[-1] if chosen else None
        if last is None or span.start >= last.end:
            chosen.append(span)
        elif span.end > last.end:
            chosen.append(span._replace(start=last.end))
    return chosen


_AROUND = 400
DEEPEST = 4
"""How many coats may lie over each other."""
_UNSEEN: Any = object()
_UNANCHORED = _Anchor.UNANCHORED
_NO_MATCH = (-1, -1)
_SOFT = frozenset({"user", "person", "host", "address"})
"""Kinds that a label alone can tell; what is known exactly comes before it."""
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
