"""PDF forms (AcroForm, ISO 32000): which fields a blank has, and filling them. pypdf is loaded when it is needed."""

from __future__ import annotations

import base64
import io
from collections.abc import Mapping
from functools import lru_cache
from typing import TYPE_CHECKING, Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.conversion import plain

if TYPE_CHECKING:
    from pypdf import PdfReader


def _bad() -> tuple[type[Exception], ...]:
    """What pypdf raises for a file that is no good PDF."""
    from pypdf.errors import PyPdfError

    return PyPdfError, ValueError, KeyError, TypeError, AttributeError, RecursionError, IndexError


def _open(blank: str) -> PdfReader:
    from pypdf import PdfReader

    try:
        data = base64.b64decode("".join(blank.split()), validate=True)
        reader = PdfReader(io.BytesIO(data), strict=False)
        if reader.is_encrypted or len(reader.pages) > 40:
            raise ValueError("locked or too long")
    except _bad() as error:  # binascii.Error is a ValueError
        raise Invalid(
            "The blank is not a readable PDF.",
            "Put the desk's empty form there in base64.",
            code="pdf-blank",
        ) from error
    return reader


def form_fields(blank: str) -> dict[str, Any]:
    """The fields of a blank (base64) as its own dictionaries. Raises Invalid if it is no PDF."""
    try:
        return dict(_open(blank).get_fields() or {})
    except _bad() as error:
        raise Invalid(
            "The fields of the blank cannot be read.",
            "Save the form anew, without scripts.",
            code="pdf-blank",
        ) from error


@lru_cache(maxsize=8)
def field_names(blank: str) -> dict[str, str]:
    """The fields of a blank (base64) and their sort: text, tick or choice. Raises Invalid if it is no PDF."""
    sorts = {"/Tx": "text", "/Btn": "tick", "/Ch": "choice"}
    return {
        name: sorts.get(str(field.get("/FT")), "text") for name, field in form_fields(blank).items()
    }


def fill_form(blank: str, values: Mapping[str, Any]) -> bytes:
    """The blank with its fields filled and not to be changed. The same values give the same bytes.

    Raises Invalid if the blank is no PDF form or a value names a field that it has not.
    """
    from pypdf import PdfWriter
    from pypdf.generic import NameObject, NumberObject

    names = field_names(blank)
    strange = [name for name in values if name not in names]
    if strange:
        raise Invalid(
            f"The form has no field {strange[0]}.", f"It has: {', '.join(names)}.", code="pdf-field"
        )
    try:
        writer = PdfWriter(clone_from=_open(blank))
        writer.set_need_appearances_writer(False)
        texts = {name: _value(value, names[name]) for name, value in values.items()}
        for page in writer.pages:
            writer.update_page_form_field_values(page, texts, auto_regenerate=False)
            for note in page.get("/Annots") or []:
                field = note.get_object()
                field[NameObject("/Ff")] = NumberObject(int(field.get("/Ff", 0)) | 1)
        out = io.BytesIO()
        writer.write(out)
        return out.getvalue()
    except _bad() as error:
        raise Invalid(
            "The form cannot be filled.", "Save the form anew, without scripts.", code="pdf-blank"
        ) from error


def _value(value: Any, sort: str) -> str:
    if sort == "tick":
        return "/Yes" if value in (True, "yes", "true", "on") else "/Off"
    return plain(value)
