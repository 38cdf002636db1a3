"""Diagnostic kits: what to collect from a thing, step by step, and what a good result looks like.

kit = read_kit(text)
for finding in lint(kit): ...
"""

from sealpacket.core.evidence.kits.judging import Outcome, judge
from sealpacket.core.evidence.kits.lint import Finding, lint
from sealpacket.core.evidence.kits.model import Kit, Step, read_kit, read_kit_file

__all__ = ["Finding", "Kit", "Outcome", "Step", "judge", "lint", "read_kit", "read_kit_file"]
