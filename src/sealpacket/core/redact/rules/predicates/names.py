"""Names of people that no list has: by their capitals and their context. Most are of low confidence."""

from __future__ import annotations

from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.predicates.people import (
    NO_PART_OF_A_NAME,
    are_names,
)


def are_odd_names(value: bytes) -> bool:
    """Whether two words with capitals are names where no label tells of someone: no word of them is an ordinary one."""
    words = value.replace(b",", b" ").split()
    return are_names(value) and not any(
        is_ordinary(word) or word.lower() in NO_PART_OF_A_NAME for word in words
    )


def is_odd_name(value: bytes) -> bool:
    """The same for one word behind a label."""
    return len(value) > 2 and are_odd_names(value)


def are_two_people(value: bytes) -> bool:
    """Two people, two words each, with one word between."""
    names = value.split()
    return are_odd_names(b" ".join(names[:2])) and are_odd_names(b" ".join(names[3:]))
