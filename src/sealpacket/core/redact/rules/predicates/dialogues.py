"""What programs say to each other and to databases: sign-ins, statements, lists of accounts."""

from __future__ import annotations

import re

from sealpacket.core.redact.rules.predicates.network import same_host

_MOMENT = re.compile(rb"(?:19|20)\d\d(?:0[1-9]|1[0-2])(?:[0-2]\d|3[01])[0-2]\d[0-5]\d")
"""Fourteen digits that are a moment."""
_TEST = re.compile(rb"::|\.(?:py|js|ts|go|rs|rb|java|t|sh)$|^\d+$|/.+/")
"""What a run of tests says has passed."""


def same_hosts(value: bytes) -> bytes:
    """One host by its bare name, several as they stand."""
    return value.lower() if b"," in value else same_host(value)


def names_a_test(value: bytes) -> bool:
    """Whether it is what a run of tests says has passed."""
    return _TEST.search(value) is not None


def is_moment(value: bytes) -> bool:
    """Whether it begins with the fourteen digits of a moment."""
    return _MOMENT.match(value) is not None
