"""What is in an outgoing copy, laid bare for the leak check: unpacked, and with every coat taken off.

Written apart from the readers and coats of the finder, with other means: whole blocks are decoded, nothing is mapped
back. What cannot be unpacked any more is searched as it lies there.
"""

from __future__ import annotations

import bz2
import codecs
import email
import gzip
import html
import io
import lzma
import quopri
import re
import shutil
import sqlite3
import subprocess
import tarfile
import tempfile
import unicodedata
import zipfile
import zlib
from collections.abc import Callable, Iterable, Iterator
from email.errors import MessageError
from email.header import decode_header, make_header
from typing import IO, Any, NamedTuple
from urllib.parse import unquote_to_bytes

import zstandard
import zxingcpp
from PIL import Image

from sealpacket.core.pdfium import PdfiumError, opened
from sealpacket.core.redact import _native as native

_CHUNK = 4 << 20
_DEEPEST = 7
_LARGEST_MAIL = 64 << 20
_LARGEST_PART = 64 << 20
_OF_OFFICE = "[Content_Types].xml"
_END_OF_LINE = re.compile(rb"</(?:\w+:)?(?:p|si|is|comment|tc)>|<(?:\w+:)?(?:br|cr|tab)\b[^<>]*>")
_TAG = re.compile(rb"<[^<>]*>")
_DOTS = 200
_SECONDS = 120
_PICTURES = (b"\x89PNG", b"\xff\xd8\xff", b"GIF8", b"BM", b"II*\0", b"MM\0*")
_TROUBLE = (OSError, EOFError, ValueError, LookupError, RuntimeError, NotImplementedError, lzma.LZMAError, zlib.error,
            zipfile.BadZipFile, tarfile.TarError, zstandard.ZstdError, sqlite3.Error,
            PdfiumError, subprocess.SubprocessError, Image.DecompressionBombError)  # fmt: skip


class Stream(NamedTuple):
    """A stream of bytes in a copy, and what it is called there: the member of an archive, the page of a document."""

    where: str
    blocks: Iterable[bytes]


def streams_of(file: IO[bytes], depth: int = 0, where: str = "") -> Iterator[Stream]:
    """Every stream of bytes in a copy: the file itself, and what is packed in it, as deep as it goes."""
    file.seek(0)
    head = file.read(512)
    file.seek(0)
    yield Stream(where, iter(lambda: file.read(_CHUNK), b""))
    if depth >= _DEEPEST:
        return
    try:
        for stream in _inside(file, head, depth):
            yield Stream(" in ".join(filter(None, (stream.where, where))), stream.blocks)
    except _TROUBLE:
        return


def _unpacked(file: IO[bytes], head: bytes) -> Any:
    """The file as it is unpacked; None if it is not packed."""
    if head.startswith(b"\x1f\x8b"):
        return gzip.open(file)
    if head.startswith(b"BZh"):
        return bz2.open(file)
    if head.startswith(b"\xfd7zXZ"):
        return lzma.open(file)
    if head.startswith(b"\x28\xb5\x2f\xfd"):
        return zstandard.ZstdDecompressor().stream_reader(file, read_across_frames=True)
    return None


def _inside(file: IO[bytes], head: bytes, depth: int) -> Iterator[Stream]:
    file.seek(0)
    unpacked = _unpacked(file, head)
    if unpacked is not None:
        with unpacked:
            yield from _again(unpacked, depth)
    elif head.startswith(b"PK"):
        yield from _in_zip(file, depth)
    elif head[257:262] == b"ustar":
        yield from _in_tar(file, depth)
    elif head.startswith(b"SQLite format 3"):
        yield from _in_database(file, depth)
    elif head.startswith(b"%PDF-"):
        yield from _on_pages(file)
    elif head.startswith(_PICTURES) or head[8:12] == b"WEBP":
        yield Stream("", [_read_off(Image.open(file))])
    elif _OF_A_MAIL.search(head):
        yield from _parts(file, depth)


_OF_A_MAIL = re.compile(
    rb"^MIME-Version:|\A(?-i:(?:From|To|Subject|Received): )", re.MULTILINE | re.IGNORECASE
)


