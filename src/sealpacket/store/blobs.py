"""Large content: encrypted files behind one small interface (fsspec: a folder here, an object store elsewhere)."""

from __future__ import annotations

import errno
import hashlib
import tempfile
from collections.abc import Callable, Iterable, Iterator
from contextlib import contextmanager, suppress
from dataclasses import dataclass
from pathlib import Path
from uuid import uuid4

import fsspec

from sealpacket.core.errors import DiskFull, Unavailable
from sealpacket.core.secretbox import HEADER, Key, decrypt_range, encrypt_stream, is_current


@dataclass(frozen=True)
class Stored:
    """Where a blob lies, and its plain size (bytes) and SHA-256 (hex)."""

    name: str
    size: int
    sha256: str


class Blobs:
    """Keeps blobs under random names, each encrypted with its own key. Nothing half-written is ever visible."""

    def __init__(self, address: str, key: Callable[[], Key]) -> None:
        """`key` gives the keys each time, so that a new one counts at once."""
        self._fs, self._root = fsspec.core.url_to_fs(address)
        self._key = key

    def put(self, blocks: Iterable[bytes]) -> Stored:
        """Store what the blocks hold. If anything fails on the way, nothing stays."""
        name = uuid4().hex
        digest, size = hashlib.sha256(), 0

        def counted() -> Iterator[bytes]:
            nonlocal size
            for block in blocks:
                digest.update(block)
                size += len(block)
                yield block

        with _translated():
            self._fs.makedirs(self._path(name).rsplit("/", 1)[0], exist_ok=True)
            self._write(name, counted())
        return Stored(name, size, digest.hexdigest())

    def _write(self, name: str, blocks: Iterable[bytes]) -> None:
        path, part = self._path(name), f"{self._path(name)}.part"
        try:
            with self._fs.open(part, "wb") as file:
                for sealed in encrypt_stream(self._key(), blocks):
                    file.write(sealed)
            self._fs.mv(part, path)
        except BaseException:
            with suppress(OSError):
                self._fs.rm(part)
            raise

    def look(self) -> None:
        """Look whether the place of the blobs can be reached. Raises Unavailable."""
        with _translated():
            if not self._fs.isdir(self._root):
                raise FileNotFoundError(errno.ENOENT, "the place of exhibits is not there")

    def names(self) -> Iterator[str]:
        """The names of all blobs."""
        for path in self._fs.find(self._root):
            name = path.rsplit("/", 1)[-1]
            if not name.endswith(".part"):
                yield name

    def re_encrypt(self, name: str) -> bool:
        """Re-encrypt a blob that is not encrypted with the newest key. Returns whether it was changed.

        Whoever reads it meanwhile reads it as it was.
        """
        with suppress(FileNotFoundError):  # forgotten meanwhile
            with self._fs.open(self._path(name), "rb") as file:
                if is_current(self._key(), file.read(HEADER)):
                    return False
            with _translated():
                self._write(name, self.read(name))
            return True
        return False

    def read(self, name: str, start: int = 0, end: int | None = None) -> Iterator[bytes]:
        """The plain bytes of a blob, whole or a range, in blocks."""
        with _translated(), self._fs.open(self._path(name), "rb") as file:

            def read_at(offset: int, length: int) -> bytes:
                file.seek(offset)
                return bytes(file.read(length))

            file.seek(0, 2)
            yield from decrypt_range(self._key(), read_at, file.tell(), start, end)

    def read_all(self, name: str) -> bytes:
        """A small blob, whole."""
        return b"".join(self.read(name))

    @contextmanager
    def as_file(self, name: str) -> Iterator[Path]:
        """A blob as a plain file, for what has to seek in it; the file is gone afterwards."""
        with tempfile.TemporaryDirectory(prefix="sealpacket-") as folder:
            path = Path(folder, "file")
            with path.open("wb") as file:
                file.writelines(self.read(name))
            yield path

    def remove(self, name: str | None) -> None:
        """Forget a blob; one that is gone already is not a fault."""
        if name:
            with suppress(FileNotFoundError):
                self._fs.rm(self._path(name))

    def _path(self, name: str) -> str:
        return f"{self._root}/{name[:2]}/{name}"


@contextmanager
def _translated() -> Iterator[None]:
    try:
        yield
    except FileNotFoundError as error:
        raise Unavailable(
            "A stored file is not where it should be.",
            "Restore the folder of exhibits from a backup.",
            code="blob-lost",
        ) from error
    except OSError as error:
        if error.errno in (errno.ENOSPC, errno.EDQUOT, errno.EFBIG):
            raise DiskFull(
                "The disk that keeps exhibits is full.",
                "Make room there and try again; nothing half-done was kept.",
            ) from error
        raise Unavailable(
            "The place that keeps exhibits cannot be used just now.",
            "Check its disk or network and try again.",
            code="blobs-unreachable",
        ) from error
