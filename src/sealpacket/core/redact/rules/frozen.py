"""Sixty different files that nothing was ever fitted to, with what must go marked by its kind: `«user:odile»`.

The digest of the file is kept here, so that nobody changes it unseen.
"""

from __future__ import annotations

import hashlib
import re
from functools import cache
from importlib import resources
from typing import NamedTuple

_DIGEST = "ade7fce9daebf927a5936e37df0730c2bf4797efbf22f18fc21bf632e2d95a2a"
_HEAD = re.compile(r"^=== \d\d .*\n", re.MULTILINE)
_MARKED = re.compile(r"«([a-z]+):(.*?)»")


class Value(NamedTuple):
    """A value of a file, and where it stands in its bytes."""

    kind: str
    start: int
    end: int


@cache
def frozen_files() -> tuple[tuple[bytes, list[Value]], ...]:
    """Each file as it is, with what must go. Raises ValueError if the file is not the one that was frozen."""
    content = (resources.files(__package__) / "frozen.txt").read_bytes()
    if hashlib.sha256(content).hexdigest() != _DIGEST:
        raise ValueError("frozen.txt has changed: figures of it cannot be compared any more")
    return tuple(_unmarked(marked) for marked in _HEAD.split(content.decode())[1:])


def _unmarked(marked: str) -> tuple[bytes, list[Value]]:
    plain, values, place = b"", [], 0
    for hit in _MARKED.finditer(marked):
        plain += marked[place : hit.start()].encode()
        value = hit[2].encode()
        values.append(Value(hit[1], len(plain), len(plain) + len(value)))
        plain += value
        place = hit.end()
    return plain + marked[place:].encode(), values
