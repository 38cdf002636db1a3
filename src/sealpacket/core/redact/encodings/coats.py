"""Coats of single characters: how a value is written when it is not written plainly, taken off to look beneath.

Percent, HTML, JSON, octal and quoted-printable escapes, colour codes, NULs between the letters, accents that stand by
themselves, wide letters, signs without a width. What is beneath is a *view*: the plain text, and for each of its bytes
where it came from, so that only the value itself is replaced and all around it stays.
"""

from __future__ import annotations

import binascii
import re
from collections.abc import Callable, Iterable, Iterator
from dataclasses import dataclass, replace
from html.entities import html5
from unicodedata import category, normalize

_OF_QUOTED_PRINTABLE = (
    rb"=(?:3D|40|2[CDEF]|3[AF]|5F|C[2-5]|E2)", rb"[A-Za-z0-9]=20[A-Za-z(+]", rb"[0-9]=20[0-9]", rb"(?:=[0-9A-F]{2}){3}",
)  # fmt: skip
_OF_FILES = (rb"\.(?:log|conf|txt):", rb"/(?:syslog|messages|passwd|shadow|group|hosts):")
"""How the name of the file ends in which a line was found."""
MARKS: tuple[bytes, ...] = (
    rb"%(?:[0-9A-Fa-f]{2}|u[0-9A-Fa-f]{4})",
    rb"&#[0-9xX]", rb"&[A-Za-z]{2,8};", rb"\\u[0-9A-Fa-f]{4}", rb"\\x[0-9A-Fa-f]{2}",
    rb"\\[ux]\{[0-9A-Fa-f]", rb"\\[0-3][0-7]{2}", rb"\\[C-Ec-e][0-9A-Fa-f]\\[89ABab]",
    *_OF_QUOTED_PRINTABLE, rb"\x1b\[", rb"[ -~]\x00[ -~]\x00",
    rb"[0-9A-Za-z](?:\[\.\]|\(\.\)|\[at\]|\[@\])[0-9A-Za-z]",
    rb"\xcc[\x80-\xbf]|\xcd[\x80-\xaf]", rb"\xc2[\xa0\xad]",
    rb"\xe2(?:\x80[\x80-\x9f\xa8-\xaf]|\x81[\x9f-\xaf]|\x88\x92)",
    rb"\xef(?:\xbb\xbf|\xbc[\x81-\xbf]|\xbd[\x80-\x9e])", rb"\\[\"']", rb"<!\[CDATA\[",
    rb"\\n[ \t]*[A-Za-z\[{<#-]", rb":\\t", rb"[^\\]\\{4}[A-Za-z0-9]",
    rb"[\"'], ?[\"']--?[A-Za-z]", rb"\[ ?[\"']--[A-Za-z]",
    rb"(?i)</(?:b|i|u|em|strong|span|font|mark|tt|code|kbd|small)>", rb"<wbr",
    rb"[A-Za-z0-9;)]`", rb"[a-z0-9!.)]\*\*(?:[^0-9(a-z]|(?m:$))", rb"(?m:^)> ?[A-Za-z0-9<\[]",
    rb"(?m:^)[+-][A-Za-z0-9<\[/]", rb"(?m:^)\$ [a-z]",
    rb"[a-z0-9_-] {1,3}\| [A-Za-z0-9<\[]", *_OF_FILES,
)  # fmt: skip
"""Where a view is worth making: anchors of the coats of single characters."""
_SAME = {
    **dict.fromkeys("\u2010\u2011\u2012\u2013\u2014\u2212", "-"),
    **dict.fromkeys("\u2018\u2019\u201b", "'"),
    **dict.fromkeys("\u201c\u201d\u201e\u201f", '"'),
}
"""Dashes and quotes as a word processor writes them."""
_BLANKS = {b"n": b"\n", b"r": b"\r", b"t": b"\t"}


def _sign(point: int) -> bytes | None:
    return chr(point).encode() if point <= 0x10FFFF and not 0xD800 <= point < 0xE000 else None


