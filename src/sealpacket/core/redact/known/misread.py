"""What is easily mistaken when text is read off a picture: O for 0, l for 1, S for 5.

Known values are found by what they look like, and in words that are mostly digits the letters are read as digits too.
"""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator

SHORTEST = 6
"""A shorter known value looks like too many other words."""
_ALIKE = bytes.maketrans(b"oil|!sbz", b"01111582")
_DIGITS = bytes.maketrans(b"OoIl|SBZ", b"00111582")
_TOKEN = re.compile(rb"\S+")
_PARTS = re.compile(rb"[:=/@,;()\[\]<>\"']+")
_WORDS = 3


def looks_like(folded: bytes) -> bytes:
    """What is left of a folded text when all that looks alike is alike."""
    return folded.translate(_ALIKE)


def index_of(known: Iterable[bytes]) -> dict[bytes, bytes]:
    """Known values (folded) by what they look like."""
    return {looks_like(value): value for value in known if len(value) >= SHORTEST}


def with_digits(text: bytes) -> bytes:
    """The text with letters read as digits in words that have at least as many of these as letters."""
    return _TOKEN.sub(_as_digits, text)


def _as_digits(token: re.Match[bytes]) -> bytes:
    digits = sum(byte in b"0123456789" for byte in token[0])
    letters = sum(bytes([byte]).isalpha() for byte in token[0])
    return token[0].translate(_DIGITS) if digits >= letters > 0 else token[0]


def stretches(words: list[bytes]) -> Iterator[tuple[int, int, bytes]]:
    """What may be one value on a line of words: (first word, behind the last, text folded), the longest first."""
    for length in range(min(_WORDS, len(words)), 1, -1):
        for start in range(len(words) - length + 1):
            yield (
                start,
                start + length,
                b" ".join(word.strip(b".,;:()[]\"'") for word in words[start : start + length]),
            )
    for place, word in enumerate(words):
        bare = word.strip(b".,;:()[]\"'")
        for part in dict.fromkeys([bare, *_PARTS.split(bare)]):
            yield place, place + 1, part
