"""Secrets in configurations of network devices: communities, shared keys, hashed and reversible lines, Wi-Fi keys."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.credentials import is_secret
from sealpacket.core.redact.rules.vocabulary import words


def is_device_secret(value: bytes) -> bool:
    """No word of the configuration language itself."""
    return is_secret(value) and value.lower() not in _WORDS


def is_no_word(value: bytes) -> bool:
    """No word of a sentence about one either."""
    return is_device_secret(value) and not value.strip(b".,;:!?()").isalpha()


def is_mixed(value: bytes) -> bool:
    """Letters and digits, or a sign that no word has."""
    text = value.rstrip(b".,:;!?)")
    return (
        any(48 <= b <= 57 for b in text)
        and any(b > 64 for b in text)
        and not text.startswith((b"/", b"-", b"0x"))
    )


_WORDS = words("words")
