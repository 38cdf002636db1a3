"""PDF: each page becomes a picture with boxes burnt in, so that no layer, no metadata and no older state goes along."""

from __future__ import annotations

import ctypes
import io
from collections.abc import Iterator, Sequence
from typing import IO, Any

import pypdfium2
from PIL import Image
from reportlab.lib.utils import ImageReader
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.pdfium import PdfiumError, opened
from sealpacket.core.redact.boxes import Box, Covered, Page, Pixels, drawn_on, side_by_side
from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import LARGEST_PARSED, Work, size_of
from sealpacket.core.redact.readers.covering import cover
from sealpacket.core.redact.readers.pictures import (
    MOST_PIXELS,
    Word,
    lines_of,
    over,
    over_codes,
    over_words,
    words_on,
)

MOST_PAGES = 500
_SCALE = 2.0


def read_pdf(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """The pages as they look, at 144 dots to the inch. Text that is drawn, and words on pictures, are looked at."""
    if size_of(source) > 4 * LARGEST_PARSED:
        raise Held(f"The PDF is larger than {4 * LARGEST_PARSED >> 20} MB.")
    try:
        with opened(source.read()) as document:
            if len(document) > MOST_PAGES:
                raise Held(f"The PDF has more than {MOST_PAGES} pages.")
            document.init_forms()
            canvas = Canvas(target, invariant=1, pageCompression=1)
            canvas.setProducer("")
            for number in range(len(document)):
                page = document[number]
                _page(canvas, page, work, work.drawn.get(number + 1, ()))
                page.close()
            canvas.save()
    except PdfiumError as error:
        raise Held(f"The PDF is broken or encrypted ({error}).") from error


def picture_of_page(page: Any, most: float = MOST_PIXELS) -> Image.Image:
    """A page as it looks, of at most so many pixels."""
    width, height = page.get_size()
    scale = min(_SCALE, (most / max(width * height, 1)) ** 0.5)
    picture: Image.Image = page.render(scale=scale, may_draw_forms=True).to_pil().convert("RGB")
    return picture


def _page(canvas: Canvas, page: Any, work: Work, drawn: Sequence[Box]) -> None:
    picture = picture_of_page(page)
    text = page.get_textpage()
    covered = list(_over_text(page, text, picture.size, work))
    text.close()
    cover(picture, covered)
    words = words_on(picture)
    covered += [
        *over_words(words, work),
        *over_codes(picture, work),
        *drawn_on(picture.size, drawn),
    ]
    cover(picture, covered)
    work.note_page(Page(*picture.size, covered))
    data = io.BytesIO()
    Image.frombytes("RGB", picture.size, picture.tobytes()).save(data, "PNG")
    data.seek(0)
    width, height = page.get_size()
    canvas.setPageSize((width, height))
    canvas.drawImage(ImageReader(data), 0, 0, width, height)
    if work.searchable:
        _write_beneath(canvas, words, covered, width / picture.width, height)
    canvas.showPage()


def _over_text(page: Any, text: Any, size: tuple[int, int], work: Work) -> Iterator[Covered]:
    """Boxes over all letters that belong to a value."""
    count = text.count_chars()
    letter = pypdfium2.raw.FPDFText_GetUnicode
    whole = "".join(_letter(letter(text.raw, place)) for place in range(count))
    places: list[int] = []
    for place, sign in enumerate(whole):
        places.extend([place] * len(sign.encode("utf-8", "surrogatepass")))
    raw = whole.encode("utf-8", "surrogatepass")
    for span in [*work.run.spans(raw), *work.run.in_pieces(raw)]:
        letters = sorted({places[n] for n in range(span.start, span.end)})
        boxes = [
            _on_picture(page, text.get_charbox(n, loose=True), size)
            for n in letters
            if not whole[n].isspace()
        ]
        yield from (over(span, raw, box) for box in side_by_side(boxes))


def _letter(code: int) -> str:
    return chr(code) if 0 < code < 0x110000 and not 0xD800 <= code < 0xE000 else "?"


def _on_picture(page: Any, box: tuple[float, float, float, float], size: tuple[int, int]) -> Pixels:
    """A box of the page's own space (left, bottom, right, top in points) on its picture: a page may be turned, and
    need not begin at nought."""
    x, y = ctypes.c_int(), ctypes.c_int()
    corners = []
    for corner in ((box[0], box[1]), (box[2], box[3])):
        pypdfium2.raw.FPDF_PageToDevice(
            page.raw, 0, 0, *size, 0, *corner, ctypes.byref(x), ctypes.byref(y)
        )
        corners.append((x.value, y.value))
    (one_x, one_y), (two_x, two_y) = corners
    return min(one_x, two_x), min(one_y, two_y), max(one_x, two_x) + 1, max(one_y, two_y) + 1


_NOT_DRAWN = 3
"""The mode in which text is not drawn but can be found (ISO 32000-1, 9.3.6)."""


def _write_beneath(
    canvas: Canvas, words: list[Word], covered: list[Covered], scale: float, height: float
) -> None:
    """The words that are read on the covered page, and placeholders where they stand, as text that is not drawn.

    Only what can be seen is written: what the PDF held as text beneath a picture or a box of its own stays away.
    """
    left = [w for w in words if w.turn == 0 and not any(_touch(w.box, one.box) for one in covered)]
    masked = [Word(one.placeholder, one.box) for one in covered if one.placeholder]
    for word in (word for line in lines_of([*left, *masked]) for word in line):
        box, shown = word.box, word.text.encode("cp1252", "replace").decode("cp1252") + " "
        size = max((box[3] - box[1]) * scale, 1)
        text = canvas.beginText(box[0] * scale, height - box[3] * scale)
        text.setTextRenderMode(_NOT_DRAWN)
        text.setFont("Helvetica", size)
        width = canvas.stringWidth(shown, "Helvetica", size)
        text.setHorizScale(100 * (box[2] - box[0]) * scale / max(width, 1))
        text.textOut(shown)
        canvas.drawText(text)


def _touch(one: Pixels, other: Pixels) -> bool:
    return one[0] < other[2] and other[0] < one[2] and one[1] < other[3] and other[1] < one[3]
