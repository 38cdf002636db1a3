"""What judgements of all families use."""

from __future__ import annotations

from sealpacket.core.redact.rules.vocabulary import words

OF_PROGRAMS = tuple(word + b"." for word in words("of-programs"))
"""What stands before the name of something that a program holds: `self.target`, `args.user_name`."""


def digits_of(value: bytes) -> bytes:
    """The digits of a value alone."""
    return bytes(byte for byte in value if 48 <= byte <= 57)


def has_digit(value: bytes) -> bool:
    """Whether a digit is in a value."""
    return any(48 <= byte <= 57 for byte in value)
