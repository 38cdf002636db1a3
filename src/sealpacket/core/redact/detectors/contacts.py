"""Mail addresses (RFC 5322, the usual part) and telephone numbers (ITU-T E.164)."""

from __future__ import annotations

from sealpacket.core.redact.detectors.base import Detector


def _digits(value: bytes) -> bytes:
    return bytes(byte for byte in value if 48 <= byte <= 57)


def _is_phone(value: bytes) -> bool:
    """E.164 allows 15 digits at most; fewer than 9 with a country code is no subscriber's number."""
    return 9 <= len(_digits(value)) <= 15


CONTACTS = (
    Detector(
        "mail",
        "mail address",
        rb"([A-Za-z0-9][A-Za-z0-9._%+'-]{0,63}@[A-Za-z0-9][A-Za-z0-9-]*(?:\.[A-Za-z0-9-]+)*\.[A-Za-z][A-Za-z0-9-]+)",
        canonical=bytes.lower,
    ),
    Detector(
        "phone",
        "telephone number",
        rb"(\+\d{1,3}[ .-]?(?:\(\d{1,4}\)[ .-]?)?\d{2,5}(?:[ .-]?\d{2,5}){1,4})\b",
        _is_phone,
        _digits,
    ),
    Detector(
        "phone",
        "labelled telephone number",
        rb"(?i:\b(?:tel|phone|telephone|mobile|fax)\.?[\"']?[ \t]*[:=]?[ \t]*[\"']?)(0\d{2,5}[ )-]{0,2}[\d -]{5,11}\d)",
        _is_phone,
        _digits,
    ),
)
