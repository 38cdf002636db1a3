"""What sentences, traces, addresses and tools say of people, their accounts and their numbers."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.people import is_someone


def of_several(value: bytes) -> bool:
    """Two words of capitals or more that can be a name."""
    return is_someone(value) and len(value) >= 6
