"""Gzip files in which one can go to any place, once they were read through."""

from __future__ import annotations

import io
import zlib
from bisect import bisect_right
from collections.abc import Callable
from dataclasses import dataclass, field
from typing import IO, Any

from sealpacket.core.errors import Invalid

_PIECE = 1 << 18
_OUT = 1 << 20
_MOST_PLACES = 512
"""Places that are remembered; each takes some 50 KB."""
_GZIP = 31
"""zlib's word for gzip with its largest window."""


@dataclass(frozen=True)
class _Place:
    """Where unpacking can begin: bytes unpacked before it, bytes of the file before it, and the unpacker's state."""

    unpacked: int
    packed: int
    state: Any


@dataclass
class PackIndex:
    """Places of a gzip file from which it can be read. Filled by reading it; shared by those who read it."""

    places: list[_Place] = field(default_factory=list)
    every: int = 4 << 20
    """Bytes between two places."""
    length: int | None = None
    """Bytes unpacked, once it was read through."""

    def note(self, place: Callable[[], _Place], unpacked: int) -> None:
        """Remember a place if it is far enough behind the last one."""
        if self.places and unpacked < self.places[-1].unpacked + self.every:
            return
        self.places.append(place())
        if len(self.places) > _MOST_PLACES:
            self.places = self.places[::2]
            self.every *= 2

    def before(self, unpacked: int) -> _Place | None:
        """The nearest place before one."""
        found = bisect_right([place.unpacked for place in self.places], unpacked)
        return self.places[found - 1] if found else None


class PackedFile(io.RawIOBase):
    """The content of a gzip file from any offset. At most `most` bytes are unpacked. Raises Invalid, EOFError or
    zlib.error."""

    def __init__(self, file: IO[bytes], index: PackIndex, most: int, name: str) -> None:
        self._file, self._index, self._most, self._name = file, index, most, name
        self._position = self._begun = 0
        self._state: Any = None
        self._waiting = self._ready = b""
        self._ended = False
        self._start_at(0)

    def readable(self) -> bool:
        """It is."""
        return True

    def seekable(self) -> bool:
        """It is, too."""
        return True

    def tell(self) -> int:
        """Bytes unpacked before here."""
        return self._position

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        """Go to a place, counted in bytes unpacked."""
        if whence != io.SEEK_SET:
            raise io.UnsupportedOperation("only places counted from the beginning")
        if not self._position <= offset <= self._position + self._index.every:
            self._start_at(offset)
        while self._position < offset and self._skip(offset - self._position):
            pass
        return self._position

    def readinto(self, buffer: Any) -> int:
        """As io.RawIOBase."""
        if not self._ready:
            self._unpack()
        given = self._ready[: len(buffer)]
        buffer[: len(given)] = given
        self._ready = self._ready[len(given) :]
        self._position += len(given)
        return len(given)

    def _skip(self, count: int) -> int:
        if not self._ready:
            self._unpack()
        skipped = min(count, len(self._ready))
        self._ready = self._ready[skipped:]
        self._position += skipped
        return skipped

    def _start_at(self, offset: int) -> None:
        place = self._index.before(offset)
        self._file.seek(place.packed if place else 0)
        self._state = place.state.copy() if place else zlib.decompressobj(_GZIP)
        self._position = self._begun = place.unpacked if place else 0
        self._waiting = self._ready = b""
        self._ended = False

    def _unpack(self) -> None:
        """Have some more bytes ready, unless it ends."""
        while not self._ready and not self._ended:
            if not self._waiting:
                self._waiting = self._file.read(_PIECE)
                if not self._waiting:
                    if not self._state.eof and self._begun:
                        raise EOFError("it ends in the middle")
                    self._over()
                    return
            if self._state.eof:
                if not self._waiting.startswith(b"\x1f\x8b"):  # what follows is no gzip: padding
                    self._over()
                    return
                self._state = zlib.decompressobj(_GZIP)
            self._ready = self._state.decompress(self._waiting, _OUT)
            self._waiting = self._state.unconsumed_tail or self._state.unused_data
            self._begun += len(self._ready)
            if self._begun > self._most:
                raise Invalid(
                    f"{self._name} unpacks to more than {self._most >> 30} GB.",
                    "Cut it on its own machine.",
                    code="too-large",
                )
            if not self._state.eof:
                self._index.note(self._here, self._begun)

    def _over(self) -> None:
        self._ended = True
        self._index.length = self._begun

    def _here(self) -> _Place:
        packed = self._file.tell() - len(self._waiting)
        return _Place(self._begun, packed, self._state.copy())
