"""Dumps: bytes written line by line, each line with where it begins, in hex or octal, and often as text beside it.

What stands in a dump goes over the ends of its lines, so that it is looked at as a whole and written anew.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from dataclasses import dataclass

_FIRST = re.compile(
    rb"^(?P<lead>(?:[^\n]{0,120}?[ \t>])??(?:0[xX])?)(?P<offset>[0-9A-Fa-f]{3,16})(?P<gap>:?[ \t]+)"
    rb"(?P<rest>(?:(?:[0-9A-Fa-f]{2}[ ]{1,2}){5}|(?:[0-9A-Fa-f]{4}[ ]{1,2}){3}|(?:[0-7]{3}[ ]){4}|[0-9A-Fa-f]{8}[ ])"
    rb"[^\n]*)$",
    re.MULTILINE,
)
_LONGEST_LEAD = 124


@dataclass(frozen=True, slots=True)
class _Layout:
    """How a dump is written: after its first line, which is full. `places` are where each byte stands in `body`."""

    digits: int
    group: int
    swapped: bool
    body: bytes
    places: list[int]
    offset_base: int
    offset_form: bytes
    gap: bytes
    before_text: bytes
    after_text: bytes
    has_text: bool

    def number(self, offset: int) -> bytes:
        return self.offset_form % offset

    def line(self, lead: bytes, offset: int, data: bytes) -> bytes:
        """A line of a dump."""
        step = self.group // self.digits
        told = _changed_about(data, step) if self.swapped else data
        body = bytearray(self.body)
        form = (
            b"%03o" if self.digits == 3 else b"%02X" if self.body != self.body.lower() else b"%02x"
        )
        for place, byte in zip(self.places, told, strict=False):
            body[place : place + self.digits] = form % byte
        made = bytes(body[: self.places[len(data) - 1] + self.digits])
        if self.has_text:
            made = made.ljust(len(self.body)) + self.before_text + _as_text(data)
        return lead + self.number(offset) + self.gap + made + self.after_text


@dataclass(frozen=True, slots=True)
class _Row:
    """A line of a dump: its offset stands at `number`, its bytes from `body` on."""

    start: int
    number: int
    body: int
    end: int


@dataclass(frozen=True, slots=True)
class Dump:
    """Some lines of a text, and what they stand for."""

    start: int
    end: int
    data: bytes
    rows: list[_Row]
    _first: int
    _layout: _Layout
    _last: bytes | None

    @property
    def is_sure(self) -> bool:
        """Whether it is one beyond doubt: its lines follow each other, or have their text beside them."""
        return len(self.rows) > 1 or self._layout.has_text

    @property
    def width(self) -> int:
        """How many bytes a full line has."""
        return len(self._layout.places)

    def written(self, data: bytes, leads: list[bytes]) -> bytes:
        """The lines as they are for other bytes, with this before each offset; more lines have the last one's."""
        lines = []
        for number, at in enumerate(range(0, len(data), self.width)):
            lead = leads[min(number, len(leads) - 1)]
            lines.append(self._layout.line(lead, self._first + at, data[at : at + self.width]))
        if self._last is not None:
            lines.append(self._last + self._layout.number(self._first + len(data)))
        return b"\n".join(lines)


def dumps_in(buffer: bytes, starts: Iterable[int] | None = None) -> Iterator[Dump]:
    """Every dump that begins with one of these lines, or with any.

    One of words without its text beside it comes once more with the bytes of each word changed about, as they lie in
    the memory of most machines.
    """
    place = 0
    for start in _lines_of(buffer) if starts is None else starts:
        hit = _FIRST.match(buffer, start) if start >= place else None
        if hit is None:
            continue
        for swapped in (False, True):
            layout = _layout(hit, swapped=swapped)
            dump = _whole(buffer, hit, layout) if layout is not None else None
            if layout is None or dump is None:
                continue
            place = max(place, dump.end)
            yield dump
            if layout.has_text:
                break


def _lines_of(buffer: bytes) -> Iterator[int]:
    start = 0
    while start < len(buffer):
        yield start
        start = buffer.find(b"\n", start) + 1 or len(buffer)