def _usual(sign: bytes) -> bytes:
    """A sign in the form in which it is usually written; nothing for one that has no width."""
    text = sign.decode("utf-8", "replace")
    if len(text) > 1:
        return normalize("NFC", text).encode()
    same = _SAME.get(text) or normalize("NFKC", text)
    return b"" if category(text) == "Cf" else b" " if same.isspace() else same.encode()


def _pairs(told: bytes) -> bytes:
    return binascii.unhexlify(told.replace(b"\\", b""))


def _named(name: bytes) -> bytes | None:
    text = html5.get(name.decode())
    return None if text is None else text.encode()


_READ: tuple[tuple[bytes, Callable[[bytes], bytes | None]], ...] = (
    (rb"%([0-9A-Fa-f]{2})", binascii.unhexlify),
    (rb"&#([0-9]{1,7});", lambda told: _sign(int(told))),
    (
        rb"&#[xX]([0-9A-Fa-f]{1,6});|[\\%]u([0-9A-Fa-f]{4})|\\[ux]\{([0-9A-Fa-f]{1,6})\}|\\(00[0-9A-Fa-f]{4})",
        lambda told: _sign(int(told, 16)),
    ),
    (rb"&([A-Za-z][A-Za-z0-9]{1,9};)", _named),
    (rb"\\x([0-9A-Fa-f]{2})", binascii.unhexlify),
    (rb"\\([0-3][0-7]{2})", lambda told: bytes([int(told, 8)])),
    (rb"(\\[C-Ec-e][0-9A-Fa-f](?:\\[89ABab][0-9A-Fa-f]){1,2})", _pairs),
    (rb"\\([/\\\"'])", lambda told: told),
    (rb"\\([nrt])", lambda told: _BLANKS[told]),
    (rb"(\x1b\[[0-9;?]*[A-Za-z]|\x00|<!\[CDATA\[|\]\]>)", lambda _: b""),
    (rb"(\[\.\]|\(\.\))", lambda _: b"."),
    (rb"(\[at\]|\[@\])", lambda _: b"@"),
    (rb"((?:[A-Za-z]|[\xc3-\xd4][\x80-\xbf])(?:\xcc[\x80-\xbf]|\xcd[\x80-\xaf])+)", _usual),
    (rb"(\xc2[\xa0\xad]|\xe2\x80[\x80-\x9f\xa8-\xaf]|\xe2\x81[\x9f-\xaf]|\xe2\x88\x92|\xe3\x80\x80)", _usual),
    (rb"(\xef\xbb\xbf|\xef\xbc[\x81-\xbf]|\xef\xbd[\x80-\x9e])", _usual),
)  # fmt: skip
"""Escapes, each with what it stands for by what is in its group; nothing if it cannot be one."""


@dataclass(frozen=True, slots=True)
class _Escapes:
    """Escapes that are taken off together, and how each group of theirs is read."""

    pattern: re.Pattern[bytes]
    read: tuple[Callable[[bytes], bytes | None], ...]

    @classmethod
    def of(cls, *all_of_them: tuple[bytes, Callable[[bytes], bytes | None]]) -> _Escapes:
        """Those of some patterns."""
        read = (way for pattern, way in all_of_them for _ in range(re.compile(pattern).groups))
        return cls(re.compile(b"|".join(pattern for pattern, _ in all_of_them)), tuple(read))

    def plain(self, hit: re.Match[bytes]) -> bytes | None:
        """What one of them stands for; None if it cannot be."""
        place = hit.lastindex or 0
        return self.read[place - 1](hit[place])


