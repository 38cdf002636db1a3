"""What values are wrapped in: coats, tokens, dumps, broken lines; and where a text may be cut."""

from __future__ import annotations

from sealpacket.core.redact.encodings.coats import MARKS, View, view_with, views_of
from sealpacket.core.redact.encodings.cuts import (
    borders_of,
    quiet_place,
    settled,
    start_of_run,
    without_padding,
)
from sealpacket.core.redact.encodings.dumps import Dump, dumps_in
from sealpacket.core.redact.encodings.pieces import in_pieces
from sealpacket.core.redact.encodings.tokens import (
    SPACED,
    TOKENS,
    Coated,
    tokens_in,
    wrapped_tokens_in,
)
from sealpacket.core.redact.encodings.wrapping import OPEN_ENDED, goes_on

__all__ = [
    "MARKS",
    "OPEN_ENDED",
    "SPACED",
    "TOKENS",
    "Coated",
    "Dump",
    "View",
    "borders_of",
    "dumps_in",
    "goes_on",
    "in_pieces",
    "quiet_place",
    "settled",
    "start_of_run",
    "tokens_in",
    "view_with",
    "views_of",
    "without_padding",
    "wrapped_tokens_in",
]
