"""What is packed: gzip, bzip2, xz and zstd; zip and tar with all that is in them, rebuilt in place."""

from __future__ import annotations

import bz2
import io
import lzma
import posixpath
import stat
import struct
import tarfile
import zipfile
import zlib
from collections.abc import Callable
from typing import IO, Any

import zstandard
from isal import igzip, igzip_lib

from sealpacket.core.redact.engine import Dropped, Held
from sealpacket.core.redact.readers.base import Work, blocks_of, size_of, spool, unused_name

Inner = Callable[[IO[bytes], IO[bytes], Work, str], None]
"""Copies something inside: source, target, work, name."""

_ISAL: Any = igzip_lib.IsalError
BROKEN: tuple[type[Exception], ...] = (
    EOFError, OSError, lzma.LZMAError, zstandard.ZstdError, ValueError, zipfile.BadZipFile, tarfile.TarError,
    NotImplementedError, RuntimeError, LookupError, OverflowError, zlib.error, struct.error, _ISAL,
)  # fmt: skip


_LONGEST_PATH = 4096
_AT_A_TIME = 1 << 10


class _Counted:
    """A source that counts what is unpacked from it."""

    def __init__(self, file: Any, work: Work) -> None:
        self._file, self._work = file, work

    def read(self, size: int = -1) -> bytes:
        data: bytes = self._file.read(size)
        self._work.count(len(data))
        return data


