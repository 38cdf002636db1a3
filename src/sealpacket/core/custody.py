"""The custody log's chain: each entry's hash covers its content and the hash before it."""

from __future__ import annotations

import hashlib
from collections.abc import Iterable, Mapping
from dataclasses import dataclass
from typing import Any

import rfc8785

GENESIS = "0" * 64


def chain_hash(previous: str, entry: Mapping[str, Any]) -> str:
    """SHA-256 (hex) over the previous hash and the entry in canonical JSON (RFC 8785)."""
    return hashlib.sha256(previous.encode() + b"\n" + rfc8785.dumps(dict(entry))).hexdigest()


@dataclass(frozen=True)
class Link:
    """One stored entry with its place in the chain."""

    seq: int
    entry: Mapping[str, Any]
    previous: str
    hash: str


@dataclass(frozen=True)
class ChainReport:
    """`entries` were read; `broken_at` is the first entry that does not fit, with the reason."""

    entries: int
    last_hash: str
    broken_at: int | None = None
    reason: str = ""


def verify_chain(links: Iterable[Link]) -> ChainReport:
    """Walk the whole log from its start. A gap, a change and an exchange are all found; a cut-off end is not,
    which is why `last_hash` is worth keeping elsewhere."""
    previous, expected, count = GENESIS, 1, 0
    for link in links:
        count += 1
        if link.seq != expected:
            return ChainReport(count, previous, expected, f"entry {expected} is missing")
        if link.previous != previous:
            return ChainReport(count, previous, link.seq, "it does not follow the entry before")
        if chain_hash(previous, link.entry) != link.hash:
            return ChainReport(count, previous, link.seq, "its content has been altered")
        previous, expected = link.hash, expected + 1
    return ChainReport(count, previous)
