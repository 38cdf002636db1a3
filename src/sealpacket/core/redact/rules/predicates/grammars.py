"""Secrets in files that have a grammar of their own: of tunnels, relays, containers, sources, directories."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.credentials import is_secret


def is_no_kind(value: bytes) -> bool:
    """What a statement says of a password besides it."""
    return is_secret(value) and value.upper() not in (
        b"PASSWORD",
        b"VALUES",
        b"EXTERNALLY",
        b"GLOBALLY",
        b"RANDOM",
        b"BY",
    )
