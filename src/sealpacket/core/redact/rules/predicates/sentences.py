"""What people write in sentences: tickets, notes, minutes, mails. All of them doubtful, so that a person looks at them
first."""

from __future__ import annotations

import re

from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.predicates.credentials import HOW_IT_IS
from sealpacket.core.redact.rules.predicates.nearby import is_told
from sealpacket.core.redact.rules.predicates.people import is_user


def is_account(value: bytes) -> bool:
    """What a sentence says that an account is, and not how it is: mandatory, expired, ambiguous."""
    lower = value.lower().rstrip(b".")
    return (
        len(lower) > 3
        and is_user(value)
        and not is_ordinary(value)
        and not lower.endswith(HOW_IT_IS)
    )


def is_pair(value: bytes) -> bool:
    """An account and a password, with a stroke between; `bzip2/lib2` and `arm64/defs.m4` are none."""
    secret = value.rpartition(b"/")[2].strip(b" \"'`")
    return is_told(secret) and (
        b" /" in value or secret.lower() != secret or bool(set(secret) & set(b"#!$%&*+?"))
    )


def in_words(value: bytes) -> bool:
    """A mail address written so that programs miss it: `name [at] house [dot] org`."""
    lower = value.lower()
    words = [
        one for one in re.split(rb"[^a-z0-9_-]+", lower) if one not in (b"at", b"dot", b"punkt")
    ]
    spelled = re.search(
        rb"[ \[({<](?:dot|punkt)[ \])}>]|[\[({<] ?at ?[\])}>]|\(@\)|^[a-z]+[._][a-z0-9]+ at ", lower
    )
    ends = len(words[-1]) <= 3 or words[-1] in (
        b"example",
        b"info",
        b"invalid",
        b"test",
        b"local",
        b"name",
        b"cloud",
    )
    return spelled is not None and ends and len(words) >= 3 and not is_ordinary(words[0])