_ESCAPES = _Escapes.of(*_READ)
_FIRST = re.compile(rb"[%&\\\x1b\x00<\][(]")
"""What an escape begins with where all is ASCII."""
_QUOTED = _Escapes.of((rb"=([0-9A-F]{2})", binascii.unhexlify))
_ARGUMENTS = _Escapes.of((rb"([\"'],[ \t]*[\"'])", lambda _: b" "))
"""What stands between the words of a command that is written as a list."""
_TAGS = _Escapes.of(
    (
        rb"(</?(?i:b|i|u|em|strong|span|font|mark|tt|code|kbd|small|wbr)(?:\s[^<>]{0,400})?/?>)",
        lambda _: b"",
    )
)
"""Tags in the midst of a text, as a log has them that was coloured for a page."""
_AHEAD = rb"(?:>[ \t]?)+|[+-](?=[A-Za-z0-9<\[/])|\$ (?=[a-z])|[a-z0-9_.-]{1,40} +\| "
_NOTES = _Escapes.of(
    (rb"(`{1,3}|\*\*)", lambda _: b" "),
    (rb"(\A(?:" + _AHEAD + rb"|[\w./-]{2,200}:(?:\d{1,7}[:-])?(?=[A-Za-z<\[0-9])))", lambda _: b""),
)
"""What notes put around a text, and what stands before a line that was quoted, changed or found in a file."""
_NOTED = re.compile(
    rb"`[^`\r\n]*[0-9 =:/\\@][^`\r\n]*`|\*\*[^*\r\n]*[0-9 =:/\\@][^*\r\n]*\*\*"
    rb"|\A(?:" + _AHEAD + rb"|[\w./-]{0,200}(?:" + b"|".join(_OF_FILES) + rb"))"
)
_PRINTABLE = re.compile(b"|".join(_OF_QUOTED_PRINTABLE))
_OPTION = re.compile(rb"(?:[\"'],[ \t]*|\[[ \t]*)[\"']--?[A-Za-z]")


@dataclass(frozen=True, slots=True)
class View:
    """A text without its coat: what byte n of it was made from begins at `places[n]` and ends at `ends[n]`."""

    text: bytes
    places: list[int]
    ends: list[int]
    keeps_coat: bool = False
    """Whether the coat stays when a value in it goes, so that each piece between goes by itself."""

    def pieces(self, start: int, end: int) -> Iterator[tuple[int, int]]:
        """Where a stretch of the text stands in what it was made from, in as many pieces as there are coats between."""
        begin = start
        for at in range(start + 1, end + 1):
            if at == end or (self.keeps_coat and self.ends[at - 1] != self.places[at]):
                yield self.places[begin], self.ends[at - 1]
                begin = at


def views_of(raw: bytes) -> Iterator[View]:
    """The text with its escapes taken off, if it has any; and once more each for those of quoted-printable alone, since
    an equals sign is mostly just that, and for a command that is written as a list."""
    for escapes, asked in (
        (_ESCAPES, None),
        (_QUOTED, _PRINTABLE),
        (_ARGUMENTS, _OPTION),
        (_NOTES, _NOTED),
    ):
        view = _view(raw, escapes) if asked is None or asked.search(raw) else None
        if view is not None:
            yield view
    if b"</" in raw or b"<wbr" in raw:
        view = _view(raw, _TAGS)
        if view is not None:
            yield replace(view, keeps_coat=True)


def _view(raw: bytes, escapes: _Escapes) -> View | None:
    hits = ((hit.start(), hit.end(), escapes.plain(hit)) for hit in _hits(raw, escapes))
    return view_with(raw, ((start, end, plain) for start, end, plain in hits if plain is not None))


def _hits(raw: bytes, escapes: _Escapes) -> Iterator[re.Match[bytes]]:
    """Where escapes are; of a text in ASCII only what begins one is looked at, since few signs do."""
    if escapes is not _ESCAPES or not raw.isascii():
        yield from escapes.pattern.finditer(raw)
        return
    done = 0
    for first in _FIRST.finditer(raw):
        if first.start() >= done and (hit := escapes.pattern.match(raw, first.start())):
            done = hit.end()
            yield hit


def view_with(raw: bytes, changes: Iterable[tuple[int, int, bytes]]) -> View | None:
    """The text with stretches of it, in order, read as something else; None if there are none."""
    parts: list[bytes] = []
    places: list[int] = []
    ends: list[int] = []
    done = 0
    for start, end, plain in changes:
        parts.append(raw[done:start])
        places.extend(range(done, start))
        ends.extend(range(done + 1, start + 1))
        parts.append(plain)
        places.extend([start] * len(plain))
        done = end
        ends.extend([done] * len(plain))
    if not done:
        return None
    parts.append(raw[done:])
    places.extend(range(done, len(raw)))
    ends.extend(range(done + 1, len(raw) + 1))
    return View(b"".join(parts), places, ends)
