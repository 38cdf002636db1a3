"""How different spellings of one value are brought together, by the name that rules use for it."""

from __future__ import annotations

from collections.abc import Callable

from sealpacket.core.redact.rules.detector import as_it_is
from sealpacket.core.redact.rules.predicates.base import digits_of
from sealpacket.core.redact.rules.predicates.dialogues import same_hosts
from sealpacket.core.redact.rules.predicates.identifiers import bare
from sealpacket.core.redact.rules.predicates.network import (
    same_host,
    same_ipv6,
    same_mac,
    with_dots,
)
from sealpacket.core.redact.rules.predicates.numbers import close
from sealpacket.core.redact.rules.predicates.traces import dotted


def _closed(value: bytes) -> bytes:
    """Without blanks."""
    return value.replace(b" ", b"")


def _closed_capitals(value: bytes) -> bytes:
    """Without blanks, in capitals."""
    return _closed(value).upper()


def _mac_with_blanks(value: bytes) -> bytes:
    """A MAC address whose pairs are separated by blanks."""
    return same_mac(_closed(value))


SPELLINGS: dict[str, Callable[[bytes], bytes]] = {
    "": as_it_is,
    "lower": bytes.lower,
    "digits": digits_of,
    "host": same_host,
    "hosts": same_hosts,
    "mac": same_mac,
    "mac-with-blanks": _mac_with_blanks,
    "ipv6": same_ipv6,
    "with-dots": with_dots,
    "dotted": dotted,
    "bare": bare,
    "no-separators": close,
    "closed": _closed,
    "closed-capitals": _closed_capitals,
}
