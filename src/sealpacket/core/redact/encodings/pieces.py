"""Known values that are written in pieces: with blanks in them, over the end of a line, from one cell to the next."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import NamedTuple

FEWEST = 4
"""A value of fewer signs is not looked for so: it would be found between any two words."""


class Written(NamedTuple):
    """Where a value begins and ends in a text (in bytes)."""

    start: int
    end: int
    kind: str
    value: bytes


def in_pieces(text: bytes, values: Iterable[tuple[str, bytes]]) -> Iterator[Written]:
    """Where these (kind, value) stand in a text in UTF-8, whatever their case, if blanks count for nothing."""
    whole, places = _closed(text)
    for kind, value in values:
        wanted, _ = _closed(value)
        if len(wanted) < FEWEST:
            continue
        at = whole.find(wanted)
        while at >= 0:
            last = places[at + len(wanted) - 1]
            yield Written(places[at], last + _length(text, last), kind, value)
            at = whole.find(wanted, at + len(wanted))


def _closed(text: bytes) -> tuple[str, list[int]]:
    """The signs of a text that are no blanks, in lower case, and where each of them begins."""
    signs: list[str] = []
    places: list[int] = []
    at = 0
    for sign in text.decode("utf-8", "surrogateescape"):
        low = sign.lower()
        if not sign.isspace() and len(low) == 1:
            signs.append(low)
            places.append(at)
        at += len(sign.encode("utf-8", "surrogateescape"))
    return "".join(signs), places


def _length(text: bytes, at: int) -> int:
    """How many bytes the sign at a place has."""
    end = at + 1
    while end < len(text) and text[end] & 0xC0 == 0x80:
        end += 1
    return end - at
