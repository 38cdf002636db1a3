"""Names and addresses on a network: IPv4, IPv6 (RFC 4291), MAC, host names (RFC 1123)."""

from __future__ import annotations

import ipaddress

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.rules.ordinary import is_ordinary
from sealpacket.core.redact.rules.predicates.base import OF_PROGRAMS, has_digit
from sealpacket.core.redact.rules.predicates.credentials import names_a_secret
from sealpacket.core.redact.rules.vocabulary import piece, words

_TELLS_NOTHING = words("tells-nothing")


def is_ipv4(value: bytes) -> bool:
    return value not in _TELLS_NOTHING and not value.startswith((b"255.255.", b"0.0.0."))


def is_ipv6(value: bytes) -> bool:
    """A real address; not `std::add`, not the loopback, and not eight pairs, as a hardware address has them."""
    if value in _TELLS_NOTHING or not has_digit(value):
        return False
    if all(len(group) == 2 for group in value.split(b":")):
        return False
    if value.endswith(b"::") and value.count(b":") == 2 and len(value) < 6:
        return False  # the last fields of a line of a user list: 99999:7:::
    try:
        ipaddress.IPv6Address(value.decode("ascii"))
    except ValueError:
        return False
    return True


def same_ipv6(value: bytes) -> bytes:
    return ipaddress.IPv6Address(value.decode("ascii")).compressed.encode()


def with_dots(value: bytes) -> bytes:
    """An IPv4 address as it is usually written."""
    return value.translate(bytes.maketrans(b",-", b".."))


def same_mac(value: bytes) -> bytes:
    """A MAC address without what stands between its digits."""
    return value.lower().translate(None, b":-.")


def is_mac(value: bytes) -> bool:
    return same_mac(value) not in (b"000000000000", b"ffffffffffff")


_NAME = piece("network-name")
_STANDARDS = piece("standards")


def is_host(value: bytes) -> bool:
    """A name with a dot, a hyphen or a digit, and no number, file or word about hosts."""
    lower = value.lower().rstrip(b".")
    if (
        lower in _NO_HOSTS
        or lower == b"localhost.localdomain"
        or lower.replace(b".", b"").isdigit()
    ):
        return False
    return (
        not lower.isalpha()
        and not names_a_secret(lower)
        and any(97 <= byte <= 122 for byte in lower)
        and not lower.endswith(_FILES)
        and not _is_of_a_program(value)
    )


def is_called(value: bytes) -> bool:
    """A host where only one can stand: also a plain word, as machines are called, that is no ordinary one."""
    lower = value.lower()
    word = (
        len(value) >= 4
        and value.isalpha()
        and not is_ordinary(lower)
        and lower not in _NO_HOSTS
        and lower not in _NO_MACHINES
    )
    return (word or is_host(value)) and not lower.startswith(b"__")


def _is_of_a_program(value: bytes) -> bool:
    """`node.value`, `self.target`, `utf-8`: what a program calls something, or a standard."""
    if _STANDARD.is_whole(value):
        return True
    if value.startswith(OF_PROGRAMS) and value.rsplit(b".", 1)[-1] not in _ENDINGS:
        return True
    if value.count(b"_") > 1 and not has_digit(value):
        return True
    return (
        b"." in value and is_ordinary(value) and value.lower().rsplit(b".", 1)[-1] not in _ENDINGS
    )


_ENDINGS = words("network-endings")
_STANDARD = native.Pattern(piece("standard"))
_NO_HOSTS = words("no-hosts")
_FILES = tuple(words("files"))


_NO_MACHINES = words("no-machines")
"""What may stand behind the name of a host and is none: software, states, roles, kinds of machines."""


def same_host(value: bytes) -> bytes:
    """A host's bare name: with and without its domain it is one host."""
    return value.lower().split(b".", 1)[0]


def is_domain(value: bytes) -> bool:
    """Two labels only under an ending that no file or method has, three or more under any."""
    labels = value.lower().split(b".")
    if value.isupper() or any(not label for label in labels) or labels[0].isdigit():
        return False
    if value.rpartition(b".")[2].isupper() and not value.rpartition(b".")[0].isupper():
        return False  # a constant of something: tokenize.NL
    if len(labels) == 2:
        return labels[1] in _PLAIN_TOP
    return True


_PLAIN_TOP = words("plain-top")


OF_FORMATS = (
    ("namespace of a standard", rb"\bhttps?:(?:\\?/){2}", _STANDARDS, rb"\b"),
    ("name of a namespace", rb"\bxmlns(?::[\w.-]{1,60})?\s?=\s?[\"']https?://", _NAME, rb""),
    (
        "document that describes a format",
        rb"\bhttps?://",
        _NAME,
        rb"(?::\d+)?(?:/[\w.~%+-]+){1,20}\.(?:xsd|dtd|rng|ent)\b",
    ),
    (
        "namespace before the schema that describes it",
        rb"\bhttps?://",
        _NAME,
        rb"[^\s\"'<>]{0,200}\s{1,40}https?://[^\s\"'<>]{1,200}\.xsd\b",
    ),
)
"""Where a format is named like a host, unless under our own domains: about, before, name, behind."""
