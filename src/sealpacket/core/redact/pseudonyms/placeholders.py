"""Placeholders: what stands for a masked value, the same everywhere in its scope."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import timedelta
from typing import Literal

from sealpacket.core.redact import _native as native
from sealpacket.core.redact.pseudonyms.shaping import Shaped
from sealpacket.core.redact.pseudonyms.times import Shift

LENGTH = 10
PLACEHOLDER = re.compile(rb"\[[a-z]{2,12}:[a-z2-7]{%d}\]" % LENGTH)
_LABEL = re.compile(rb"\[[a-z]+:[^\]]*\](?=.)", re.S)


@dataclass(frozen=True)
class Style:
    """How placeholders look: labels, or shapes (see shaping.py); by how much times are shifted."""

    form: Literal["labels", "shapes"] = "labels"
    check_digits: bool = False
    shift: timedelta = timedelta(0)


class Placeholders:
    """Labels such as `[host:k3f7q2mxwa]`, from a keyed BLAKE2b (RFC 7693) over kind and canonical value, in the
    alphabet of base32 (RFC 4648); or, in the style of shapes, something of the same shape.

    No counter is shared, so any worker at any time gives the same label. With 50 bits, two of 100,000 values share a
    label with a chance of about 1 in 220,000; that never leaks a value, the legend then names both.
    """

    def __init__(self, key: bytes, style: Style = Style()) -> None:
        if len(key) != 32:
            raise ValueError("a placeholder key has 32 bytes")
        self.key = key
        self.native = native.Labels(key)
        self.shift = Shift(style.shift) if style.shift else None
        if style.form == "shapes":
            self.native.shape = Shaped(key, self.native.of, check_digits=style.check_digits)

    def of(self, kind: str, canonical: bytes) -> bytes:
        """The label for one value of one kind, as ASCII bytes."""
        return self.native.of(kind, canonical)

    def noted(self, kind: str, written: bytes) -> bytes:
        """Under what a placeholder as it is written stands in the legend."""
        return self.native.noted(kind, written)


def as_written(noted: bytes) -> bytes:
    """The placeholder as it stands in a copy, from how it stands in the legend."""
    label = _LABEL.match(noted)
    return noted[label.end() :] if label else noted
