"""One log: its time format, the hours that it covers, and its lines in a time range."""

from __future__ import annotations

import codecs
import io
import zlib
from collections import deque
from collections.abc import Callable, Iterator
from contextlib import contextmanager
from dataclasses import dataclass
from datetime import UTC, datetime, timedelta, tzinfo
from pathlib import Path
from typing import IO, Any

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.packed import PackedFile, PackIndex
from sealpacket.core.evidence.times import Reader, TimeFormat, recognise
from sealpacket.core.evidence.times.stamps import HEAD

LARGEST_UNPACKED = 64 << 30
"""Bytes of a packed log that are read."""
_HEAD_LINES, _TAIL_LINES = 400, 200
_TAIL = 1 << 18
_CHUNK = 1 << 20
_PIECE = 1 << 16
"""Maximum bytes of a piece of a line: a line may have no end."""
_NEAR_ENOUGH = 1 << 16
"""Below this range of bytes the binary search stops."""
_PROBES = 32
JITTER = timedelta(minutes=2)
"""Maximum disorder between concurrent writers."""


@dataclass(frozen=True)
class LogTimes:
    """The time format of a log. `example` is the first time as written; `ordered` whether lines are in the order of
    time.

    Without `told_zone` the offset is that which the caller named. `untimed` is the share of lines without a time.
    """

    example: str
    first: datetime
    last: datetime
    told_zone: bool
    unsure_days: bool
    ordered: bool
    untimed: float
    doubts: tuple[str, ...]


@dataclass
class Window:
    """A time range of a log: counts of lines and bytes, and the times of its first and last line."""

    lines: int = 0
    octets: int = 0
    first: datetime | None = None
    last: datetime | None = None