def _layout(hit: re.Match[bytes], *, swapped: bool) -> _Layout | None:
    """How a dump is written that begins with this line; None if it is none."""
    rest = hit["rest"]
    words = [*re.finditer(rb"[0-9A-Fa-f]+", rest)]
    group = len(words[0][0])
    digits = 3 if group == 3 else 2
    if group % digits or (swapped and group != 4):
        return None
    words = words[
        : next((n for n, word in enumerate(words) if not _follows(words, n, group)), len(words))
    ]
    ends = rest.rstrip(b"\r ")
    for many in range(len(words), 0, -1):
        places = [at for word in words[:many] for at in range(word.start(), word.end(), digits)]
        data = _read(rest, places, digits)
        if data is None:
            continue
        told = _changed_about(data, group // digits) if swapped else data
        body, behind = rest[: words[many - 1].end()], rest[words[many - 1].end() :]
        text = _text_behind(behind, told)
        if text is None and ends != body:
            continue
        before, after = text if text is not None else (b"", rest[len(ends) :])
        form = (b"%%0%d" % len(hit["offset"])) + (
            b"o" if digits == 3 else b"X" if hit["offset"].isupper() else b"x"
        )
        return _Layout(digits, group, swapped, body, places, 8 if digits == 3 else 16, form, hit["gap"], before, after,
                       text is not None)  # fmt: skip
    return None


def _follows(words: list[re.Match[bytes]], number: int, group: int) -> bool:
    """Whether a word stands where the next bytes of a line do, and is as long as the first, or the last and shorter."""
    word = words[number]
    near = number == 0 or word.start() - words[number - 1].end() <= 2
    return near and (len(word[0]) == group or (len(word[0]) < group and number + 1 == len(words)))


def _read(text: bytes, places: list[int], digits: int) -> bytes | None:
    try:
        return bytes(int(text[at : at + digits], 8 if digits == 3 else 16) for at in places)
    except ValueError:
        return None


def _text_behind(behind: bytes, data: bytes) -> tuple[bytes, bytes] | None:
    """What stands around the text that these bytes are; None if it does not stand there."""
    for bar in (b"|", b"*", b">", b""):
        trimmed = behind.rstrip(b"\r ") if bar else behind.rstrip(b"\r")
        if bar and not trimmed.endswith(bar):
            continue
        end = len(trimmed) - len(bar)
        start = end - len(data)
        between = behind[: max(start, 0)]
        if start < 1 or between.strip(b" \t|*<") or not _is_text_of(behind[start:end], data):
            continue
        return between, behind[end:]
    return None


def _is_text_of(text: bytes, data: bytes) -> bool:
    return all(sign == byte or not 32 <= byte < 127 for sign, byte in zip(text, data, strict=True))


def _as_text(data: bytes) -> bytes:
    return bytes(byte if 32 <= byte < 127 else 46 for byte in data)


def _changed_about(data: bytes, step: int) -> bytes:
    return b"".join(data[at : at + step][::-1] for at in range(0, len(data), step))


def _whole(buffer: bytes, hit: re.Match[bytes], layout: _Layout) -> Dump | None:
    """The dump that begins with this line, as far as it goes; None if its first line is none after all."""
    first = offset = int(hit["offset"], layout.offset_base)
    rows: list[_Row] = []
    data: list[bytes] = []
    at, end, last = hit.start(), hit.start(), None
    while at < len(buffer):
        stop = buffer.find(b"\n", at)
        stop = len(buffer) if stop < 0 else stop
        number = layout.number(offset)
        found = buffer.find(
            number + layout.gap, at, min(stop, at + _LONGEST_LEAD + len(number) + len(layout.gap))
        )
        if found < 0:
            if (
                rows and buffer[at:stop].rstrip(b"\r ") == number
            ):  # the end of the dump, where the next line would begin
                last, end = b"", stop
            break
        body = found + len(number) + len(layout.gap)
        row = _row(buffer[body:stop], layout)
        if row is None:
            break
        data.append(_changed_about(row, layout.group // layout.digits) if layout.swapped else row)
        rows.append(_Row(at, found, body, stop))
        offset += len(row)
        end, at = stop, stop + 1
    if not rows:
        return None
    return Dump(hit.start(), end, b"".join(data), rows, first, layout, last)


def _row(rest: bytes, layout: _Layout) -> bytes | None:
    """The bytes of a line, behind where it begins; None if it is no line of this dump."""
    body, behind = rest[: len(layout.body)], rest[len(layout.body) :]
    places = [at for at in layout.places if at < len(body)]
    while places:
        end = places[-1] + layout.digits
        row = _read(body, places, layout.digits)
        is_alike = (
            body[:end].translate(_SHAPES) == layout.body[:end].translate(_SHAPES)
            and not body[end:].strip()
        )
        if row is not None and is_alike:
            told = _changed_about(row, layout.group // layout.digits) if layout.swapped else row
            if _text_behind(behind, told) is not None if layout.has_text else not behind.strip():
                return row
        places.pop()
    return None


_SHAPES = bytes(104 if byte in b"0123456789abcdefABCDEF" else byte for byte in range(256))