def packed(
    opener: Callable[..., Any], name: str
) -> Callable[[IO[bytes], IO[bytes], Work, Inner, str], None]:
    """A reader for one kind of packing; `opener` takes a file and a mode."""

    def read(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
        within = label.rsplit(".", 1)[0] if "." in label else label
        try:
            with spool() as plain, spool() as copy:
                with opener(source, "rb") as unpacked:
                    for block in blocks_of(_Counted(unpacked, work)):
                        plain.write(block)
                plain.seek(0)
                inner(plain, copy, work.inside(), within)
                copy.seek(0)
                with opener(target, "wb") as out:
                    for block in blocks_of(copy):
                        out.write(block)
        except BROKEN as error:
            raise Held(f"The {name} file is broken ({type(error).__name__}).") from error

    return read


def _gzip(file: IO[bytes], mode: str) -> Any:
    opener: Any = igzip.IGzipFile
    return opener(fileobj=file, mode=mode, **({"mtime": 0, "filename": ""} if mode == "wb" else {}))


class _Zstd:
    """Frames of zstd one after the other (RFC 8878); one that does not end is broken."""

    def __init__(self, file: IO[bytes]) -> None:
        self._file, self._frame = (
            file,
            zstandard.ZstdDecompressor(max_window_size=1 << 27).decompressobj(),
        )

    def read(self, size: int) -> bytes:
        """What the next few bytes give. A block of 128 kB takes four bytes at least, so that these give 32 MB at most,
        which are counted before more is read."""
        while block := self._frame.unused_data or self._file.read(min(size, _AT_A_TIME)):
            if self._frame.eof:
                self._frame = zstandard.ZstdDecompressor(max_window_size=1 << 27).decompressobj()
            if plain := self._frame.decompress(block):
                return plain
        if not self._frame.eof:
            raise EOFError("the last frame does not end")
        return b""

    def __enter__(self) -> _Zstd:
        return self

    def __exit__(self, *_: object) -> None:
        return None


def _zstd(file: IO[bytes], mode: str) -> Any:
    return (
        _Zstd(file)
        if mode == "rb"
        else zstandard.ZstdCompressor().stream_writer(file, closefd=False)
    )


read_gzip = packed(_gzip, "gzip")
read_bzip2 = packed(bz2.open, "bzip2")
read_xz = packed(lzma.open, "xz")
read_zstd = packed(_zstd, "zstd")


def read_zip(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """Every member copied under a clean name; comments redacted, extra fields gone. What is unreadable holds it all."""
    try:
        with (
            zipfile.ZipFile(source) as archive,
            zipfile.ZipFile(target, "w", zipfile.ZIP_DEFLATED) as out,
        ):
            names: set[str] = set()
            for member in archive.infolist():
                work.count(0, 1)
                if member.flag_bits & 1:
                    raise Held(f"{member.filename} in it is encrypted.")
                made = zipfile.ZipInfo(
                    unused_name(work.name(member.filename), names), member.date_time
                )
                made.compress_type = (
                    member.compress_type if member.compress_type in (0, 8) else zipfile.ZIP_DEFLATED
                )
                made.external_attr = member.external_attr
                made.comment = work.run.text(member.comment)
                if member.is_dir():
                    out.writestr(made, b"")
                    continue
                if stat.S_ISLNK(member.external_attr >> 16):
                    leads = work.run.text(_target_of(archive, member, work))
                    if _leads_out(made.filename, leads.decode("utf-8", "replace")):
                        made.external_attr = 0o100644 << 16
                        leads = b"a link to " + leads + b"\n"
                    out.writestr(made, leads)
                    continue
                with spool() as copy:
                    copied_member(archive.open(member), copy, work, inner, member.filename)
                    with out.open(made, "w", force_zip64=True) as slot:
                        for block in blocks_of(copy):
                            slot.write(block)
            out.comment = work.run.text(archive.comment)[:65535]
    except BROKEN as error:
        raise Held(
            f"The zip archive is broken or of a kind that cannot be read ({type(error).__name__})."
        ) from error


def _target_of(archive: zipfile.ZipFile, member: zipfile.ZipInfo, work: Work) -> bytes:
    """Where a link in a zip leads; no more of it is unpacked than a path may have."""
    with archive.open(member) as link:
        return _Counted(link, work).read(_LONGEST_PATH)


def copied_member(packed_file: Any, copy: IO[bytes], work: Work, inner: Inner, name: str) -> None:
    """Copy one member by what it is; `copy` is left at its beginning. A reason for holding says which member."""
    with spool() as plain, packed_file:
        for block in blocks_of(_Counted(packed_file, work)):
            plain.write(block)
        plain.seek(0)
        try:
            inner(plain, copy, work.inside(), name)
        except Dropped as dropped:
            raise Dropped(dropped.kind) from dropped
        except Held as held:
            raise Held(f"{name}: {held}") from held
        copy.seek(0)


def _beside_links(name: str, links: set[str]) -> str:
    """The name of a member; one that would lie behind a link of the archive lies beside it."""
    parts = name.split("/")
    for place in range(1, len(parts)):
        while "/".join(parts[:place]) in links:
            parts[place - 1] += "-1"
    return "/".join(parts)


def _leads_out(name: str, target: str) -> bool:
    """Whether a link of that name leads out of its archive."""
    place = posixpath.normpath(posixpath.join(posixpath.dirname(name), target.replace("\\", "/")))
    return target.startswith(("/", "\\")) or ":" in target or place.startswith("..")


def _add_link(out: tarfile.TarFile, made: tarfile.TarInfo, target: str) -> None:
    """A link that stays inside the archive; of one that leads out only its target is told, in a file."""
    if not _leads_out(made.name if made.issym() else "", target):
        made.linkname = target
        out.addfile(made)
        return
    told = f"a link to {target}\n".encode()
    made.type, made.size = tarfile.REGTYPE, len(told)
    out.addfile(made, io.BytesIO(told))


def read_tar(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """Every member under a clean name; owners and groups gone, link targets redacted, devices left out."""
    try:
        with (
            tarfile.open(fileobj=source, mode="r:") as archive,
            tarfile.open(fileobj=target, mode="w:", format=tarfile.PAX_FORMAT) as out,
        ):
            names: set[str] = set()
            links: set[str] = set()
            for member in archive:
                work.count(0, 1)
                made = tarfile.TarInfo(
                    unused_name(_beside_links(work.name(member.name), links), names)
                )
                made.mtime, made.mode, made.type = (
                    int(member.mtime),
                    member.mode & 0o777,
                    member.type,
                )
                made.uname = made.gname = ""
                made.uid = made.gid = 0
                if member.issym() or member.islnk():
                    links.add(made.name)
                    _add_link(out, made, work.words(member.linkname))
                elif member.isdir():
                    out.addfile(made)
                elif member.isreg():
                    made.type = tarfile.REGTYPE
                    with spool() as copy:
                        copied_member(archive.extractfile(member), copy, work, inner, member.name)
                        made.size = size_of(copy)
                        out.addfile(made, copy)
                else:
                    raise Held(f"{member.name} in it is neither a file nor a folder nor a link.")
    except BROKEN as error:
        raise Held(f"The tar archive is broken ({type(error).__name__}).") from error
