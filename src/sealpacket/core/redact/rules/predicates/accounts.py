"""Accounts in the files that list them, in the commands and the statements that name them, and in what people write."""

from __future__ import annotations

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.predicates.listings import ACTORS, is_no_word
from sealpacket.core.redact.rules.predicates.people import is_user
from sealpacket.core.redact.rules.vocabulary import piece, words

_GROUPS = words("groups")
_OF_ANY_USER = words("of-any-user")
"""What stands behind the word for a user where no one is meant."""


def is_one(value: bytes) -> bool:
    """Someone's account where what is behind may be a word as well."""
    value = value.rstrip(b".")
    lower = value.lower()
    known = lower in ACTORS or lower in _GROUPS or lower in _OF_ANY_USER or is_ordinary(value)
    return (
        len(value) > 3
        and (len(value) > 4 or not value.isupper())
        and not known
        and is_no_word(value)
    )


def are_users(value: bytes) -> bool:
    """Whether some account of a list is someone's."""
    return any(
        is_user(one) and one.lower() not in _GROUPS for one in value.replace(b",", b" ").split()
    )


def is_someone(value: bytes) -> bool:
    """Whether an account is someone's where a group may stand as well."""
    return is_user(value) and value.lower() not in _GROUPS


_CALLS = native.Pattern(piece("calls"))
"""What programs for calls over a network name so."""


def is_of_a_service(value: bytes) -> bool:
    return not _CALLS.is_whole(value)


def is_of_parts(value: bytes) -> bool:
    """Where a word may stand as well: not one of which each part is an ordinary one, as in write-only."""
    parts = value.strip(b".").replace(b"_", b"-").replace(b".", b"-").split(b"-")
    return is_one(value) and any(part and not is_ordinary(part) for part in parts)
