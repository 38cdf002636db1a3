"""What traces, tables of the kernel, directories and scripts show."""

from __future__ import annotations

import ipaddress

from sealpacket.core.redact.rules.predicates.base import has_digit


def dotted(value: bytes) -> bytes:
    """An address as it is usually written, of words as they lie in memory, or of digits in their order (IPv6)."""
    data = bytes.fromhex(value.decode())
    if value == value.upper():
        data = b"".join(data[at : at + 4][::-1] for at in range(0, len(data), 4))
    return str(ipaddress.ip_address(data)).encode()


def tells(value: bytes) -> bool:
    address = ipaddress.ip_address(dotted(value).decode())
    return not (
        address.is_unspecified or address.is_loopback or address.packed.endswith(b"\x7f\0\0\x01")
    )


def is_numbered(value: bytes) -> bool:
    """Digits among letters, as in a serial number."""
    return has_digit(value) and any(byte > 64 for byte in value)
