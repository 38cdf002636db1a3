"""Numbers with a check digit: payment cards (ISO/IEC 7812)."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector


def luhn_holds(digits: str) -> bool:
    """Whether the last digit checks (ISO/IEC 7812-1, annex B)."""
    total = 0
    for place, digit in enumerate(reversed(digits)):
        value = int(digit) * (2 if place % 2 else 1)
        total += value - 9 if value > 9 else value
    return total % 10 == 0


def _digits(value: bytes) -> bytes:
    return bytes(byte for byte in value if 48 <= byte <= 57)


def _is_card(value: bytes) -> bool:
    digits = _digits(value).decode()
    return 13 <= len(digits) <= 19 and len(set(digits)) > 1 and luhn_holds(digits)


NUMBERS = (
    Detector(
        "card",
        "card number",
        rb"\b([2-6]\d{12,18}|[2-6]\d{3}(?:[ -]\d{4}){2}[ -]\d{1,7}|3\d{3}[ -]\d{6}[ -]\d{5})\b",
        _is_card,
        _digits,
    ),
)
