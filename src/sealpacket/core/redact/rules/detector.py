"""A detector: one shape of a rule, as the search takes it."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass, field
from typing import NamedTuple

LEAVE = "leave"
"""The kind of a detector whose matches are not sensitive and hide what begins within them."""


def as_it_is(value: bytes) -> bytes:
    """The value itself: it has one spelling only."""
    return value


class Parts(NamedTuple):
    """A pattern as the native search takes it; see Detector in native/detectors.hpp. `plain` is without groups."""

    pattern: bytes
    plain: bytes
    whole: bool
    before: bytes
    behind: bytes
    cue: bytes
    gap: int
    told: bytes
    told_plain: bytes
    anchors: tuple[tuple[bytes, bool], ...]


@dataclass(frozen=True)
class Detector:
    """Finds one form of sensitive value.

    `pattern` is RE2 syntax over bytes with exactly one capturing group, the value; whatever stands around the group
    is context and stays. It never crosses a line end, unless `lines` says so. `accept` gets the value and decides
    whether it counts. `canonical` brings different spellings of one value together, so that they get one placeholder.

    `anchors` are short expressions of which one is found, whole, inside every match: only where one is, the pattern
    is tried at all. `sure` is False for findings of low confidence. A `cue` is a pattern before the other, that is
    searched first. `judged_by` are the expressions that `accept` was made of, `parts` is the pattern
    taken apart, if that was done before.
    """

    kind: str
    name: str
    pattern: bytes
    anchors: tuple[bytes, ...] = ()
    accept: Callable[[bytes], bool] | None = None
    canonical: Callable[[bytes], bytes] = as_it_is
    sure: bool = True
    lines: bool = False
    cue: bytes = b""
    judged_by: tuple[str, ...] = field(default=(), compare=False, repr=False)
    parts: Parts | None = field(default=None, compare=False, repr=False)

    @property
    def whole(self) -> bytes:
        """The pattern with its cue."""
        return self.cue + self.pattern
