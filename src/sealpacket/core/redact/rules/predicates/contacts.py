"""How people and places are reached: mail (RFC 5322, the usual part), telephone (ITU-T E.164), post, coordinates."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.base import digits_of
from sealpacket.core.redact.rules.vocabulary import words

_UNITS = tuple(words("units"))


def is_mail(value: bytes) -> bool:
    """Not the name of a unit of the system: getty@tty1.service."""
    return not value.endswith(_UNITS)


def is_phone(value: bytes) -> bool:
    """E.164 allows 15 digits at most; fewer than 9 with a country code is no subscriber's number."""
    return 9 <= len(digits_of(value)) <= 15


def is_address(value: bytes) -> bool:
    """A line of an address has words and a number; an address in memory or on a network is none."""
    text = value.strip()
    return (
        6 <= len(text) <= 120
        and b" " in text
        and any(48 <= byte <= 57 for byte in text)
        and sum(bytes([byte]).isalpha() for byte in text) >= 4
        and not text.lower().startswith((b"0x", b"::"))
        and text.count(b"=") == 0
        and b"(" not in text
    )
