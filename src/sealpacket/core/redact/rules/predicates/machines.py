"""Machines with a plain word or capitals for a name (fennel, SRVAPP01), where the context names one."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.credentials import HOW_IT_IS
from sealpacket.core.redact.rules.predicates.network import is_called


def is_named(value: bytes) -> bool:
    """A machine's name where a sentence may have a word about one as well: affected, unreachable."""
    return is_called(value) and not (value.isalpha() and value.lower().endswith(HOW_IT_IS))
