"""Accounts, machines and secrets in settings that one program each writes in a form of its own."""

from __future__ import annotations

from sealpacket.core.redact.rules.predicates.base import has_digit
from sealpacket.core.redact.rules.predicates.credentials import is_secret
from sealpacket.core.redact.rules.predicates.listings import is_machine
from sealpacket.core.redact.rules.predicates.network import is_called
from sealpacket.core.redact.rules.predicates.people import is_user


def are_machines(value: bytes) -> bool:
    return any(is_called(one.strip()) for one in value.split(b","))


def are_users(value: bytes) -> bool:
    return any(is_user(one.strip(b"%+ \t")) for one in value.split(b","))


def is_pair(value: bytes) -> bool:
    """An account and its password with a colon between."""
    name, _, secret = value.partition(b":")
    return is_user(name) and is_secret(secret)


def is_numbered(value: bytes) -> bool:
    """A machine with a hyphen and a number in its bare name."""
    return is_machine(value) and has_digit(value) and b"-" in value and b"." not in value
