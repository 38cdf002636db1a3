"""Lists as CSV (RFC 4180)."""

from __future__ import annotations

import csv
import io
from collections.abc import Mapping, Sequence
from typing import Any

_FORMULA = ("=", "+", "-", "@", "\t", "\r")


def csv_of(headings: Sequence[str], rows: Sequence[Mapping[str, Any]]) -> bytes:
    """The list in UTF-8, lines ended by CRLF. What a spreadsheet would take for a formula gets an apostrophe."""
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(headings)
    for row in rows:
        writer.writerow([_cell(row.get(heading, "")) for heading in headings])
    return out.getvalue().encode()


def _cell(value: Any) -> str:
    text = str(value)
    return (
        f"'{text}"
        if text.startswith(_FORMULA) and not text[1:].replace(".", "").isdigit()
        else text
    )
