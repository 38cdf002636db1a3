"""Coats of whole tokens: base64 and hex, bytes written one by one, words of a mail's header.

What is beneath is redacted and written in the same coat again.
"""

from __future__ import annotations

import base64
import binascii
import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from quopri import decodestring as unquoted

TOKENS: tuple[bytes, ...] = (
    rb"(?:(?m:^)|[^A-Za-z0-9+/_-])[A-Za-z0-9+/_-]{16}", rb"(?:(?m:^)|[^0-9A-Fa-f])[0-9A-Fa-f]{16}",
)  # fmt: skip
"""Where a whole token may wear a coat."""
SPACED: tuple[bytes, ...] = (
    rb"(?:[0-9A-Fa-f]{2}(?:, ?|[ :-])){6}[0-9A-Fa-f]", rb"(?:0[xX][0-9A-Fa-f]{2}(?:, ?|[ :-])){6}",
    rb"(?:(?:[3-9][0-9]|1[0-9][0-9]|2[0-5][0-9])(?:, ?| )){7}", rb"(?:[0-9A-Fa-f]{4} ){5}", rb"(?:[0-9A-Fa-f]{8} ){3}",
    rb"[0-9A-Fa-f]{4}: {1,2}[0-9A-Fa-f]{4} [0-9A-Fa-f]{4}", rb"(?:[0-7]{3} ){7}",
    rb"=\?[A-Za-z][A-Za-z0-9-]{2,20}\?[BbQq]\?",
)  # fmt: skip
"""Where bytes may be written one by one, in a dump, or as a word in a mail's header."""

_ALPHABET = b"ABCDEFGHIJKLMNOPQRSTUVWXYZabcdefghijklmnopqrstuvwxyz0123456789+/_-"
IN_TOKEN = frozenset(bytes([sign]) for sign in _ALPHABET)
"""The signs of base64, in either alphabet, and of hex."""
_MAP = bytes(66 if byte in _ALPHABET else 32 for byte in range(256))
_LONG = b"B" * 12
_PADDING = re.compile(rb"={1,2}|%3D(?:%3D)?")
_SIGN_OF_HEX = re.compile(rb"0?[xX](?=[0-9A-Fa-f]{12,}$)")
_HEX = re.compile(rb"(?:[0-9A-Fa-f]{2}){6,}")
_ONE_BY_ONE = re.compile(
    rb"(?<![0-9A-Fa-f])(?P<sign>0[xX])?[0-9A-Fa-f]{2}(?P<border>, ?|[ :-])(?(sign)(?P=sign))[0-9A-Fa-f]{2}"
    rb"(?:(?P=border)(?(sign)(?P=sign))[0-9A-Fa-f]{2}){5,}(?![0-9A-Fa-f])"
)
_OF_A_HEADER = re.compile(rb"=\?([A-Za-z][A-Za-z0-9-]{2,20})\?([BbQq])\?([!-<>@-~][!->@-~]*=*)\?=")
_NUMBERS = re.compile(rb"(?<![0-9.])[0-9]{1,3}(, ?| )[0-9]{1,3}(?:\1[0-9]{1,3}){6,}(?![0-9.])")
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
    """Every token that is base64 or hex, of whatever; bytes written one by one, in hex or as numbers."""
    sorts, place = raw.translate(_MAP), 0
    while (start := sorts.find(_LONG, place)) >= 0:
        end = sorts.find(b" ", start)
        place = end = len(raw) if end < 0 else end
        marked = _SIGN_OF_HEX.match(raw, start, end)
        start = marked.end() if marked else start
        hexed = _hex(raw, start, end)
        found = hexed if hexed is not None and hexed.put_on else _base64(raw, start, end) or hexed
        if found is not None:
            yield found
    for word in _OF_A_HEADER.finditer(raw):
        beneath = _read_word(word)
        if beneath is not None:
            yield Coated(word.start(), word.end(), beneath, _write_word)
    for one in _ONE_BY_ONE.finditer(raw):
        sign, border = one["sign"] or b"", one["border"]
        digits = b"".join(part.removeprefix(sign) for part in one[0].split(border))
        yield _coated(
            one.start(), one.end(), binascii.unhexlify(digits), _writer_of_hex(digits, sign, border)
        )
    for row in _NUMBERS.finditer(raw):
        numbers = [int(number) for number in row[0].split(row[1])]
        if max(numbers) < 256:
            yield _coated(row.start(), row.end(), bytes(numbers), _writer_of_numbers(row[1]))


def _read_word(hit: re.Match[bytes]) -> bytes | None:
    """An encoded word of a mail's header (RFC 2047) in UTF-8."""
    charset, how, word = hit.groups()
    try:
        data = (
            base64.b64decode(word + b"=" * (-len(word) % 4))
            if how in b"Bb"
            else unquoted(word, header=True)
        )
        return data.decode(charset.decode()).encode()
    except (LookupError, ValueError):
        return None


def _write_word(text: bytes) -> bytes:
    return b"=?utf-8?B?" + base64.b64encode(text) + b"?="


