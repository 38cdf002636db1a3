"""Given names that tell a person where two words with capitals stand together; none that is a word of its own too."""

from __future__ import annotations

from sealpacket.core.redact.rules.vocabulary import words

GIVEN_NAMES = words("given-names")


def is_someones_name(value: bytes) -> bool:
    """Whether the first of some words is a given name."""
    return value.lower().replace(b"-", b" ").split()[0] in GIVEN_NAMES
