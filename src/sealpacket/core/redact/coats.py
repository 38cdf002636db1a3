"""Coats of single characters: how a value is written when it is not written plainly, taken off to look beneath.

Percent, HTML, JSON, octal and quoted-printable escapes, colour codes, NULs between the letters, accents that stand by
themselves, wide letters, signs without a width. What is beneath is a *view*: the plain text, and for each of its bytes
where it came from, so that only the value itself is replaced and all around it stays.
"""

from __future__ import annotations

import binascii
import re
from collections.abc import Iterator
from dataclasses import dataclass
from html.entities import html5
from unicodedata import category, normalize

MARKS: tuple[bytes, ...] = (
    rb"%[0-9A-Fa-f]{2}", rb"&#[0-9xX]", rb"&[A-Za-z]{2,8};", rb"\\u[0-9A-Fa-f]{4}", rb"\\x[0-9A-Fa-f]{2}",
    rb"\\[ux]\{[0-9A-Fa-f]", rb"\\[0-3][0-7]{2}", rb"\\[C-Ec-e][0-9A-Fa-f]\\[89ABab]",
    rb"=(?:3D|40|2[CDEF]|3[AF]|5F|C[2-5]|E2)",
    rb"[A-Za-z0-9]=20[A-Za-z(+]", rb"[0-9]=20[0-9]", rb"\x1b\[", rb"[ -~]\x00[ -~]\x00",
    rb"[0-9A-Za-z](?:\[\.\]|\(\.\)|\[at\]|\[@\])[0-9A-Za-z]",
    rb"\xcc[\x80-\xbf]|\xcd[\x80-\xaf]", rb"\xc2[\xa0\xad]",
    rb"\xe2(?:\x80[\x80-\x9f\xa8-\xaf]|\x81[\x9f-\xaf]|\x88\x92)",
    rb"\xef(?:\xbb\xbf|\xbc[\x81-\xbf]|\xbd[\x80-\x9e])", rb"\\\\\\*[\"']", rb"<!\[CDATA\[",
)  # fmt: skip
"""Where a view is worth making: anchors of the coats of single characters."""
_ESCAPES = re.compile(
    rb"%([0-9A-Fa-f]{2})|&#([0-9]{1,7});|&#[xX]([0-9A-Fa-f]{1,6});"
    rb"|&([A-Za-z][A-Za-z0-9]{1,9};)"
    rb"|\\u([0-9A-Fa-f]{4})|\\x([0-9A-Fa-f]{2})|(\x1b\[[0-9;?]*[A-Za-z])|\\(/)|(\x00)"
    rb"|(\[\.\]|\(\.\))|(\[at\]|\[@\])"
    rb"|\\[ux]\{([0-9A-Fa-f]{1,6})\}|\\([0-3][0-7]{2})|((?:\\[C-Ec-e][0-9A-Fa-f])(?:\\[89ABab][0-9A-Fa-f]){1,2})"
    rb"|((?:[A-Za-z]|[\xc3-\xd4][\x80-\xbf])(?:\xcc[\x80-\xbf]|\xcd[\x80-\xaf])+)"
    rb"|(\xc2[\xa0\xad]|\xe2\x80[\x80-\x9f\xa8-\xaf]|\xe2\x81[\x9f-\xaf]|\xe2\x88\x92|\xe3\x80\x80"
    rb"|\xef\xbb\xbf|\xef\xbc[\x81-\xbf]|\xef\xbd[\x80-\x9e])"
    rb"|\\([\\\"'])|(<!\[CDATA\[|\]\]>)"
)
_QUOTED = re.compile(rb"=([0-9A-F]{2})")
_SAME = {
    **dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2212", "-"),
    **dict.fromkeys("\u2018\u2019\u201b", "'"),
    **dict.fromkeys("\u201c\u201d\u201e\u201f", '"'),
}
"""Dashes and quotes as a word processor writes them."""


@dataclass(frozen=True, slots=True)
class View:
    """A text without its coat: what byte n of it was made from begins at `places[n]` and ends at `ends[n]`."""

    text: bytes
    places: list[int]
    ends: list[int]


def views_of(raw: bytes) -> Iterator[View]:
    """The text with its escapes taken off, if it has any; and once more for those of quoted-printable alone, since an
    equals sign is mostly just that."""
    for escapes in (_ESCAPES, _QUOTED):
        view = _view(raw, escapes)
        if view is not None:
            yield view


def _view(raw: bytes, escapes: re.Pattern[bytes]) -> View | None:
    parts: list[bytes] = []
    places: list[int] = []
    ends: list[int] = []
    done = 0
    for hit in escapes.finditer(raw):
        plain = _plain(hit)
        if plain is None:
            continue
        start = hit.start()
        parts.append(raw[done:start])
        places.extend(range(done, start))
        ends.extend(range(done + 1, start + 1))
        parts.append(plain)
        places.extend([start] * len(plain))
        done = hit.end()
        ends.extend([done] * len(plain))
    if not done:
        return None
    parts.append(raw[done:])
    places.extend(range(done, len(raw)))
    ends.extend(range(done + 1, len(raw) + 1))
    return View(b"".join(parts), places, ends)


def _plain(hit: re.Match[bytes]) -> bytes | None:
    """What an escape stands for; None if it cannot be."""
    if hit.re is _QUOTED:
        return binascii.unhexlify(hit[1])
    (percent, decimal, hexadecimal, named, unicode, byte, colour, slash, nul, dot, at, braced, octal, pairs, accented,
     odd, itself, border) = hit.groups()  # fmt: skip
    if odd is not None or accented is not None:
        return _usual((odd or accented).decode("utf-8", "replace"))
    if itself is not None or border is not None:
        return itself or b""
    if dot is not None or at is not None:
        return b"." if dot is not None else b"@"
    if colour is not None or nul is not None:
        return b""
    if slash is not None:
        return slash
    if named is not None:
        return html5[named.decode()].encode() if named.decode() in html5 else None
    if percent or byte:
        return binascii.unhexlify(percent or byte)
    if octal is not None:
        return bytes([int(octal, 8)])
    if pairs is not None:
        return binascii.unhexlify(pairs.replace(b"\\", b""))
    point = int(decimal) if decimal else int(hexadecimal or unicode or braced, 16)
    if point > 0x10FFFF or 0xD800 <= point < 0xE000:
        return None
    return chr(point).encode()


def _usual(text: str) -> bytes:
    """A sign in the form in which it is usually written; nothing for one that has no width."""
    if len(text) > 1:
        return normalize("NFC", text).encode()
    same = _SAME.get(text) or normalize("NFKC", text)
    return b"" if category(text) == "Cf" else b" " if same.isspace() else same.encode()
