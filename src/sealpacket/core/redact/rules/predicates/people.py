"""People beside a label: names, users, home folders, days of birth."""

from __future__ import annotations

import re

from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.predicates.base import OF_PROGRAMS, has_digit
from sealpacket.core.redact.rules.predicates.credentials import is_the_name_of_a_secret
from sealpacket.core.redact.rules.vocabulary import words

_NOBODY = words("nobody")


_THINGS = words("things")
"""Words that stand behind "reader" and the like where no one is meant."""


NO_PART_OF_A_NAME = words("no-part-of-a-name")
"""Words that stand with a capital where no one is meant."""


_LABELS = words("labels")
"""Words that tell of the next part of a name."""


def may_be_someone(value: bytes) -> bool:
    """Whether a word of what a label tells of can be a part of a name: it is none that any text has, and none of them
    tells of the next part."""
    words = value.replace(b",", b" ").split()
    if any(word.lower() in _LABELS for word in words):
        return False
    return any(not is_ordinary(word) and word.lower() not in NO_PART_OF_A_NAME for word in words)


def is_someone(value: bytes) -> bool:
    """Whether names behind "reader", "customer" and the like are someone's, and not a word about readers."""
    return not _THINGS & set(value.lower().replace(b",", b" ").split())


_NO_NAMES = words("no-names")
"""Words in capitals that stand where a name might."""
_ESCAPE = re.compile(rb"u[0-9a-f]{4}|x[0-9a-f]{2}")
"""What stands behind a backslash in an escape and not in a name."""


def is_user(value: bytes) -> bool:
    """Someone's account, and not one that every system has, nor a number or a word about users."""
    lower = value.lower().replace(b"\xef\xbf\xbd", b"").strip(b".-_")
    return (
        2 <= len(lower) <= 64
        and lower not in _NOBODY
        and not lower.startswith(b"systemd-")
        and not lower.startswith(OF_PROGRAMS)
        and not lower.isdigit()
        and not is_the_name_of_a_secret(lower)
    )


def is_part(value: bytes) -> bool:
    """What can be a part of a name: letters, and not many."""
    return len(value) < 60 and not has_digit(value)


def are_names(value: bytes) -> bool:
    """Whether two words with capitals are someone's names, and not what is said of an account."""
    words = value.replace(b",", b"").split()
    return is_someone(value) and not any(
        word.upper() in _NO_NAMES or word.lower() in _NOBODY for word in words
    )


def is_escape(value: bytes) -> bool:
    """Whether it is what stands behind a backslash in an escape."""
    return _ESCAPE.match(value) is not None