class LogFile:
    """A log on this machine, plain or packed by gzip; read-only.

    `zone` is that of its times where it tells none, `near` when it was written last (else its own date), `boot` when
    the machine was started from which it counts seconds. `octets_read` counts what was read of the file.
    """

    def __init__(
        self,
        path: Path,
        zone: tzinfo = UTC,
        *,
        near: datetime | None = None,
        boot: datetime | None = None,
    ) -> None:
        self.path, self._zone, self._boot = path, zone, boot
        stat = path.stat()
        self.size = stat.st_size
        self._near = near or datetime.fromtimestamp(stat.st_mtime, UTC)
        with path.open("rb") as file:
            begin = file.read(4096)
        if not begin:
            raise Invalid(f"{path.name} is empty.", "Look where it was written.", code="empty")
        self.packed = begin.startswith(b"\x1f\x8b")
        self.octets_read = 0
        self._recoded = _utf_16(begin)
        self._index = PackIndex()
        if not self.packed and not self._recoded:
            _need_text(path, begin)
        self._form: TimeFormat | None = None
        self._times: LogTimes | None = None
        self._head_end = 0

    def times(self) -> LogTimes:
        """The time format. Raises Invalid if the log has no times."""
        if self._times is None:
            self._times = self._look()
        return self._times

    def window(
        self, start: datetime, end: datetime, found: Window | None = None
    ) -> Iterator[bytes]:
        """The lines from `start` to `end`, unchanged, with lines without a time that follow them.

        Of a plain log in order only what is needed is read. `found` is filled on the way. Raises Invalid.
        """
        counted = found if found is not None else Window()
        for moment, begins, piece in self._within(start, end):
            counted.octets += len(piece)
            if begins:
                counted.lines += 1
            if moment is not None:
                counted.first = counted.first or moment
                counted.last = moment
            yield piece

    def timed(self, start: datetime, end: datetime) -> Iterator[tuple[datetime, bytes]]:
        """As window, each line with its moment, or that of the line before it. Of an endless line only its
        beginning."""
        latest = start
        for moment, begins, piece in self._within(start, end):
            latest = moment or latest
            if begins:
                yield latest, piece

    def _within(
        self, start: datetime, end: datetime
    ) -> Iterator[tuple[datetime | None, bool, bytes]]:
        """The pieces of the lines of a window, each with its time and whether it begins a line."""
        times = self.times()
        inside = False
        straight = times.ordered and not self._recoded
        moment_of = self._alone if straight and self._known_form().counts else self._in_turn()
        with self._opened() as file:
            if straight:
                file.seek(self._offset_of(file, start - JITTER))
            for piece, begins in self._pieces(file):
                moment = moment_of(_text(piece)) if begins else None
                if moment is not None:
                    inside = start <= moment <= end
                    if times.ordered and moment > end + JITTER:
                        return
                if inside:
                    yield moment, begins, piece

    def lines(self) -> Iterator[tuple[datetime, str]]:
        """All lines with a time, each with its time and the words around it. Raises Invalid."""
        reader = self.reader()
        with self._opened() as file:
            for piece, begins in self._pieces(file):
                text = _text(piece)
                moment = reader.moment(text) if begins else None
                if moment is not None:
                    start, end = reader.span
                    yield self.placed(moment), f"{text[:start]} {text[end:].lstrip(_OF_TIMES)}"

    def chunks(self) -> Iterator[bytes]:
        """All that it says, unpacked, in pieces of a megabyte at most. Raises Invalid."""
        with self._opened() as file:
            while piece := file.read(_CHUNK):
                self.octets_read += len(piece)
                yield piece

    @property
    def reach(self) -> int:
        """The characters of a line in which its time is."""
        return self._known_form().reach

    @property
    def _length(self) -> int:
        """Bytes, unpacked."""
        if not self.packed:
            return self.size
        if self._index.length is None:
            with self._opened() as file:
                while file.read(_CHUNK):
                    pass
        assert self._index.length is not None
        return self._index.length

    def _look(self) -> LogTimes:
        with self._opened() as file:
            head, tail = self._sample(file)
        self._form = recognise([*head, *tail], self._near)
        if self._form is None:
            raise Invalid(
                f"{self.path.name} has no times that can be read.",
                "Send the complete file, or cut it by hand.",
                code="no-times",
            )
        reader = self.reader()
        begun, ended = (
            [reader.moment(line) for line in head],
            [reader.moment(line) for line in tail],
        )
        moments = [*begun, *ended]
        known = [self.placed(one) for one in begun if one is not None]
        known += self._probed(known[0]) if known else []
        known += [self.placed(one) for one in ended if one is not None]
        if not known:
            raise Invalid(
                f"The times of {self.path.name} count from the start of its machine.",
                "Say when that was.",
                code="boot-wanted",
            )
        first_timed = next(
            line for line, moment in zip((*head, *tail), moments, strict=True) if moment is not None
        )
        stamp = self._form.stamp_of(first_timed)
        return LogTimes(
            example=first_timed[stamp.start : stamp.end] if stamp is not None else "",
            first=min(known),
            last=max(known),
            told_zone=all(one.tzinfo is not None for one in moments if one is not None),
            ordered=self._in_order(known),
            untimed=sum(one is None for one in moments) / max(1, len(moments)),
            doubts=self._form.doubts,
            unsure_days=self._form.unsure_days,
        )

    def _sample(self, file: IO[bytes]) -> tuple[list[str], list[str]]:
        """Lines of its beginning and of its end."""
        head: list[str] = []
        tail: deque[str] = deque(maxlen=_TAIL_LINES)
        for piece, begins in self._pieces(file):
            if begins:
                if len(head) < _HEAD_LINES:
                    head.append(_text(piece))
                else:
                    tail.append(_text(piece))
            if len(head) == _HEAD_LINES and not self._recoded:
                break
        self._head_end = file.tell()
        if not self._recoded and file.tell() < self._length - _TAIL:
            file.seek(self._length - _TAIL)
            file.readline(_PIECE)
        if not self._recoded:
            tail.extend(_text(piece) for piece, begins in self._pieces(file) if begins)
        return head, list(tail)

    def _probed(self, first: datetime) -> list[datetime]:
        """When the lines at some places of a long log were written, in their order."""
        if self._recoded or self._length <= _TAIL * 2:
            return []
        with self._opened() as file:
            places = [self._length * probe // _PROBES for probe in range(1, _PROBES)]
            found = [
                self._moment_behind(file, place, first)
                for place in places
                if self._head_end < place < self._length - _TAIL
            ]
        return [one for one in found if one is not None]

    def _in_order(self, moments: list[datetime]) -> bool:
        late = moments[0]
        for moment in moments:
            if moment < late - JITTER:
                return False
            late = max(late, moment)
        return "day" not in self._known_form().families

    def _offset_of(self, file: IO[bytes], start: datetime) -> int:
        """Offset of a line at or before the start of the window."""
        low, high, first = 0, self._length, self.times().first
        while high - low > _NEAR_ENOUGH:
            middle = (low + high) // 2
            moment = self._moment_behind(file, middle, first)
            if moment is not None and moment < start:
                low = middle
            else:
                high = middle
        if low:
            file.seek(low)
            while (piece := file.readline(_PIECE)) and not piece.endswith(b"\n"):
                self.octets_read += len(piece)
            return file.tell()
        return 0

    def _moment_behind(self, file: IO[bytes], offset: int, first: datetime) -> datetime | None:
        """When the first line with a time behind an offset was written."""
        file.seek(offset)
        for number, (piece, begins) in enumerate(self._pieces(file)):
            if number and begins and (moment := self._alone(_text(piece), first)) is not None:
                return moment
            if number > 2000:
                break
        return None

    def _in_turn(self) -> Callable[[str], datetime | None]:
        """Gives the times of consecutive lines, each from the one before it."""
        reader = self.reader()

        def moment_of(text: str) -> datetime | None:
            moment = reader.moment(text)
            return None if moment is None else self.placed(moment)

        return moment_of

    def _alone(self, text: str, first: datetime | None = None) -> datetime | None:
        """The time of a single line, in a log that begins at `first`."""
        moment = self._in_turn()(text)
        since = first or self.times().first
        if moment is None or not self._known_form().counts or moment >= since - timedelta(days=1):
            return moment
        return moment.replace(year=moment.year + 1)

    def placed(self, moment: datetime) -> datetime:
        """A time as its reader gives it; in the log's zone if it has no offset."""
        return moment if moment.tzinfo is not None else moment.replace(tzinfo=self._zone)

    def _known_form(self) -> TimeFormat:
        if self._form is None:
            self.times()
        assert self._form is not None
        return self._form

    def reader(self) -> Reader:
        """A reader of the times of its lines, from the first on."""
        return Reader(self._known_form(), self._boot)

    def _pieces(self, file: IO[bytes]) -> Iterator[tuple[bytes, bool]]:
        """Its lines, each in one piece or several; with whether a line begins there."""
        begins = True
        while piece := file.readline(_PIECE):
            self.octets_read += len(piece)
            yield piece, begins
            begins = piece.endswith(b"\n")

    @contextmanager
    def _opened(self) -> Iterator[IO[bytes]]:
        try:
            with self.path.open("rb") as file:
                if self.packed:
                    packed = PackedFile(file, self._index, LARGEST_UNPACKED, self.path.name)
                    yield io.BufferedReader(packed, _PIECE)
                elif self._recoded:
                    yield io.BufferedReader(_Recoded(file, self._recoded), _CHUNK)
                else:
                    yield file
        except (EOFError, zlib.error) as error:
            raise Invalid(
                f"{self.path.name} is broken: {error}.", "Copy it again.", code="broken"
            ) from error


_OF_TIMES = "0123456789.,Z"
"""The rest of a time whose fraction is longer than that of others."""


class _Recoded(io.RawIOBase):
    """A file in another encoding, as UTF-8."""

    def __init__(self, file: IO[bytes], encoding: str) -> None:
        self._file = file
        self._decoder = codecs.getincrementaldecoder(encoding)("replace")
        self._rest = b""
        self._ended = False
        self._given = 0

    def readable(self) -> bool:
        return True

    def tell(self) -> int:
        return self._given

    def seek(self, offset: int, whence: int = io.SEEK_SET) -> int:
        if (offset, whence) != (0, io.SEEK_CUR):
            raise io.UnsupportedOperation("only read from its beginning")
        return self._given

    def readinto(self, buffer: Any) -> int:
        while not self._rest and not self._ended:
            piece = self._file.read(_CHUNK // 2)
            self._ended = not piece
            self._rest = self._decoder.decode(piece, self._ended).encode("utf-8", "replace")
        given = self._rest[: len(buffer)]
        buffer[: len(given)] = given
        self._rest = self._rest[len(given) :]
        self._given += len(given)
        return len(given)


def _utf_16(begin: bytes) -> str:
    """The encoding with two bytes for each character that a file begins like; empty for none."""
    if begin.startswith((b"\xff\xfe", b"\xfe\xff")):
        return "utf-16"
    pairs = len(begin) // 2
    if pairs > 16:
        for encoding, zeros in (("utf-16-le", begin[1::2]), ("utf-16-be", begin[0::2])):
            others = begin.count(0) - zeros.count(0)
            if zeros.count(0) * 10 > pairs * 8 and not others:
                return encoding
    return ""


def _need_text(path: Path, begin: bytes) -> None:
    """Raise Invalid for what is no text."""
    if begin.count(0) * 20 > len(begin):
        raise Invalid(f"{path.name} is no text.", "Name a log.", code="no-text")


def _text(piece: bytes) -> str:
    return piece[: HEAD * 4].decode("utf-8", "replace").rstrip("\r\n")
