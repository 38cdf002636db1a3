"""A page of an original, or of its outgoing copy, as a picture to be looked at."""

from __future__ import annotations

import io
from typing import IO

from sealpacket.core.pdfium import PdfiumError, opened
from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.pdf import picture_of_page
from sealpacket.core.redact.readers.pictures import pixels_of

_MOST_SHOWN = 4_000_000
"""Pixels; a larger picture is shown smaller."""


def page_picture(source: IO[bytes], number: int) -> bytes:
    """Page `number` (from 1; of a picture there is one) as PNG. Raises Held for what cannot be shown, IndexError."""
    source.seek(0)
    is_pdf = source.read(5) == b"%PDF-"
    source.seek(0)
    if is_pdf:
        try:
            with opened(source.read()) as document:
                if not 1 <= number <= len(document):
                    raise IndexError(number)
                shown = picture_of_page(document[number - 1], _MOST_SHOWN)
        except PdfiumError as error:
            raise Held(f"The PDF is broken or encrypted ({error}).") from error
    else:
        if number != 1:
            raise IndexError(number)
        shown, _ = pixels_of(source)
        most = (_MOST_SHOWN / (shown.width * shown.height)) ** 0.5
        if most < 1:
            shown = shown.resize(
                (max(int(shown.width * most), 1), max(int(shown.height * most), 1))
            )
    target = io.BytesIO()
    shown.save(target, "PNG", compress_level=3)
    return target.getvalue()
