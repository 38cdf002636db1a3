"""Labels on things: QR and bar codes on a photo, and what they say."""

from __future__ import annotations

import io
import re
from collections.abc import Iterator
from dataclasses import dataclass
from itertools import pairwise
from urllib.parse import parse_qsl, unquote, urlsplit

import zxingcpp
from PIL import Image, ImageOps, UnidentifiedImageError
from pydantic import BaseModel

MOST_PIXELS = 50_000_000
MOST_CODES = 50
_WIDEST = 3200
_FORMATS = ("JPEG", "PNG", "WEBP", "TIFF", "BMP", "GIF")
_SERIAL_NAMES = {"sn", "s/n", "serial", "serialnumber", "serialno", "ser"}
_PRODUCT_NAMES = {"pn", "p/n", "part", "partnumber", "partno", "model", "mn"}
_GROUP = "\x1d"
_FIXED = {
    "00": 18,
    "01": 14,
    "02": 14,
    "11": 6,
    "12": 6,
    "13": 6,
    "15": 6,
    "16": 6,
    "17": 6,
    "20": 2,
}
"""GS1 application identifiers of fixed length (GS1 General Specifications), by the length of their value."""


class PhotoFault(Exception):
    """The photo cannot be read; the message says why, `remedy` what to do."""

    def __init__(self, sentence: str, remedy: str) -> None:
        super().__init__(sentence)
        self.remedy = remedy


class Code(BaseModel):
    """A code on a photo: its text, its symbology, and its corners as fractions of the picture."""

    text: str
    symbology: str
    corners: list[tuple[float, float]]


@dataclass(frozen=True)
class Said:
    """The reading of a code: serials, the likeliest first, part numbers, and ids of our own labels."""

    serials: tuple[str, ...]
    products: tuple[str, ...] = ()
    ids: tuple[str, ...] = ()


def read_codes(photo: bytes) -> list[Code]:
    """All QR and bar codes on a photo, from above. Raises PhotoFault if it is no picture or too large a one."""
    picture = _open(photo)
    found = zxingcpp.read_barcodes(picture)
    if not found:
        found = zxingcpp.read_barcodes(
            ImageOps.autocontrast(picture.resize((picture.width * 2, picture.height * 2)))
        )
        picture = picture.resize((picture.width * 2, picture.height * 2))
    codes = [_code(item, picture.size) for item in found[:MOST_CODES] if item.text]
    return sorted(codes, key=lambda code: min(y for _, y in code.corners))


def _open(photo: bytes) -> Image.Image:
    try:
        picture = Image.open(io.BytesIO(photo), formats=_FORMATS)
        if picture.width * picture.height > MOST_PIXELS:
            raise PhotoFault("The picture is far too large.", "Take it with fewer pixels.")
        picture.draft("L", (_WIDEST, _WIDEST))
        turned = ImageOps.exif_transpose(picture).convert("L")
    except (
        UnidentifiedImageError,
        OSError,
        SyntaxError,
        ValueError,
        Image.DecompressionBombError,
    ) as error:
        raise PhotoFault(
            "This is not a readable picture.", "Send it as JPEG, PNG, WebP or TIFF."
        ) from error
    turned.thumbnail((_WIDEST, _WIDEST))
    return turned


def _code(item: zxingcpp.Barcode, size: tuple[int, int]) -> Code:
    spot = item.position
    corners = [
        (round(point.x / size[0], 4), round(point.y / size[1], 4))
        for point in (spot.top_left, spot.top_right, spot.bottom_right, spot.bottom_left)
    ]
    return Code(
        text=item.text[:2000],
        symbology=str(item.format).removeprefix("BarcodeFormat."),
        corners=corners,
    )


def meaning(text: str) -> Said:
    """Read the text of a code: an address, GS1 element strings, named values, or a serial."""
    text = text.strip()
    if re.match(r"https?://", text, re.IGNORECASE):
        return _from_address(text)
    elements = dict(gs1_elements(text))
    if "21" in elements or "01" in elements:
        return Said(
            tuple(filter(None, (elements.get("21"),))), tuple(filter(None, (elements.get("240"),)))
        )
    named = [
        (re.sub(r"[\s.]", "", name).casefold(), value.strip())
        for name, value in _NAMED.findall(text)
    ]
    serials = [value for name, value in named if name in _SERIAL_NAMES]
    products = [value for name, value in named if name in _PRODUCT_NAMES]
    if not serials and "\n" not in text and len(text) <= 100:
        serials = [text, *([text.partition(":")[2]] if ":" in text else [])]
    return Said(tuple(serials), tuple(products))


_NAMED = re.compile(r"(?:^|[\s;,|])([A-Za-z][A-Za-z/. ]{0,14}?)\s*[:=#]\s*([^\s;,|]+)")


def _from_address(text: str) -> Said:
    parts = urlsplit(text)
    path = [unquote(piece) for piece in parts.path.split("/") if piece]
    ids = tuple(
        piece
        for piece in path[-1:]
        if re.fullmatch(r"[0-9a-f]{8}(-[0-9a-f]{4}){3}-[0-9a-f]{12}", piece)
    )
    query = {re.sub(r"[\W_]", "", name).casefold(): value for name, value in parse_qsl(parts.query)}
    serials = [value for name, value in query.items() if name in _SERIAL_NAMES]
    after = dict(pairwise(path))
    serials += [after["21"]] if "21" in after else []
    serials += [] if ids or serials else path[-1:]
    return Said(
        tuple(serials), tuple(value for name, value in query.items() if name in _PRODUCT_NAMES), ids
    )


def gs1_elements(text: str) -> Iterator[tuple[str, str]]:
    """Application identifiers and values of a GS1 element string, as scanned or in its readable form with brackets."""
    if text.startswith("("):
        yield from re.findall(r"\((\d{2,4})\)([^(]+)", text)
        return
    rest = text.lstrip(_GROUP)
    if not re.match(r"01\d{14}", rest):
        return
    while match := re.match(r"(240|\d{2})", rest):
        name = match[1]
        body = rest[len(name) :]
        value = body[: _FIXED[name]] if name in _FIXED else body.split(_GROUP)[0]
        yield name, value
        rest = body[len(value) :].lstrip(_GROUP)
