"""Values of a typical shape near a telling word, in any grammar: all are of low confidence."""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.predicates.base import digits_of
from sealpacket.core.redact.rules.predicates.credentials import is_odd
from sealpacket.core.redact.rules.vocabulary import piece

_NO_PASSWORD = native.Pattern(piece("no-password"))
_NO_NUMBER = native.Pattern(piece("no-number"))
"""A standard, an error, an update, a ticket, a date, a moment, a certificate's number."""


def is_password(value: bytes) -> bool:
    """A word with digits that is no algorithm, no part of a machine and no digest."""
    return len(value) >= 6 and is_told(value)


_NO_VALUE = native.Pattern(piece("no-value"))
"""A date, a version, a number with its unit, an algorithm, a path, a call, an address."""


def is_told(value: bytes) -> bool:
    """What a sentence says that a password is: with a digit, and nothing that is told of passwords beside it."""
    value = value.rstrip(b".!?:)")
    return is_odd(value) and not _NO_VALUE.is_whole(value) and not _NO_PASSWORD.is_whole(value)


def is_licence(value: bytes) -> bool:
    """Letters and digits in groups, and no name of a unit, a series or an identifier in a standard's form."""
    return any(48 <= byte <= 57 for byte in value) and any(byte > 64 for byte in value)


def is_card(value: bytes) -> bool:
    return not _NO_NUMBER.is_whole(value)


def is_number(value: bytes) -> bool:
    """Seven signs and more, three digits among them, and no standard's name or error's code."""
    return len(value) >= 7 and len(digits_of(value)) >= 3 and not _NO_NUMBER.is_whole(value)
