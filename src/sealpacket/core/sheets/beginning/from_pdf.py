"""Fields of a PDF form (AcroForm, ISO 32000)."""

from __future__ import annotations

import base64
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.beginning.fields import Begun, Field
from sealpacket.core.sheets.writing.pdf import form_fields

_REQUIRED, _MULTILINE, _PUSH = 1 << 1, 1 << 12, 1 << 16


def from_pdf(data: bytes) -> Begun:
    """The fields of a form, and the form itself as the blank. Raises Invalid for a PDF without fields."""
    blank = base64.b64encode(data).decode()
    fields = [
        _field(name, field) for name, field in form_fields(blank).items() if not _is_button(field)
    ]
    if not fields:
        raise Invalid("The PDF has no fields to fill.", "Ask the desk for its form with fields.")
    lines = "\n".join(blank[at : at + 100] for at in range(0, len(blank), 100))
    return Begun("pdf", fields, {"name": "{packet.number}.pdf", "blank": lines})


def _is_button(field: Any) -> bool:
    return field.get("/FT") == "/Btn" and bool(int(field.get("/Ff", 0)) & _PUSH)


def _field(name: str, field: Any) -> Field:
    flags = int(field.get("/Ff", 0) or 0)
    label = str(field.get("/TU") or name)
    found = Field(name, label, required=bool(flags & _REQUIRED))
    match field.get("/FT"):
        case "/Btn":
            found.kind = "boolean"
        case "/Ch":
            found.kind = "choice"
            found.choices = [_option(one) for one in field.get("/Opt", [])]
        case _:
            found.kind = "long" if flags & _MULTILINE else "text"
            length = field.get("/MaxLen")
            found.max_length = int(length) if length else None
    return found


def _option(one: Any) -> tuple[str, str]:
    if isinstance(one, list):
        return str(one[0]), str(one[-1])
    return str(one), str(one)
