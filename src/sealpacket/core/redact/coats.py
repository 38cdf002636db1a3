"""Coats: how a value is written when it is not written plainly, taken off so that the catalogue can look beneath.

Two sorts. A coat of single characters (percent, HTML, JSON and quoted-printable escapes, colour codes, NULs between the
letters) gives a *view*: the plain text, and for each of its bytes where it came from, so that only the value itself is
replaced and all around it stays. A coat of a whole token (base64, hex) is decoded, redacted and put on again.
"""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Callable, Iterator
from dataclasses import dataclass, replace

MARKS: tuple[bytes, ...] = (
    rb"%[0-9A-Fa-f]{2}", rb"&#[0-9xX]", rb"&[a-z]{2,6};", rb"\\u[0-9A-Fa-f]{4}", rb"\\x[0-9A-Fa-f]{2}",
    rb"=(?:3D|40|2[CDEF]|3[AF]|5F|C[2-5]|E2)",
    rb"[A-Za-z0-9]=20[A-Za-z(+]", rb"[0-9]=20[0-9]", rb"\x1b\[", rb"[ -~]\x00[ -~]\x00",
    rb"[0-9A-Za-z](?:\[\.\]|\(\.\)|\[at\]|\[@\])[0-9A-Za-z]",
)  # fmt: skip
"""Where a view is worth making: anchors of the coats of single characters."""
TOKENS: tuple[bytes, ...] = (
    rb"(?:(?m:^)|[^A-Za-z0-9+/_-])[A-Za-z0-9+/_-]{20}", rb"(?:(?m:^)|[^0-9A-Fa-f])[0-9A-Fa-f]{16}",
)  # fmt: skip
"""Where a whole token may wear a coat."""
SPACED: tuple[bytes, ...] = (rb"(?:[0-9A-Fa-f]{2}[ :]){6}[0-9A-Fa-f]",)
"""Where bytes may be written as hex, one by one."""

_ESCAPES = re.compile(
    rb"%([0-9A-Fa-f]{2})|&#([0-9]{1,7});|&#[xX]([0-9A-Fa-f]{1,6});"
    rb"|&(amp|lt|gt|quot|apos|nbsp|commat|period|colon|sol|equals);"
    rb"|\\u([0-9A-Fa-f]{4})|\\x([0-9A-Fa-f]{2})|(\x1b\[[0-9;?]*[A-Za-z])|\\(/)|(\x00)"
    rb"|(\[\.\]|\(\.\))|(\[at\]|\[@\])"
)
_QUOTED = re.compile(rb"=([0-9A-F]{2})")
_NAMED = {b"amp": b"&", b"lt": b"<", b"gt": b">", b"quot": b'"', b"apos": b"'", b"nbsp": b" ", b"commat": b"@",
          b"period": b".", b"colon": b":", b"sol": b"/", b"equals": b"="}  # fmt: skip


@dataclass(frozen=True, slots=True)
class View:
    """A text without its coat: byte n of it begins at `places[n]` in what it was made from; one more for the end."""

    text: bytes
    places: list[int]


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
    done = 0
    for hit in escapes.finditer(raw):
        plain = _plain(hit)
        if plain is None:
            continue
        start = hit.start()
        parts.append(raw[done:start])
        places.extend(range(done, start))
        parts.append(plain)
        places.extend([start] * len(plain))
        done = hit.end()
    if not done:
        return None
    parts.append(raw[done:])
    places.extend(range(done, len(raw) + 1))
    return View(b"".join(parts), places)


def _plain(hit: re.Match[bytes]) -> bytes | None:
    """What an escape stands for; None if it cannot be."""
    if hit.re is _QUOTED:
        return binascii.unhexlify(hit[1])
    percent, decimal, hexadecimal, named, unicode, byte, colour, slash, nul, dot, at = hit.groups()
    if dot is not None or at is not None:
        return b"." if dot is not None else b"@"
    if colour is not None or nul is not None:
        return b""
    if slash is not None:
        return slash
    if named is not None:
        return _NAMED[named]
    if percent or byte:
        return binascii.unhexlify(percent or byte)
    point = int(decimal) if decimal else int(hexadecimal or unicode, 16)
    if point > 0x10FFFF or 0xD800 <= point < 0xE000:
        return None
    return chr(point).encode()


_ALPHABET = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/_-"
_MAP = bytes(66 if byte in _ALPHABET else 32 for byte in range(256))
_LONG = b"B" * 12
_PADDING = re.compile(rb"={1,2}|%3D(?:%3D)?")
_HEX = re.compile(rb"(?:[0-9A-Fa-f]{2}){6,}")
_SPACED = re.compile(rb"(?<![0-9A-Fa-f])(?:[0-9A-Fa-f]{2}[ :]){6,}[0-9A-Fa-f]{2}(?![0-9A-Fa-f])")
_PRINTABLE = bytes(range(32, 127)) + b"\t\r\n"


