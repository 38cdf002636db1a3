"""What is packed in an outgoing copy: members of archives, cells of databases, pages, pictures, parts of mails.

Loaded only for a copy that has something packed in it: the libraries that this needs take a while.
"""

from __future__ import annotations

import bz2
import email
import gzip
import html
import io
import lzma
import re
import shutil
import sqlite3
import subprocess
import tarfile
import tempfile
import zipfile
import zlib
from collections.abc import Iterator
from typing import IO, Any

import zstandard
import zxingcpp
from PIL import Image

from sealpacket.core.pdfium import PdfiumError, opened
from sealpacket.core.redact.verify.streams import CHUNK, PICTURES, Stream, streams_of

_LARGEST_MAIL = 64 << 20
_LARGEST_PART = 64 << 20
_OF_OFFICE = "[Content_Types].xml"
_END_OF_LINE = re.compile(rb"</(?:\w+:)?(?:p|si|is|comment|tc)>|<(?:\w+:)?(?:br|cr|tab)\b[^<>]*>")
_TAG = re.compile(rb"<[^<>]*>")
_DOTS = 200
_SECONDS = 120
TROUBLE = (OSError, EOFError, ValueError, LookupError, RuntimeError, NotImplementedError, lzma.LZMAError, zlib.error,
           zipfile.BadZipFile, tarfile.TarError, zstandard.ZstdError, sqlite3.Error,
           PdfiumError, subprocess.SubprocessError, Image.DecompressionBombError)  # fmt: skip
"""What a copy that is damaged, or that cannot be unpacked any more, raises."""


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


def inside(file: IO[bytes], head: bytes, depth: int) -> Iterator[Stream]:
    """What is packed in a file that begins so, `depth` files deep; streams.py knows the beginnings. Raises TROUBLE."""
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
    elif head.startswith(PICTURES) or head[8:12] == b"WEBP":
        yield Stream("", [_read_off(Image.open(file))])
    else:
        yield from _parts(file, depth)


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
        for block in iter(lambda: file.read(CHUNK), b""):
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
        for block in iter(lambda: member.read(CHUNK), b""):
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
