"""Private keys over several lines (RFC 7468), signed tokens (RFC 7519), and keys that are known by how they begin."""

from __future__ import annotations

from itertools import pairwise

from sealpacket.core.redact.rules.predicates.base import has_digit


def looks_random(value: bytes) -> bool:
    """Whether a run of letters and digits is nothing that anyone would write: digits and letters well mixed."""
    digits = sum(48 <= byte <= 57 for byte in value)
    changes = sum(_sort(a) != _sort(b) for a, b in pairwise(value))
    cases = any(65 <= byte <= 90 for byte in value) and any(97 <= byte <= 122 for byte in value)
    # By chance, two of three neighbours differ; of words with capitals put together, one of four.
    often = len(value) * 0.37 if cases else len(value) / 6
    return 2 <= digits < len(value) * 0.8 and changes >= often


def _sort(byte: int) -> int:
    return 0 if 48 <= byte <= 57 else 1 if 65 <= byte <= 90 else 2 if 97 <= byte <= 122 else 3


def is_token(value: bytes) -> bool:
    return 20 <= len(value) <= 80 and looks_random(value)


def is_access_key(value: bytes) -> bool:
    """Twenty capitals and digits, well mixed: no constant's name, no serial of zeros."""
    return looks_random(value) and any(65 <= byte <= 90 for byte in value[4:])


def is_licence(value: bytes) -> bool:
    """Groups of five with letters and digits in them; not a number cut in groups, not words."""
    letters = sum(65 <= byte <= 90 for byte in value)
    return letters >= 5 and has_digit(value)
