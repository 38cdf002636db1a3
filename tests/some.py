"""How much a test tries: of a long list a part, or all of it where SEALPACKET_SAMPLES says so (`make bench` does)."""

from __future__ import annotations

import os
from collections.abc import Sequence
from typing import TypeVar

One = TypeVar("One")
SAMPLES = int(os.environ.get("SEALPACKET_SAMPLES", "20"))
ALL = SAMPLES >= 200


def some_of(many: Sequence[One], share: int, turn: int = 0) -> Sequence[One]:
    """Every so-manieth, beginning with another for each turn, so that all turns together try all of them."""
    return many if ALL else many[turn % share :: share]
