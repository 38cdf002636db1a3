"""Context that is not beside a value: the heads of columns, pairs, and names of several parts."""

from __future__ import annotations

from sealpacket.core.redact.context.columns import Columns
from sealpacket.core.redact.context.full_names import PARTICLE, full_names_in

__all__ = ["PARTICLE", "Columns", "full_names_in"]
