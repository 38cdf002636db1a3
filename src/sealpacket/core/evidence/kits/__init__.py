"""Diagnostic kits: what to collect from a thing, step by step, and what a good result looks like.

kit = read_kit(text)
for finding in lint(kit): ...
"""

from sealpacket.core.evidence.kits.judging import KEPT, Outcome, judge
from sealpacket.core.evidence.kits.lint import (
    Finding,
    holds_secrets,
    lint,
    refuse_stops,
    unknown_programs,
)
from sealpacket.core.evidence.kits.model import Kit, Step, read_kit, read_kit_file

__all__ = [
    "KEPT",
    "Finding",
    "Kit",
    "Outcome",
    "Step",
    "holds_secrets",
    "judge",
    "lint",
    "read_kit",
    "read_kit_file",
    "refuse_stops",
    "unknown_programs",
]
