"""The catalogue: all detectors and terms compiled, and the judgement on what they find."""

from __future__ import annotations

from sealpacket.core.redact.search.catalogue import (
    ANYWHERE,
    ENGINE,
    HAS_MARKS,
    HAS_NAMES,
    HAS_SPACED,
    HAS_TOKENS,
    Catalogue,
    Finding,
    fold,
)

__all__ = [
    "ANYWHERE",
    "ENGINE",
    "HAS_MARKS",
    "HAS_NAMES",
    "HAS_SPACED",
    "HAS_TOKENS",
    "Catalogue",
    "Finding",
    "fold",
]
