"""One reader for each kind of file; the registry chooses by what a file is, not by what it is called.

work = Work(catalogue, Placeholders(key))
copy_file(source, target, work, "diag.tar.gz")
"""

from __future__ import annotations

from collections.abc import Callable
from importlib import import_module
from typing import IO, Any

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import Limits, Work, size_of
from sealpacket.core.redact.readers.text import (
    looks_like_text,
    read_csv,
    read_json,
    read_text,
    read_toml,
    read_wide,
    read_yaml,
    stream_text,
    wide_encoding,
)

_LATE: set[str] = set()
Reader = Callable[..., None]


def _late(module: str, name: str) -> Reader:
    """A reader that is loaded, with the libraries that it needs, when the first file comes that it can read."""
    _LATE.add(module)

    def read(*given: Any) -> None:
        getattr(import_module(f"{__name__}.{module}"), name)(*given)

    return read


def load_all() -> None:
    """Load every reader now: for a process from which others are forked."""
    for name in _LATE:
        import_module(f"{__name__}.{name}")


read_capture = _late("capture", "read_capture")
read_sqlite = _late("database", "read_sqlite")
read_mail = _late("mail", "read_mail")
read_office = _late("office", "read_office")
read_bzip2 = _late("packed", "read_bzip2")
read_gzip = _late("packed", "read_gzip")
read_tar = _late("packed", "read_tar")
read_xz = _late("packed", "read_xz")
read_zip = _late("packed", "read_zip")
read_zstd = _late("packed", "read_zstd")
read_pdf = _late("pdf", "read_pdf")
read_picture = _late("pictures", "read_picture")

_BY_MAGIC: tuple[tuple[bytes, int, Reader, bool], ...] = (
    (b"%PDF-", 0, read_pdf, False),
    (b"\x1f\x8b", 0, read_gzip, True),
    (b"BZh", 0, read_bzip2, True),
    (b"\xfd7zXZ\0", 0, read_xz, True),
    (b"\x28\xb5\x2f\xfd", 0, read_zstd, True),
    (b"ustar", 257, read_tar, True),
    (b"SQLite format 3\0", 0, read_sqlite, True),
    (b"\x89PNG\r\n", 0, read_picture, False),
    (b"\xff\xd8\xff", 0, read_picture, False),
    (b"GIF8", 0, read_picture, False),
    (b"BM", 0, read_picture, False),
    (b"II*\0", 0, read_picture, False),
    (b"MM\0*", 0, read_picture, False),
    (b"WEBP", 8, read_picture, False),
    (b"\xd4\xc3\xb2\xa1", 0, read_capture, False),
    (b"\xa1\xb2\xc3\xd4", 0, read_capture, False),
    (b"\x4d\x3c\xb2\xa1", 0, read_capture, False),
    (b"\xa1\xb2\x3c\x4d", 0, read_capture, False),
    (b"\x0a\x0d\x0d\x0a", 0, read_capture, False),
)
"""Magic bytes, where they stand, the reader, and whether it copies what is inside."""

_BY_ENDING: dict[str, Reader] = {
    ".json": read_json, ".ndjson": read_json, ".jsonl": read_json, ".geojson": read_json, ".har": read_json,
    ".csv": read_csv, ".tsv": read_csv, ".yaml": read_yaml, ".yml": read_yaml, ".toml": read_toml,
}  # fmt: skip
_OFFICE = (b"[Content_Types].xml", b"word/", b"xl/", b"ppt/")
HEAD = 4096
"""So many bytes at the beginning of a file say what it is."""


def is_plain_text(head: bytes, name: str) -> bool:
    """Whether a file that begins so is read as a stream of text, line by line, as it is."""
    return _chosen(head, name)[0] is read_text


TOO_MUCH_MEMORY = "It takes more memory to look into than one file may have."


def copy_file(source: IO[bytes], target: IO[bytes], work: Work, name: str) -> None:
    """Write the outgoing copy of a file. Raises Held for what is unknown, encrypted, broken or a bomb."""
    work.size = work.size or size_of(source)
    source.seek(0)
    head = source.read(HEAD)
    source.seek(0)
    reader, inner = _chosen(head, name)
    try:
        if inner:
            reader(source, target, work, copy_file, name)
        else:
            reader(source, target, work)
    except RecursionError as error:
        raise Held("It is nested too deeply to be read.") from error
    except MemoryError as error:
        raise Held(TOO_MUCH_MEMORY) from error


def _chosen(head: bytes, name: str) -> tuple[Reader, bool]:
    if head.startswith(b"PK\x03\x04") or head.startswith(b"PK\x05\x06"):
        return (read_office if any(mark in head for mark in _OFFICE) else read_zip), True
    if head.startswith(b"{\\rtf") or head.startswith(b"\xd0\xcf\x11\xe0"):
        raise Held("It is an older kind of office document, which cannot be read.")
    for magic, place, reader, inner in _BY_MAGIC:
        if head[place : place + len(magic)] == magic and not (
            magic == b"BM" and looks_like_text(head)
        ):
            return reader, inner
    if wide_encoding(head):
        return read_wide, False
    if not looks_like_text(head):
        raise Held("It is of a kind that cannot be read.")
    lower = name.lower()
    if lower.endswith((".eml", ".mbox")) or (
        head[:2000].lower().count(b"\nmime-version:") and b"\nContent-Type:" in head
    ):
        return read_mail, True
    ending = next((e for e in _BY_ENDING if lower.endswith(e)), "")
    if ending:
        return _BY_ENDING[ending], False
    if (
        head.lstrip()[:1] in (b"{", b"[")
        and b'"' in head[:200]
        and not head.lstrip().startswith((b"[20", b"[1"))
    ):
        return read_json, False
    return read_text, False


__all__ = ["HEAD", "Limits", "Work", "copy_file", "is_plain_text", "load_all", "stream_text"]
