"""Passwords, tokens and credentials beside a telling name: in headers, URLs, configurations and sentences."""

from __future__ import annotations

import base64
import binascii
import math
import re
from collections import Counter

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.ordinary import ORDINARY, is_ordinary
from sealpacket.core.redact.rules.predicates.base import has_digit
from sealpacket.core.redact.rules.vocabulary import piece, words

NO_SECRET = piece("no-secret")
FOLDER = piece("folder")
_IN_A_PLACEHOLDER = native.Pattern(rb"[a-z]{2,12}:[a-z2-7]{10}")

is_secret = native.Secrets(NO_SECRET, FOLDER, ORDINARY)
"""Whether the value beside a telling name can be a secret, and not a word about one, nor a folder (PWD=/home)."""


def is_told(value: bytes) -> bool:
    """What a sentence says of a password is one only if it is no word: a digit or a sign is in it."""
    return (
        is_secret(value)
        and len(value.strip(b".,;:!?")) >= 4
        and not value.strip(b".,;:!?)").isalpha()
    )


def is_bearer(value: bytes) -> bool:
    """A bearer credential (RFC 6750) has a digit or is longer than any word."""
    return len(value) >= 24 or (len(value) >= 8 and has_digit(value))


def is_basic(value: bytes) -> bool:
    """A basic credential (RFC 7617) is base64 of something with a colon."""
    if len(value) < 8:
        return False
    try:
        return b":" in base64.b64decode(value + b"=" * (-len(value) % 4), validate=True)
    except (binascii.Error, ValueError):
        return False


def is_odd(value: bytes) -> bool:
    """What a short or doubtful name gives is a secret only if it is no word and no plain number."""
    return (
        is_secret(value)
        and len(value) >= 5
        and not value.isalpha()
        and not value.replace(b".", b"").isdigit()
    )


_SAID_OF_IT = words("said-of-it")
"""Words that are said of a password and are none."""
HOW_IT_IS = tuple(words("how-it-is"))
"""How words end that say how something is."""


def is_word(value: bytes) -> bool:
    """A plain word that is a password, where a name or a command leaves no doubt that one stands there."""
    word = value.strip(b".,;:!?").lower()
    return (
        len(word) >= 5
        and word.isalpha()
        and is_secret(word)
        and not is_ordinary(word)
        and word not in _SAID_OF_IT
    )


def is_password(value: bytes) -> bool:
    """What a short name gives where nothing but a password can stand: also a plain word, as people choose them."""
    return is_odd(value) or is_word(value)


def is_told_word(value: bytes) -> bool:
    """A plain word that a sentence gives as a password; not one that says how it is: outdated, missing."""
    return is_word(value) and not value.strip(b".,;:!?").lower().endswith(HOW_IT_IS)


def is_said(value: bytes) -> bool:
    """What a sentence says of a password, be it a word or none."""
    return is_told(value) or is_told_word(value)


def is_given(value: bytes) -> bool:
    """What stands alone behind an account or a word for a password: odd, or a plain word."""
    return is_odd(value) or is_told_word(value)


def entropy(value: bytes) -> float:
    """Shannon's entropy in bits for each byte, of how often each occurs in the value."""
    total = len(value)
    return -sum(n / total * math.log2(n / total) for n in Counter(value).values())


def is_dense(value: bytes) -> bool:
    """Long and random: digits and letters, three and a half bits to each character; no path, no name of words."""
    mixed = any(48 <= b <= 57 for b in value) and any(b > 64 for b in value)
    return (
        20 <= len(value) <= 512
        and mixed
        and value.count(b"/") < 3
        and value.count(b".") < 3
        and entropy(value) >= 3.4
    )


NAME_OF_A_SECRET = piece("name-of-a-secret")
_MORE_NAMES = re.compile(rb"[&;,][A-Za-z_][A-Za-z0-9_. -]*[=:]")
"""Further names behind a value: of a query, of a connection, of a list."""

_NAMES = native.Pattern(NAME_OF_A_SECRET)


def names_a_secret(value: bytes) -> bool:
    """Whether a text is itself the name of a secret, so that what follows it must still be looked at."""
    return _NAMES.is_whole(value)


def is_no_variable(value: bytes) -> bool:
    """A possible secret that is not the name of another, as in `token = pre_token`."""
    is_name = b"_" in value and value.islower() and is_the_name_of_a_secret(value)
    return is_secret(value) and not is_name


def is_odd_or_small(value: bytes) -> bool:
    """What a name gives that may be a class as well (`FirstPass: Base`): odd, or a word that is no name of a class."""
    return value[:1] != b":" and (
        is_odd(value) or (is_word(value) and (value.islower() or value.istitle()))
    )


_IN_WORDS = native.Pattern(piece("in-words"))


def is_the_name_of_a_secret(value: bytes) -> bool:
    """As `names_a_secret`, but word by word: an account may end like one by chance (`votp73`)."""
    return _IN_WORDS.is_whole(value)


def has_more_names(value: bytes) -> bool:
    """Whether further names with values follow, as in a query."""
    return _MORE_NAMES.search(value) is not None


def is_placeholder(value: bytes) -> bool:
    """Whether it is the inside of one of our placeholders."""
    return _IN_A_PLACEHOLDER.is_whole(value)
