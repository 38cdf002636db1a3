"""Numbers that a label names: of readers and customers, of devices, of contracts."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.base import digits_of


def is_number(value: bytes) -> bool:
    """Six signs or more, with digits among them."""
    return len(value) >= 6 and len(digits_of(value)) >= 3 and not value.startswith((b"0x", b"0X"))


def bare(value: bytes) -> bytes:
    return value.translate(None, b" -").lower()


def is_serial(value: bytes) -> bool:
    """Letters and digits of a length that serial numbers have; no digest, no identifier in hexadecimal digits."""
    longest = 20 if value.isupper() else 15
    return (
        is_number(value)
        and any(bytes([byte]).isalpha() for byte in value)
        and (8 <= len(value) <= longest or value.strip(_HEXADECIMAL) != b"")
        and value.strip(_HEXADECIMAL.lower()) != b""
    )


def is_uuid(value: bytes) -> bool:
    """Whether a value has the form of a unique identifier (RFC 9562)."""
    return len(value) == 36 and value.count(b"-") == 4


_HEXADECIMAL = b"0123456789abcdefABCDEF"