def _in_zip(file: IO[bytes], depth: int) -> Iterator[Stream]:
    with zipfile.ZipFile(file) as archive:
        members = archive.infolist()
        names = (member.filename.encode() + b"\n" + member.comment for member in members)
        yield Stream("its names", [archive.comment, *names])
        office = any(member.filename == _OF_OFFICE for member in members)
        for member in members:
            yield from _again(archive.open(member), depth, member.filename)
            is_text = member.filename.endswith(".xml") and member.file_size <= _LARGEST_PART
            if office and is_text:
                yield Stream(member.filename, [_text_of(archive.read(member))])


def _in_tar(file: IO[bytes], depth: int) -> Iterator[Stream]:
    with tarfile.open(fileobj=file) as archive:
        for item in archive:
            said = (item.name, item.linkname, item.uname, item.gname, item.pax_headers)
            yield Stream("its names", [("\n".join(map(str, said)) + "\n").encode()])
            if item.isreg() and (content := archive.extractfile(item)) is not None:
                yield from _again(content, depth, item.name)


def _in_database(file: IO[bytes], depth: int) -> Iterator[Stream]:
    with tempfile.NamedTemporaryFile(suffix=".db") as copy:
        for block in iter(lambda: file.read(_CHUNK), b""):
            copy.write(block)
        copy.flush()
        yield from _cells(copy.name, depth)


def _text_of(part: bytes) -> bytes:
    """The text of an office document's part, however it is cut into runs: its paragraphs on lines of their own."""
    lines = _END_OF_LINE.sub(b"\n", part)
    return html.unescape(_TAG.sub(b"", lines).decode("utf-8", "replace")).encode("utf-8", "replace")


def _on_pages(file: IO[bytes]) -> Iterator[Stream]:
    """What can be found in a PDF as text, what it says of itself, and what can be read off its pages."""
    with opened(file.read()) as document:
        yield Stream("its properties", [f"{document.get_metadata_dict()}\n".encode()])
        for number, page in enumerate(document, 1):
            words = page.get_textpage()
            yield Stream(f"page {number}", [words.get_text_range().encode("utf-8", "replace")])
            yield Stream(f"page {number}", [_read_off(page.render(scale=_DOTS / 72).to_pil())])
            words.close()
            page.close()


def _read_off(picture: Image.Image) -> bytes:
    """The lines that can be read off a picture, and its codes. Nothing where no such reader is installed."""
    program = shutil.which("tesseract")
    if program is None:
        return b""
    plain = io.BytesIO()
    picture.convert("RGB").save(plain, "PNG", compress_level=1)
    done = subprocess.run(
        [program, "stdin", "stdout", "--psm", "3"], input=plain.getvalue(), capture_output=True, timeout=_SECONDS,
        check=False, env={"OMP_THREAD_LIMIT": "1", "PATH": "/usr/bin:/bin"},
    )  # fmt: skip
    codes = [code.text.encode() for code in zxingcpp.read_barcodes(picture.convert("RGB"))]
    return b"\n".join([done.stdout, *codes])


def _again(member: Any, depth: int, where: str = "") -> Iterator[Stream]:
    with tempfile.SpooledTemporaryFile(max_size=8 << 20) as inner:
        for block in iter(lambda: member.read(_CHUNK), b""):
            inner.write(block)
        yield from streams_of(inner, depth + 1, where)


def _cells(name: str, depth: int) -> Iterator[Stream]:
    connection = sqlite3.connect(f"file:{name}?mode=ro", uri=True)
    try:
        tables = [
            row[0]
            for row in connection.execute("SELECT name FROM sqlite_master WHERE type = 'table'")
        ]
        for table in tables:
            quoted = table.replace('"', '""')
            for row in connection.execute(f'SELECT * FROM "{quoted}"'):  # noqa: S608 - a quoted name
                said = "\n".join(str(cell) for cell in row if not isinstance(cell, bytes))
                yield Stream(f"table {table}", [said.encode()])
                for cell in row:
                    if isinstance(cell, bytes):
                        yield from streams_of(io.BytesIO(cell), depth + 1, f"table {table}")
    finally:
        connection.close()


def _parts(file: IO[bytes], depth: int) -> Iterator[Stream]:
    file.seek(0)
    data = file.read(_LARGEST_MAIL)
    for part in email.message_from_bytes(data).walk():
        payload = None if part.is_multipart() else part.get_payload(decode=True)
        if isinstance(payload, bytes):
            yield from streams_of(io.BytesIO(payload), depth + 1, part.get_filename() or "its text")


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
