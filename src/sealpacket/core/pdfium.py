"""pdfium, by which PDF (ISO 32000) is read and drawn. It is not made for several threads, so it is lent to one."""

from __future__ import annotations

from collections.abc import Iterator
from contextlib import contextmanager
from threading import RLock
from typing import Any

import pypdfium2

PdfiumError = pypdfium2.PdfiumError
_lent = RLock()


@contextmanager
def opened(content: bytes) -> Iterator[Any]:
    """A PDF, open for as long as the block lasts. Raises PdfiumError if it is damaged or locked."""
    with _lent:
        document = pypdfium2.PdfDocument(content)
        try:
            yield document
        finally:
            document.close()
