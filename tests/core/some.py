"""How much of a long list a test tries: a part of it, or all where SEALPACKET_SAMPLES says so (`make bench` does)."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

One = TypeVar("One")
ALL = int(os.environ.get("SEALPACKET_SAMPLES", "20")) >= 200


def some_of(many: Sequence[One], share: int, turn: int = 0) -> Sequence[One]:
    """Every so-manieth, beginning with another for each turn, so that all turns together try all of them."""
    return many if ALL else many[turn % share :: share]
