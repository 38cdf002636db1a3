"""Secrets on command lines, and in the files that commands read."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.credentials import (
    is_secret,
    is_word,
)


def is_sign_in(value: bytes) -> bool:
    """A user and a password with a stroke between, the password no word of a sentence."""
    secret = value.partition(b"/")[2]
    return is_secret(secret) and (not secret.isalpha() or is_word(secret))
