"""What is in an outgoing copy, laid bare for the leak check: with every coat taken off.

Written apart from the readers and coats of the finder, with other means: whole blocks are decoded, nothing is mapped
back. What cannot be unpacked any more is searched as it lies there.
"""

from __future__ import annotations

import codecs
import html
import quopri
import re
import unicodedata
from collections.abc import Callable, Iterator
from typing import NamedTuple
from urllib.parse import unquote_to_bytes

from sealpacket.core.redact import _native as native


class Form(NamedTuple):
    """What a block is with coats taken off. With `joins`, where its lines were put together, only what goes over one
    of these places is new in it."""

    text: bytes
    joins: native.Places | None = None


def bare(block: bytes, around: int, *, blanks: bool = True) -> Iterator[Form]:
    """A block as it is, and what it has with one coat, or several over each other, taken off.

    A coat of single characters is taken off where its marks stand, `around` bytes to either side at most: the length
    of the longest value in its coat. `blanks`: whether a blank in a value may be a line end in the block.
    """
    seen: set[int] = set()

    def is_new(text: bytes) -> bool:
        if len(text) > _LONG:
            return True  # to look through one twice costs less than to tell each from all others
        known = not text or hash(text) in seen
        seen.add(hash(text))
        return not known

    layer = [block]
    for _ in range(3):
        below: list[bytes] = []
        for text in layer:
            marks = native.marks_in(text)
            for form in _joined(text, blanks=blanks):
                if is_new(form.text):
                    yield form
                for bared in _forms(form, around, marks):
                    if is_new(bared):
                        below.append(bared)
                        yield Form(bared)
        layer = below


def _joined(text: bytes, *, blanks: bool) -> Iterator[Form]:
    """A text, and the same with its lines put together: with nothing between them, and with a blank."""
    yield Form(text)
    if b"\n" in text:
        yield Form(*native.joined(text, b""))
        if blanks:
            yield Form(*native.joined(text, b" "))


_COLOUR = re.compile(rb"\x1b\[[0-9;?]*[A-Za-z]")
_BACKSLASH = re.compile(
    rb"\\(?:u([0-9A-Fa-f]{4})|x([0-9A-Fa-f]{2})|(/)|[ux]\{([0-9A-Fa-f]{1,6})\}|00([0-9A-Fa-f]{4})|([0-3][0-7]{2})"
    rb"|([89A-Fa-f][0-9A-Fa-f]))"
)
_WIDE_PERCENT = re.compile(rb"%u([0-9A-Fa-f]{4})")
_PERCENT, _ENTITY, _SLASH, _QUOTED, _ESCAPE, _NUL, _BRACKET, _ODD, _HEADER = (
    1 << bit for bit in range(9)
)
"""What the native look says a text may wear."""
_DEFANGED = re.compile(rb"\[\.\]|\(\.\)|\[at\]|\[@\]")
"""How a note on security keeps an address from being followed."""
_SHORTEST = 12
_LONG = 64 << 10


def _unescaped(text: bytes) -> bytes:
    """Without entities, in UTF-8 and in Latin-1."""
    plain = html.unescape(text.decode("latin-1"))
    return plain.encode("utf-8", "replace") + b"\n" + plain.encode("latin-1", "replace")


_UNCOVERED: dict[int, Callable[[bytes], bytes]] = {
    _PERCENT: lambda text: unquote_to_bytes(_WIDE_PERCENT.sub(lambda hit: _letter(hit[1]), text)),
    _ENTITY: _unescaped,
    _SLASH: lambda text: _BACKSLASH.sub(_escaped, text),
    _QUOTED: quopri.decodestring,
    _ESCAPE: lambda text: _COLOUR.sub(b"", text),
    _NUL: lambda text: text.replace(b"\0", b""),
    _BRACKET: lambda text: _DEFANGED.sub(lambda hit: b"." if b"." in hit[0] else b"@", text),
    _ODD: lambda text: _plain(text.decode("utf-8", "surrogateescape")).encode(
        "utf-8", "surrogateescape"
    ),
}
"""How a text is without the coat that a mark tells of."""


def _forms(form: Form, around: int, marks: int) -> Iterator[bytes]:
    """What a text has in coats, one of them taken off. `marks` are those that it has apart from its joins."""
    text, joins = form
    if joins is not None:
        marks |= native.marks_in(text, joins)

    def near(mark: int) -> bytes:
        return native.stretches_of(text, mark, around)

    for mark, uncovered in _UNCOVERED.items():
        if marks & mark:
            yield uncovered(near(mark))
    if text.startswith((codecs.BOM_UTF16_LE, codecs.BOM_UTF16_BE)):
        yield text.decode("utf-16", "replace").encode()
    yield native.in_base64(text, _SHORTEST, joins) + b"\n" + native.in_hex(text, _SHORTEST, joins)
    yield native.in_spaced_hex(text, joins)
    yield native.in_numbers(text, joins)
    if joins is None:
        yield native.in_dumps(text)  # of whole lines
    for word in _OF_A_HEADER.findall(text) if marks & _HEADER else ():
        yield _of_header(word)


def _escaped(hit: re.Match[bytes]) -> bytes:
    four, two, slash, braced, six, octal, high = hit.groups()
    if slash:
        return b"/"
    if two or high:
        return bytes([int(two or high, 16)])
    if octal:
        return bytes([int(octal, 8)])
    return _letter(four or braced or six)


def _letter(number: bytes) -> bytes:
    """The letter of this number, which is in hex, in UTF-8."""
    return chr(min(int(number, 16), 0x10FFFF)).encode("utf-8", "surrogatepass")


def _of_header(word: bytes) -> bytes:
    from email.errors import MessageError
    from email.header import decode_header, make_header

    try:
        return str(make_header(decode_header(word.decode("latin-1")))).encode("utf-8", "replace")
    except (LookupError, ValueError, MessageError):
        return b""


_OF_A_HEADER = re.compile(rb"=\?[A-Za-z0-9-]{3,20}\?[BbQq]\?[!-~]{4,100}\?=")
_DASHES_AND_QUOTES = str.maketrans(
    "\u2010\u2011\u2012\u2013\u2014\u2212\u2018\u2019\u201b", "------" + 3 * "'"
)


def _plain(text: str) -> str:
    """Letters with their accents, in their usual width, and what has none left out; all blanks and dashes alike."""
    seen = "".join(
        sign for sign in text.translate(_DASHES_AND_QUOTES) if unicodedata.category(sign) != "Cf"
    )
    return unicodedata.normalize("NFKC", seen)
