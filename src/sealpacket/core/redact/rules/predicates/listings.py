"""What the tools of a system print: files and their owners, processes, who is signed in, ways through the network."""

from __future__ import annotations

import re

from sealpacket.core.redact.rules.predicates.network import is_host
from sealpacket.core.redact.rules.predicates.people import is_user
from sealpacket.core.redact.rules.vocabulary import words

_SYSTEM = words("system")
_ACCOUNT = re.compile(rb"[a-z]{1,15}[._][a-z]{3,20}")
_NO_HOST = re.compile(
    rb"(?i)\d+|error|info|warn(?:ing)?|debug|notice|fatal|localhost|the|a|an|to|of|on|in|is|at"
)


def is_person(value: bytes) -> bool:
    """An account that some person may have."""
    lower = value.lower()
    return is_user(value) and lower not in _SYSTEM and not lower.startswith((b"_", b"gnome-"))


def is_named(value: bytes) -> bool:
    """A host by its place on a line: no word that stands there too."""
    return (
        len(value) >= 2 and not _NO_HOST.fullmatch(value) and not value.replace(b".", b"").isdigit()
    )


_WORDS = words("listings-words")
_ENDINGS = tuple(words("endings"))


ACTORS = words("actors")
"""What acts without being someone."""


def is_no_word(value: bytes) -> bool:
    """Someone where a word of the sentence may stand as well."""
    lower = value.lower()
    return (
        is_person(value)
        and not value.istitle()
        and lower not in _WORDS
        and not lower.endswith(_ENDINGS)
    )


def has_home(value: bytes) -> bool:
    """Someone whose home `~name` is: `~j.harrow`, and not `~os.path` as programs are written about."""
    return is_person(value) and value.find(b".") < 3


def may_be_host(value: bytes) -> bool:
    """Whether it is rather a machine than an account; `j.harrow` has the form of an account."""
    return is_host(value) and not _ACCOUNT.fullmatch(value)


_UNITS = words("listings-units")


def is_machine(value: bytes) -> bool:
    """A name with a number that is no port, disk or algorithm: sda1, port-17, sha-256."""
    return (
        is_host(value)
        and not set(value.lower().rstrip(b"0123456789").rstrip(b"-").split(b"-")) & _UNITS
    )


def is_core_machine(value: bytes) -> bool:
    """A machine whose name says that it is the core of something: the word is no part of an algorithm's name."""
    return is_machine(value.lower().replace(b"-core", b"-"))
