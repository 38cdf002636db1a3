"""What a detector is."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

LEAVE = "leave"
"""The kind of a detector that only says: this is not a sensitive value, pass over it whole."""


def as_it_is(value: bytes) -> bytes:
    """The value itself: it has one spelling only."""
    return value


@dataclass(frozen=True)
class Detector:
    """Finds one form of sensitive value.

    `pattern` is RE2 syntax over bytes with exactly one capturing group, the value; whatever stands around the group
    is context and stays. It never crosses a line end, unless `lines` says so. `accept` gets the value and decides
    whether it counts. `canonical` brings different spellings of one value together, so that they get one placeholder.

    `anchors` are short expressions of which one is found, whole, inside every match: only where one is, the pattern
    is tried at all. A detector of kind LEAVE needs none. `sure` is False for findings of low confidence.
    """

    kind: str
    name: str
    pattern: bytes
    anchors: tuple[bytes, ...] = ()
    accept: Callable[[bytes], bool] | None = None
    canonical: Callable[[bytes], bytes] = as_it_is
    sure: bool = True
    lines: bool = False


def digits_of(value: bytes) -> bytes:
    """The digits of a value alone."""
    return bytes(byte for byte in value if 48 <= byte <= 57)


def has_digit(value: bytes) -> bool:
    """Whether a digit is in a value."""
    return any(48 <= byte <= 57 for byte in value)


GROUPS = rb"[A-Z0-9]{4,6}(?:-[A-Z0-9]{4,6}){2,7}"
"""Letters and digits in groups, as keys of licences are printed."""
TELLS = rb"[\"'\\\]\s]{0,4}[=:>]"
"""What stands behind a name in an anchor: what gives it a value."""


def named(words: bytes) -> bytes:
    """An anchor for a name before a value: one of the words, a few more letters, and what gives it a value."""
    return rb"(?i)(?:" + words + rb")[a-z0-9_.-]{0,12}" + TELLS


GIVES = rb"\\?[\"']?(?:\][ \t]*=[ \t]*|(?::\d{1,2}[ \t]+)?[ \t]*(?:=>|:=|==?|:)[ \t]*)"
"""What stands between a name and its value: =, :, =>, := with quotes of JSON around, an index's bracket or a tag's
number before."""
OPENS = rb"(?:\\?[\"'])?"
"""A quote before a value, escaped or not."""
TAGGED = rb"(?:<(?:b|i|em|strong|code|tt|kbd|span|samp)(?:[ \t][^<>\r\n]{0,60})?>)?"
"""An element that only shows a value, before it."""