def _coated(start: int, end: int, data: bytes, write: Callable[[bytes], bytes]) -> Coated:
    """What these bytes are as a text; they are written as one again, in UTF-16 if they were."""
    wide = _from_utf16(data)
    if wide is not None:
        return _of_text(
            Coated(
                start,
                end,
                wide,
                lambda text: write(text.decode("utf-8", "replace").encode("utf-16-le")),
            )
        )
    if b"\0" in data.rstrip(b"\0") and reads_like_text(data.replace(b"\0", b" ")):
        return _of_words(start, end, data, write)
    return _of_text(Coated(start, end, data, write))


def _of_words(start: int, end: int, data: bytes, write: Callable[[bytes], bytes]) -> Coated:
    """Words that end with a zero, as the arguments and the environment of a process do, with blanks instead."""
    blanks = b" " in data
    return Coated(
        start,
        end,
        data.replace(b"\0", b" "),
        lambda text: write(text if blanks else text.replace(b" ", b"\0")),
    )


def _of_text(coated: Coated) -> Coated:
    return coated if reads_like_text(coated.beneath) else replace(coated, put_on=None)


def is_hex(run: bytes) -> bool:
    """Whether it is nothing but whole bytes in hex."""
    return _HEX.fullmatch(run) is not None


def _hex(raw: bytes, start: int, end: int) -> Coated | None:
    if (end - start) % 2 or _HEX.fullmatch(raw, start, end) is None:
        return None
    return _coated(
        start, end, binascii.unhexlify(raw[start:end]), _writer_of_hex(raw[start:end], b"", b"")
    )


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
    escaped = tail is not None and tail[0].startswith(b"%")
    padded = tail is not None or len(body) % 4 == 0

    def write(data: bytes) -> bytes:
        made = base64.b64encode(data)
        made = made.replace(b"+", b"-").replace(b"/", b"_") if in_urls else made
        made = made if padded else made.rstrip(b"=")
        return made.replace(b"=", b"%3D") if escaped else made

    return _coated(start, end, beneath, write)


def _from_utf16(data: bytes) -> bytes | None:
    """The text in UTF-8 if these bytes are UTF-16 without a mark: every second one is NUL."""
    if len(data) < 8 or len(data) % 2 or data[1::2].count(0) < len(data) * 0.45:
        return None
    return data.decode("utf-16-le", "replace").encode()


def _writer_of_hex(sample: bytes, sign: bytes, border: bytes) -> Callable[[bytes], bytes]:
    """Writes hex in the case of the sample, with something before each byte and something between them."""
    upper = not any(97 <= byte <= 102 for byte in sample) and any(
        65 <= byte <= 70 for byte in sample
    )
    form = b"%02X" if upper else b"%02x"

    def write(data: bytes) -> bytes:
        if not border:
            return data.hex().upper().encode() if upper else data.hex().encode()
        return border.join(sign + form % byte for byte in data)

    return write


def _writer_of_numbers(border: bytes) -> Callable[[bytes], bytes]:
    return lambda data: border.join(b"%d" % byte for byte in data)


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


_FULL = re.compile(
    rb"^(?P<lead>[ \t>]*)(?P<signs>[A-Za-z0-9+/]{40,100})(?P<ending>\r?\n)", re.MULTILINE
)
_FIRST = re.compile(rb"[A-Za-z][A-Za-z0-9;.-]*:: ?(?P<signs>[A-Za-z0-9+/]+)\r?\n")
"""Before lines that begin with a blank: how a directory is written out (RFC 2849)."""


def wrapped_tokens_in(raw: bytes, starts: Iterable[int]) -> Iterator[Coated]:
    """Base64 over several lines of one length, as in mails; behind blanks or marks of quoting, or a label.

    It begins with one of these lines, or in the one before.
    """
    place = 0
    for start_of_line in starts:
        full = _FULL.match(raw, start_of_line) if start_of_line >= place else None
        if full is None:
            continue
        lead, width, place = full["lead"], len(full["signs"]), full.end()
        body, start, first = [full["signs"]], full.start("signs"), width
        begun = _FIRST.fullmatch(
            raw, raw.rfind(b"\n", 0, max(full.start() - 1, 0)) + 1, full.start()
        )
        if begun and lead == b" ":
            body.insert(0, begun["signs"])
            start, first = begun.start("signs"), len(begun["signs"])
        line = re.compile(
            re.escape(lead) + rb"([A-Za-z0-9+/]{1,%d}={0,2})(?=\r?\n|$)(\r?\n|)" % width
        )
        end = full.end("signs")
        while (more := line.match(raw, place)) is not None:
            body.append(more[1])
            place, end = more.end(), more.end(1)
            if len(more[1]) < width or not more[2]:
                break
        if len(body) > 1:
            try:
                beneath = base64.b64decode(b"".join(body), validate=True)
            except (binascii.Error, ValueError):
                continue
            yield _coated(start, end, beneath, _wrapper(first, width, full["ending"] + lead))


def _wrapper(first: int, width: int, border: bytes) -> Callable[[bytes], bytes]:
    def write(data: bytes) -> bytes:
        made = base64.b64encode(data)
        return border.join(
            [
                made[:first],
                *(made[place : place + width] for place in range(first, len(made), width)),
            ]
        )

    return write
