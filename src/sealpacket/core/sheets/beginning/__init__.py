"""Beginning a sheet with what a vendor has: a PDF form, an XML Schema, a JSON Schema, OpenAPI, a sample, a web form."""

from __future__ import annotations

from pathlib import PurePath

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.beginning.fields import Begun
from sealpacket.core.sheets.beginning.from_html import from_html
from sealpacket.core.sheets.beginning.from_json import from_json
from sealpacket.core.sheets.beginning.from_mail import from_mail
from sealpacket.core.sheets.beginning.from_pdf import from_pdf
from sealpacket.core.sheets.beginning.from_xsd import from_xsd
from sealpacket.core.sheets.beginning.sheet import sheet_of

LARGEST = 4 << 20

__all__ = ["begin"]


def begin(name: str, data: bytes, *, operation: str = "", root: str = "") -> str:
    """The text of a sheet with its questions, begun from a file. What it could not know is marked with `# ?`.

    `operation` names one of an OpenAPI document, `root` the outermost element of an XML Schema. Raises Invalid for a
    file of another kind.
    """
    if len(data) > LARGEST:
        raise Invalid("The file is larger than 4 MB.", "Give the form or schema alone.")
    begun = _read(PurePath(name).suffix.lower(), data, operation, root)
    if not begun.fields:
        raise Invalid(
            f"{name} has no fields that could be asked for.",
            "Give a PDF form, an XML Schema, a JSON Schema, OpenAPI, a sample, or a saved web form.",
        )
    return sheet_of(begun, PurePath(name).stem)


def _read(ending: str, data: bytes, operation: str, root: str) -> Begun:
    head = data[:4096].lstrip().lower()
    if head.startswith(b"%pdf"):
        return from_pdf(data)
    text = data.decode("utf-8", "replace")
    if b"schema" in head and head.startswith(b"<"):
        return from_xsd(text, root)
    if b"<html" in head or b"<form" in head or ending in (".html", ".htm"):
        return from_html(text)
    if ending in (".json", ".yaml", ".yml") or head.startswith(b"{"):
        return from_json(text, operation)
    return from_mail(text)
