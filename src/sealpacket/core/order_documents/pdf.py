"""Reading PDF (ISO 32000) by pdfium: words with their boxes, and pages as pictures."""

from __future__ import annotations

import io
import math
from collections import Counter
from collections.abc import Iterator
from contextlib import contextmanager
from typing import Any

import pypdfium2 as pdfium
from PIL import ImageDraw

from sealpacket.core.order_documents.page import DocumentFault, Page, Place, Word, lines_of, turned
from sealpacket.core.pdfium import PdfiumError, opened

MOST_PAGES = 60
MOST_CHARACTERS = 200_000
_GAP = 0.9
_SAME_WORD = 0.25
_PICTURE_WIDTH = 1100
_HIGHEST = 4000
_LOOK = 400
_INK = (33, 31, 27)


def read_pages(content: bytes, first: int = 0, source: str = "") -> list[Page]:
    """The pages of a PDF. Raises DocumentFault if it is damaged, locked, too long, or holds no text at all."""
    with _open(content) as document:
        if len(document) > MOST_PAGES:
            raise DocumentFault(
                f"It has {len(document)} pages; {MOST_PAGES} is the most.",
                "Send the pages that matter.",
            )
        pages, left = [], MOST_CHARACTERS
        for number in range(len(document)):
            page = _page(document[number], first + number, source, number, left)
            left -= sum(len(line.text) for line in page.lines)
            pages.append(page)
    if not any(page.lines for page in pages):
        raise DocumentFault(
            "It holds no text, only a picture of it.",
            "Ask for the PDF itself, or enter it by hand.",
        )
    return pages


def draw(content: bytes, number: int, covered: list[Place]) -> bytes:
    """A page as PNG, with these places covered in ink. Raises DocumentFault."""
    with _open(content) as document:
        if not 0 <= number < len(document):
            raise DocumentFault("There is no such page.", "Count from 0.")
        page = document[number]
        width, height = page.get_size()
        scale = min(_PICTURE_WIDTH / max(width, 1), _HIGHEST / max(height, 1))
        picture = page.render(scale=scale, may_draw_forms=True).to_pil().convert("RGB")
    pen = ImageDraw.Draw(picture)
    for place in covered:
        left, right = place.left * picture.width - 2, place.right * picture.width + 2
        pen.rectangle(
            (left, place.top * picture.height - 2, right, place.bottom * picture.height + 2),
            fill=_INK,
        )
    target = io.BytesIO()
    picture.save(target, "PNG")
    return target.getvalue()


@contextmanager
def _open(content: bytes) -> Iterator[Any]:
    try:
        with opened(content) as document:
            yield document
    except PdfiumError as error:
        locked = "assword" in str(error)
        sentence = "The PDF is locked with a password." if locked else "The PDF is damaged."
        raise DocumentFault(
            sentence, "Ask for an open one." if locked else "Fetch it again."
        ) from error


def _page(page: Any, number: int, source: str, source_page: int, most: int) -> Page:
    text, shown = page.get_textpage(), page.get_rotation()
    slant = _slant(text)
    width, height = page.get_size()
    if (shown - slant) % 180:
        width, height = height, width
    lines = lines_of(_words(page, text, slant, (width, height), most), _GAP)
    return Page(number, "picture", width, height, lines, source, source_page, (shown - slant) % 360)


def _slant(text: Any) -> int:
    """By how many degrees, in quarter turns, the page must be turned clockwise for most of its text to be upright."""
    some = range(0, text.count_chars(), max(text.count_chars() // _LOOK, 1))
    angles = [pdfium.raw.FPDFText_GetCharAngle(text.raw, index) for index in some]
    turns = Counter(round(math.degrees(angle) / 90) * 90 % 360 for angle in angles if angle >= 0)
    return turns.most_common(1)[0][0] if turns else 0


def _words(
    page: Any, text: Any, slant: int, size: tuple[float, float], most: int
) -> Iterator[Word]:
    """Characters joined to words while they are close to one another."""
    width, height = size
    x0, y0, x1, y1 = page.get_cropbox()
    wide, high = max(x1 - x0, 1), max(y1 - y0, 1)
    letters: list[tuple[str, float, float, float, float]] = []
    content = text.get_text_range()
    count = text.count_chars()
    if count > most:
        raise DocumentFault(
            "It holds more text than any order confirmation.", "Send the pages that matter."
        )
    for index in range(count):
        letter = text.get_text_range(index, 1) if len(content) != count else content[index]
        if not letter.strip() or not letter.isprintable():
            yield from _word(letters)
            letters = []
            continue
        x_left, y_low, x_right, y_high = text.get_charbox(index, loose=True)
        box = turned(
            slant,
            (x_left - x0) / wide,
            (y1 - y_high) / high,
            (x_right - x0) / wide,
            (y1 - y_low) / high,
        )
        placed = (box[0] * width, box[1] * height, box[2] * width, box[3] * height)
        if letters and not _belongs(letters[-1], placed):
            yield from _word(letters)
            letters = []
        letters.append((letter, *placed))
    yield from _word(letters)


def _belongs(
    last: tuple[str, float, float, float, float], box: tuple[float, float, float, float]
) -> bool:
    height = max(last[4] - last[2], 1)
    return (
        abs(box[1] - last[2]) < 0.5 * height
        and -0.5 * height < box[0] - last[3] < _SAME_WORD * height
    )


def _word(letters: list[tuple[str, float, float, float, float]]) -> Iterator[Word]:
    if letters:
        text = "".join(letter[0] for letter in letters)
        left, top = min(letter[1] for letter in letters), min(letter[2] for letter in letters)
        yield Word(
            text,
            left,
            top,
            max(letter[3] for letter in letters),
            max(letter[4] for letter in letters),
        )
