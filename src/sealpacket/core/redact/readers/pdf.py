"""PDF: each page becomes a picture with boxes burnt in, so that no layer, no metadata and no older state goes along."""

from __future__ import annotations

import io
from collections.abc import Iterator
from typing import IO, Any

import pypdfium2
from PIL import Image
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import LARGEST_PARSED, Work, size_of
from sealpacket.core.redact.readers.pictures import MOST_PIXELS, boxes_on, cover

MOST_PAGES = 500
_SCALE = 2.0
_POINTS = 72


def read_pdf(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """The pages as they look, at 144 dots to the inch. Text that is drawn, and words on pictures, are looked at."""
    if size_of(source) > 4 * LARGEST_PARSED:
        raise Held(f"The PDF is larger than {4 * LARGEST_PARSED >> 20} MB.")
    try:
        document = pypdfium2.PdfDocument(source.read())
    except pypdfium2.PdfiumError as error:
        raise Held(f"The PDF is broken or encrypted ({error}).") from error
    try:
        if len(document) > MOST_PAGES:
            raise Held(f"The PDF has more than {MOST_PAGES} pages.")
        document.init_forms()
        canvas = Canvas(target, invariant=1, pageCompression=1)
        canvas.setProducer("")
        for number in range(len(document)):
            page = document[number]
            _page(canvas, page, work)
            page.close()
        canvas.save()
    except pypdfium2.PdfiumError as error:
        raise Held(f"The PDF is broken ({error}).") from error
    finally:
        document.close()


def _page(canvas: Canvas, page: Any, work: Work) -> None:
    width, height = page.get_size()
    scale = min(_SCALE, (MOST_PIXELS / max(width * height, 1)) ** 0.5)
    picture = page.render(scale=scale, may_draw_forms=True).to_pil().convert("RGB")
    text = page.get_textpage()
    boxes = [_in_pixels(box, height, scale) for box in _over_text(text, work)]
    text.close()
    cover(picture, boxes)
    cover(picture, boxes_on(picture, work))
    data = io.BytesIO()
    Image.frombytes("RGB", picture.size, picture.tobytes()).save(data, "PNG")
    data.seek(0)
    canvas.setPageSize((width, height))
    canvas.drawImage(ImageReader(data), 0, 0, width, height)
    canvas.showPage()


def _over_text(page: Any, work: Work) -> Iterator[tuple[float, float, float, float]]:
    """The boxes (left, bottom, right, top in points) of all letters that belong to a value."""
    count = page.count_chars()
    letter = pypdfium2.raw.FPDFText_GetUnicode
    whole = "".join(_letter(letter(page.raw, place)) for place in range(count))
    places: list[int] = []
    for place, sign in enumerate(whole):
        places.extend([place] * len(sign.encode("utf-8", "surrogatepass")))
    raw = whole.encode("utf-8", "surrogatepass")
    for span in work.run.spans(raw):
        for place in sorted({places[n] for n in range(span.start, span.end)}):
            if not whole[place].isspace():
                yield page.get_charbox(place, loose=True)


def _letter(code: int) -> str:
    return chr(code) if 0 < code < 0x110000 and not 0xD800 <= code < 0xE000 else "?"


def _in_pixels(box: tuple[float, float, float, float], height: float, scale: float) -> tuple[int, int, int, int]:
    left, bottom, right, top = box
    return int(left * scale), int((height - top) * scale), int(right * scale) + 1, int((height - bottom) * scale) + 1
