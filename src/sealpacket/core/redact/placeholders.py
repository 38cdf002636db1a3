"""Placeholders: what stands for a masked value, the same everywhere in its scope."""

from __future__ import annotations

import hashlib
import re

LENGTH = 10
PLACEHOLDER = re.compile(rb"\[[a-z]{2,12}:[a-z2-7]{%d}\]" % LENGTH)
_ALPHABET = b"abcdefghijklmnopqrstuvwxyz234567"
_PAIRS = tuple(bytes((a, b)) for a in _ALPHABET for b in _ALPHABET)


class Placeholders:
    """Labels such as `[host:k3f7q2mxwa]`, from a keyed BLAKE2b (RFC 7693) over kind and canonical value, in the
    alphabet of base32 (RFC 4648).

    No counter is shared, so any worker at any time gives the same label. With 50 bits, two of 100,000 values share a
    label with a chance of about 1 in 220,000; that never leaks a value, the legend then names both.
    """

    def __init__(self, key: bytes) -> None:
        if len(key) != 32:
            raise ValueError("a placeholder key has 32 bytes")
        self.key = key
        self._bases: dict[str, hashlib.blake2b] = {}

    def of(self, kind: str, canonical: bytes) -> bytes:
        """The placeholder for one value of one kind, as ASCII bytes."""
        base = self._bases.get(kind)
        if base is None:
            base = self._bases[kind] = hashlib.blake2b(kind.encode() + b"\0", key=self.key, digest_size=10)
        hasher = base.copy()
        hasher.update(canonical)
        bits = int.from_bytes(hasher.digest()[:7], "big") >> 6
        p = _PAIRS
        return b"[%s:%s%s%s%s%s]" % (
            kind.encode(), p[bits >> 40], p[bits >> 30 & 1023], p[bits >> 20 & 1023], p[bits >> 10 & 1023],
            p[bits & 1023],
        )  # fmt: skip
