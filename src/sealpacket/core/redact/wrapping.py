"""Lines that go on: where a value may have been broken because a text was wrapped at one width."""

from __future__ import annotations

import re
from collections.abc import Iterator


def wrapped_ends(buffer: bytes) -> Iterator[int]:
    """The ends of lines at which a value may have been broken: of full lines in a text that was wrapped at one width,
    and of lines that say that they go on (a backslash, the soft break of RFC 2045)."""
    soft = b"=\n" in buffer or b"\\\n" in buffer or b"=\r\n" in buffer
    if not soft and not _full_width(list(map(len, buffer[:_SAMPLE].split(b"\n")[:-1]))):
        return
    lengths = list(map(len, buffer.split(b"\n")))
    full = _full_width(lengths)
    if not full and not soft:
        return
    end = -1
    for length in lengths[:-1]:
        begin, end = end + 1, end + length + 1
        last = buffer[end - 1 : end] if buffer[end - 1 : end] != b"\r" else buffer[end - 2 : end - 1]
        wrapped = length == full and _INSIDE.match(last) and _INSIDE.match(buffer[end + 1 : end + 2])
        # Lines that begin alike are records of one length, not one text.
        if (wrapped and buffer[begin : begin + 3] != buffer[end + 1 : end + 4]) or (soft and last in (b"=", b"\\")):
            yield end


def _full_width(lengths: list[int]) -> int:
    """The width at which a text was wrapped: as long as its longest lines, and a quarter of all are; or 0."""
    width = max(lengths, default=0)
    return width if 40 <= width <= 1000 and lengths.count(width) >= max(3, len(lengths) // 4) else 0


_SAMPLE = 64 << 10
OPEN_ENDED = frozenset({"secret", "user", "key", "address", "token", "hash", "host"})
"""Kinds whose value has no form that tells where it ends: behind a mere `=` at the end of a line they do not go on."""


def goes_on(buffer: bytes, start: int, end: int) -> bool:
    """Whether the line surely goes on after its end: it is full, ends in a backslash, or is as long as in a mail."""
    return buffer[end - 1 : end] != b"=" or 60 <= end - start <= 77


_INSIDE = re.compile(rb"[A-Za-z0-9@._%+/:-]")
