"""Rotated logs as one, and several logs as one timeline."""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from datetime import datetime, timedelta
from heapq import merge
from itertools import pairwise
from pathlib import Path

from sealpacket.core.errors import Invalid
from sealpacket.core.evidence.logfile import LogFile, LogTimes, Window

_ROTATED = re.compile(
    r"(?i)(?:[._-](?:\d{1,4}|(?:19|20)\d\d-?\d\d-?\d\d(?:[T_-]?\d{2,6})?|old|prev|bak))?(?:\.gz)?$"
)


def series_name(path: Path) -> str:
    """The common name of a rotated log's files: without a number, a date or `.gz`."""
    name = path.name
    while (shorter := _ROTATED.sub("", name)) not in (name, ""):
        name = shorter
    stem, dot, suffix = name.rpartition(".")
    if dot and (shorter := _ROTATED.sub("", stem)):
        return f"{shorter}.{suffix}"
    return name


class LogSeries:
    """The files of one log, in the order of their times, read as one. Raises Invalid without any file."""

    def __init__(self, files: Sequence[LogFile]) -> None:
        if not files:
            raise Invalid("No log is named.", "Name one.", code="no-log")
        self.files = sorted(files, key=lambda file: (file.times().first, file.path.name))

    @property
    def name(self) -> str:
        """The common name of its files."""
        return series_name(self.files[-1].path)

    @property
    def reach(self) -> int:
        """The characters of a line in which its time is."""
        return max(file.reach for file in self.files)

    def times(self) -> LogTimes:
        """The time format, and the hours that all its files cover."""
        each = [file.times() for file in self.files]
        doubts = tuple(dict.fromkeys(doubt for one in each for doubt in one.doubts))
        overlap = any(b.first < a.last - timedelta(minutes=2) for a, b in pairwise(each))
        return LogTimes(
            example=each[-1].example,
            first=min(one.first for one in each),
            last=max(one.last for one in each),
            told_zone=all(one.told_zone for one in each),
            unsure_days=any(one.unsure_days for one in each),
            ordered=all(one.ordered for one in each) and not overlap,
            untimed=sum(one.untimed for one in each) / len(each),
            doubts=doubts,
        )

    def lines(self) -> Iterator[tuple[datetime, str]]:
        """As LogFile.lines."""
        for file in self.files:
            yield from file.lines()

    def window(
        self, start: datetime, end: datetime, found: Window | None = None
    ) -> Iterator[bytes]:
        """As LogFile.window; files that do not cover these hours are not read."""
        for file in self.files:
            times = file.times()
            if times.ordered and (times.last < start or times.first > end):
                continue
            piece = b""
            for piece in file.window(start, end, found):
                yield piece
            if piece and not piece.endswith(b"\n"):
                yield b"\n"


def series_of(files: Sequence[LogFile]) -> list[LogSeries]:
    """Group logs, so that the parts of one rotated log are one series."""
    grouped: dict[tuple[Path, str], list[LogFile]] = {}
    for file in files:
        grouped.setdefault((file.path.parent, series_name(file.path)), []).append(file)
    return [LogSeries(group) for group in grouped.values()]


Line = tuple[datetime, int, bytes]
"""A line with its moment and the number of its log; lines without a time have that of the line before them."""


def timeline(
    logs: Sequence[LogSeries],
    start: datetime | None = None,
    end: datetime | None = None,
    offsets: Sequence[timedelta] = (),
) -> Iterator[Line]:
    """The lines of several logs by their moments, each as it is written. `offsets` are added to the moments of each
    log.

    Only what is needed of logs in order is read. Within a log that is not in order, lines stay in the log's own order.
    """
    added = [*offsets, *[timedelta()] * (len(logs) - len(offsets))]
    each = [_moments_of(log, number, start, end, added[number]) for number, log in enumerate(logs)]
    return merge(*each, key=lambda line: line[:2])


def _moments_of(
    log: LogSeries, number: int, start: datetime | None, end: datetime | None, added: timedelta
) -> Iterator[Line]:
    times = log.times()
    first, last = start or times.first + added, end or times.last + added
    latest = first
    for file in log.files:
        for moment, piece in file.timed(first - added, last - added):
            latest = max(latest, moment + added)
            yield latest, number, piece
