"""Placeholders: what stands for a masked value, the same everywhere in its scope."""

from __future__ import annotations

import re

from sealpacket.core.redact import _native as native

LENGTH = 10
PLACEHOLDER = re.compile(rb"\[[a-z]{2,12}:[a-z2-7]{%d}\]" % LENGTH)


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
        self.native = native.Labels(key)

    def of(self, kind: str, canonical: bytes) -> bytes:
        """The placeholder for one value of one kind, as ASCII bytes."""
        return self.native.of(kind, canonical)