@dataclass(frozen=True, slots=True)
class Coated:
    """A token in a coat: where it stands, what is beneath, and how the coat is put on again; not at all where what is
    beneath does not read like text."""

    start: int
    end: int
    beneath: bytes
    put_on: Callable[[bytes], bytes] | None


def tokens_in(raw: bytes) -> Iterator[Coated]:
    """Every token that is base64 or hex, of whatever."""
    sorts, place = raw.translate(_MAP), 0
    while (start := sorts.find(_LONG, place)) >= 0:
        end = sorts.find(b" ", start)
        place = end = len(raw) if end < 0 else end
        hexed = _hex(raw, start, end)
        found = hexed if hexed is not None and hexed.put_on else _base64(raw, start, end) or hexed
        if found is not None:
            yield found
    for hit in _SPACED.finditer(raw):
        mark = hit[0][2:3]
        beneath = binascii.unhexlify(hit[0].replace(b" ", b"").replace(b":", b""))
        yield _of_text(Coated(hit.start(), hit.end(), beneath, _hex_like(hit[0], mark)))


def _of_text(coated: Coated) -> Coated:
    return coated if reads_like_text(coated.beneath) else replace(coated, put_on=None)


def _hex(raw: bytes, start: int, end: int) -> Coated | None:
    if (end - start) % 2 or _HEX.fullmatch(raw, start, end) is None:
        return None
    beneath = binascii.unhexlify(raw[start:end])
    return _of_text(Coated(start, end, beneath, _hex_like(raw[start:end], b"")))


def _base64(raw: bytes, start: int, end: int) -> Coated | None:
    body = raw[start:end]
    if len(body) < 16 or len(body) % 4 == 1:
        return None
    tail = _PADDING.match(raw, end)
    end = tail.end() if tail else end
    in_urls = b"-" in body or b"_" in body
    try:
        beneath = base64.b64decode(
            body.replace(b"-", b"+").replace(b"_", b"/") + b"=" * (-len(body) % 4), validate=True
        )
    except (binascii.Error, ValueError):
        return None
    wide = _from_utf16(beneath)
    escaped = tail is not None and tail[0].startswith(b"%")
    padded = tail is not None or len(body) % 4 == 0

    def put_on(text: bytes) -> bytes:
        made = base64.b64encode(text.decode("utf-8", "replace").encode("utf-16-le") if wide else text)
        made = made.replace(b"+", b"-").replace(b"/", b"_") if in_urls else made
        made = made if padded else made.rstrip(b"=")
        return made.replace(b"=", b"%3D") if escaped else made

    return _of_text(Coated(start, end, wide or beneath, put_on))


def _from_utf16(data: bytes) -> bytes | None:
    """The text in UTF-8 if these bytes are UTF-16 without a mark: every second one is NUL."""
    if len(data) < 8 or len(data) % 2 or data[1::2].count(0) < len(data) * 0.45:
        return None
    return data.decode("utf-16-le", "replace").encode()


def _hex_like(sample: bytes, mark: bytes) -> Callable[[bytes], bytes]:
    upper = not any(97 <= byte <= 102 for byte in sample) and any(65 <= byte <= 70 for byte in sample)

    def put_on(text: bytes) -> bytes:
        made = binascii.hexlify(text, mark) if mark else binascii.hexlify(text)
        return made.upper() if upper else made

    return put_on


def reads_like_text(data: bytes) -> bool:
    """Whether nine in ten bytes can be printed; text in UTF-8 counts whole."""
    if len(data) < 6:
        return False
    odd = len(data.translate(None, _PRINTABLE))
    if odd * 10 <= len(data):
        return True
    try:
        text = data.decode("utf-8")
    except UnicodeDecodeError:
        return False
    return sum(not sign.isprintable() and sign not in "\t\r\n" for sign in text) * 10 <= len(text)


_WRAPPED = re.compile(rb"(?:^|(?<=\n))(?:[A-Za-z0-9+/]{40,100}\r?\n)+[A-Za-z0-9+/]{1,100}={0,2}(?=\r?\n|$)")


def wrapped_tokens_in(raw: bytes) -> Iterator[Coated]:
    """Base64 over several lines of one length, as in mails."""
    for hit in _WRAPPED.finditer(raw):
        lines = hit[0].split(b"\n")
        width, ending = len(lines[0].rstrip(b"\r")), b"\r\n" if lines[0].endswith(b"\r") else b"\n"
        body = b"".join(line.rstrip(b"\r") for line in lines)
        try:
            beneath = base64.b64decode(body, validate=True)
        except (binascii.Error, ValueError):
            continue
        yield _of_text(Coated(hit.start(), hit.end(), beneath, _wrapper(width, ending)))


def _wrapper(width: int, ending: bytes) -> Callable[[bytes], bytes]:
    def put_on(text: bytes) -> bytes:
        made = base64.b64encode(text)
        return ending.join(made[place : place + width] for place in range(0, len(made), width))

    return put_on
