"""What a detector is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

LEAVE = "leave"
"""The kind of a detector that only says: this is not a sensitive value, pass over it whole."""


def _as_it_is(value: bytes) -> bytes:
    return value


@dataclass(frozen=True)
class Detector:
    """Finds one form of sensitive value.

    `pattern` is RE2 syntax over bytes with exactly one capturing group, the value; whatever stands around the group
    is context and stays. `accept` gets the value and decides whether it counts. `canonical` brings different
    spellings of one value together, so that they get one placeholder.
    """

    kind: str
    name: str
    pattern: bytes
    accept: Callable[[bytes], bool] | None = None
    canonical: Callable[[bytes], bytes] = _as_it_is
