"""How a cover looks on a picture: black, with its placeholder where that can be read."""

from __future__ import annotations

from collections.abc import Sequence

from PIL import Image, ImageDraw, ImageFont

from sealpacket.core.redact.boxes import Covered

_GROWN = 2
_SMALLEST, _LARGEST = 8, 40
"""The height of letters (pixels) between which a placeholder is written on its box."""


def cover(picture: Image.Image, covered: Sequence[Covered]) -> None:
    """Burn the boxes in: black, and with the placeholder on it where it can be read."""
    pen = ImageDraw.Draw(picture)
    for one in covered:
        left, top, right, bottom = one.box
        pen.rectangle((left - _GROWN, top - _GROWN, right + _GROWN, bottom + _GROWN), fill="black")
    for one in covered:
        _write(pen, one)


def _write(pen: ImageDraw.ImageDraw, one: Covered) -> None:
    """The placeholder on its box, if it fits there in letters that can be read."""
    left, top, right, bottom = one.box
    if not one.placeholder or bottom - top < _SMALLEST:
        return
    size = min(bottom - top, _LARGEST)
    length = pen.textlength(one.placeholder, font=_letters(size))
    size = int(min(size, size * (right - left) / max(length, 1)))
    if size >= _SMALLEST:
        middle = ((left + right) / 2, (top + bottom) / 2)
        pen.text(middle, one.placeholder, fill="white", font=_letters(size), anchor="mm")


def _letters(size: int) -> ImageFont.FreeTypeFont | ImageFont.ImageFont:
    return ImageFont.load_default(size)
