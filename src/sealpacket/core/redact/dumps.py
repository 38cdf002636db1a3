"""Dumps: bytes written line by line, each line with where it begins, in hex or octal, and often as text beside it.

What stands in a dump goes over the ends of its lines, so that it is looked at as a whole and written anew.
"""

from __future__ import annotations

import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass

from sealpacket.core.redact.coats import Coated

_FIRST = re.compile(
    rb"^(?P<lead>(?:[^\n]{0,120}?[ \t>])??(?:0[xX])?)(?P<offset>[0-9A-Fa-f]{3,16})(?P<gap>:?[ \t]+)"
    rb"(?P<rest>(?:(?:[0-9A-Fa-f]{2}[ ]{1,2}){5}|(?:[0-9A-Fa-f]{4}[ ]{1,2}){3}|(?:[0-7]{3}[ ]){4}|[0-9A-Fa-f]{8}[ ])[^\n]*)$",
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
        for place, byte in zip(self.places, told, strict=False):
            form = b"%03o" if self.digits == 3 else b"%02X" if self.is_upper else b"%02x"
            body[place : place + self.digits] = form % byte
        made = bytes(body[: self.places[len(data) - 1] + self.digits])
        if self.has_text:
            made = made.ljust(len(self.body)) + self.before_text + _as_text(data)
        return lead + self.number(offset) + self.gap + made + self.after_text

    @property
    def is_upper(self) -> bool:
        return self.body != self.body.lower()


def dumps_in(buffer: bytes) -> Iterator[Coated]:
    """Every dump; one of words without its text beside it once more with the bytes of each word changed about, as they
    lie in the memory of most machines."""
    place = 0
    while hit := _FIRST.search(buffer, place):
        place = hit.end()
        for swapped in (False, True):
            layout = _layout(hit, swapped=swapped)
            if layout is None:
                continue
            coated = _whole(buffer, hit, layout)
            place = max(place, coated.end)
            yield coated
            if layout.has_text:
                break


def _layout(hit: re.Match[bytes], *, swapped: bool) -> _Layout | None:
    """How a dump is written that begins with this line; None if it is none."""
    rest = hit["rest"]
    words = [*re.finditer(rb"[0-9A-Fa-f]+", rest)]
    group = len(words[0][0])
    digits = 3 if group == 3 else 2
    if group % digits or (swapped and group != 4):
        return None
    words = words[: next((n for n, word in enumerate(words) if not _follows(words, n, group)), len(words))]
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
        form = (b"%%0%d" % len(hit["offset"])) + (b"o" if digits == 3 else b"X" if hit["offset"].isupper() else b"x")
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
    return all(32 <= byte < 127 and sign == byte or not 32 <= byte < 127 for sign, byte in zip(text, data, strict=True))


def _as_text(data: bytes) -> bytes:
    return bytes(byte if 32 <= byte < 127 else 46 for byte in data)


def _changed_about(data: bytes, step: int) -> bytes:
    return b"".join(data[at : at + step][::-1] for at in range(0, len(data), step))


def _whole(buffer: bytes, first: re.Match[bytes], layout: _Layout) -> Coated:
    """The dump that begins with this line, as far as it goes."""
    start = offset = int(first["offset"], layout.offset_base)
    leads, data = [], b""
    at, end = first.start(), first.start()
    step = layout.group // layout.digits
    while at < len(buffer):
        stop = buffer.find(b"\n", at)
        stop = len(buffer) if stop < 0 else stop
        lead, number, rest = buffer[at : min(stop, at + _LONGEST_LEAD + 20)].partition(layout.number(offset))
        rest = buffer[at + len(lead) + len(number) : stop]
        if leads and number and not rest.strip():  # the end of the dump, where the next line would begin
            end = stop
            return Coated(first.start(), end, data, _writer(layout, start, leads, lead))
        if not number or not rest.startswith(layout.gap):
            break
        row = _row(rest.removeprefix(layout.gap), layout)
        if row is None:
            break
        data += _changed_about(row, step) if layout.swapped else row
        leads.append(lead)
        offset += len(row)
        end, at = stop, stop + 1
        if len(row) < len(layout.places):
            continue
    return Coated(first.start(), end, data, _writer(layout, start, leads, None))


def _row(rest: bytes, layout: _Layout) -> bytes | None:
    """The bytes of a line, behind where it begins; None if it is no line of this dump."""
    body = rest[: len(layout.body)]
    places = [at for at in layout.places if at < len(body)]
    while places:
        row = _read(body, places, layout.digits)
        if row is not None and not body[places[-1] + layout.digits :].strip():
            told = _changed_about(row, layout.group // layout.digits) if layout.swapped else row
            behind = rest[len(layout.body) :]
            if not layout.has_text or _text_behind(behind, told) is not None:
                return row
        places.pop()
    return None


def _writer(layout: _Layout, start: int, leads: list[bytes], last: bytes | None) -> Callable[[bytes], bytes]:
    def write(data: bytes) -> bytes:
        full = len(layout.places)
        lines = []
        for number, at in enumerate(range(0, len(data), full)):
            lead = leads[min(number, len(leads) - 1)]
            lines.append(layout.line(lead, start + at, data[at : at + full]))
        if last is not None:
            lines.append(last + layout.number(start + len(data)))
        return b"\n".join(lines)

    return write
