"""Addresses on the network: IPv4, IPv6 (RFC 4291) and MAC."""

from __future__ import annotations

import ipaddress

from sealpacket.core.redact.detectors.base import LEAVE, Detector

_OCTET = rb"(?:25[0-5]|2[0-4]\d|1\d\d|[1-9]?\d)"
_H = rb"[0-9A-Fa-f]{1,4}"
_TELLS_NOTHING = frozenset({b"0.0.0.0", b"127.0.0.1", b"::", b"::1"})


def _is_ipv4(value: bytes) -> bool:
    return value not in _TELLS_NOTHING and not value.startswith((b"255.255.", b"0.0.0."))


def _is_ipv6(value: bytes) -> bool:
    """A real address; not `std::add`, and not the loopback."""
    if value in _TELLS_NOTHING or not any(48 <= byte <= 57 for byte in value):
        return False
    try:
        ipaddress.IPv6Address(value.decode("ascii"))
    except ValueError:
        return False
    return True


def _same_ipv6(value: bytes) -> bytes:
    return ipaddress.IPv6Address(value.decode("ascii")).compressed.encode()


def _same_mac(value: bytes) -> bytes:
    return bytes(byte for byte in value.lower() if byte not in b":-.")


NETWORK = (
    Detector(
        LEAVE,
        "version that looks like an address",
        rb"(?i:\b(?:version|ver|firmware|fw|release|build|rev|os|v)\.?[ :=/\"]{0,3}v?)(\d+(?:\.\d+){3,5})\b",
    ),
    Detector(LEAVE, "dotted number longer than an address", rb"\b(\d+(?:\.\d+){4,})\b"),
    Detector("ip", "IPv4 address", rb"\b(" + _OCTET + rb"(?:\." + _OCTET + rb"){3})\b", _is_ipv4),
    Detector(
        "mac",
        "MAC address",
        rb"\b([0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){5}|[0-9A-Fa-f]{2}(?:-[0-9A-Fa-f]{2}){5}"
        rb"|[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4}\.[0-9A-Fa-f]{4})\b",
        canonical=_same_mac,
    ),
    Detector(
        "ip",
        "IPv6 address",
        rb"(\b" + _H + rb"(?::" + _H + rb"){7}\b"
        rb"|\b" + _H + rb"(?::" + _H + rb"){0,6}::(?:" + _H + rb"(?::" + _H + rb"){0,6}\b)?"
        rb"|::" + _H + rb"(?::" + _H + rb"){0,6}\b)",
        _is_ipv6,
        _same_ipv6,
    ),
)
