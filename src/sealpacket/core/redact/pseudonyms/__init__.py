"""What stands for a value: placeholders, shapes that are kept, shifted times; and the legend back."""

from __future__ import annotations

from sealpacket.core.redact.pseudonyms.legend import Legend
from sealpacket.core.redact.pseudonyms.placeholders import (
    PLACEHOLDER,
    Placeholders,
    Style,
    as_written,
)
from sealpacket.core.redact.pseudonyms.shapes import Shapes
from sealpacket.core.redact.pseudonyms.times import Shift

__all__ = ["PLACEHOLDER", "Legend", "Placeholders", "Shapes", "Shift", "Style", "as_written"]
