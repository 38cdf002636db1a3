"""One pass over a log, by the native part; Python reads the times that are new to it."""

from __future__ import annotations

import re
from collections.abc import Callable
from datetime import UTC, datetime, timedelta
from typing import TYPE_CHECKING

from sealpacket.core.evidence._native import Scan
from sealpacket.core.evidence.logfile import LogFile
from sealpacket.core.evidence.series import LogSeries
from sealpacket.core.evidence.summary import templates, words
from sealpacket.core.evidence.times.reading import SECONDS
from sealpacket.core.evidence.times.stamps import Stamp
from sealpacket.core.evidence.times.words import ZONES

if TYPE_CHECKING:
    from sealpacket.core.evidence._native import Told

_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)
_MICROSECOND = timedelta(microseconds=1)
_MOST_KINDS = 8_000
"""Different messages that are kept at a time."""
_DAY_DIGITS = 5
"""Digits of a count of seconds that stay the same for a day."""


def micros(moment: datetime) -> int:
    """Microseconds since 1970."""
    return (moment - _EPOCH) // _MICROSECOND


def moment_at(micro: int) -> datetime:
    """The time from a number of microseconds since 1970."""
    return _EPOCH + timedelta(microseconds=micro)


def scan_log(
    log: LogSeries, patterns: list[str], progress: Callable[[int], None] | None = None
) -> Scan:
    """Read a complete log, and count. `progress` is called with the bytes read. Raises Invalid."""
    times = log.times()
    readers = {file: reader_of(file) for file in log.files}
    reading = log.files[0]

    def read(line: bytes) -> Told | None:
        return readers[reading](line)

    scan = Scan(
        micros(times.first),
        micros(times.last),
        log.reach * 2,
        _MOST_KINDS,
        [*ZONES, "z"],
        patterns,
        read,
        _judge,
        lambda skeletons: templates.merge(skeletons, pairs=False),
    )
    for reading in log.files:
        for piece in reading.chunks():
            scan.feed(piece)
            if progress is not None:
                progress(len(piece))
        scan.finish()
    merged = templates.merge(scan.skeletons())
    scan.regroup(merged)
    return scan


def _judge(skeleton: bytes, example: bytes) -> tuple[int, bool]:
    text = _plain(skeleton)
    keeps = words.may_tell(text) and (words.is_restart(text) or words.tells_facts(_plain(example)))
    return words.level_of(text), keeps


def _plain(text: bytes) -> str:
    return text.replace(templates.GLUE, b"").decode("utf-8", "replace")


def reader_of(file: LogFile) -> Callable[[bytes], Told | None]:
    """A reader of the times of a file's lines, for the native part."""
    reader = file.reader()

    def read(line: bytes) -> Told | None:
        text = line.decode("utf-8", "surrogateescape")
        moment, stamp = reader.stamp(text)
        if moment is None or stamp is None:
            return None
        return _told(text, file.placed(moment), stamp)

    return read


def _told(text: str, moment: datetime, stamp: Stamp) -> Told:
    """A time with what the native part needs to read others like it. Places are counted in bytes."""
    micro = micros(moment)
    start, end = len(_raw(text[: stamp.start])), len(_raw(text[: stamp.end]))
    if stamp.family == "epoch":
        lead = _raw(text[stamp.start : stamp.start + _DAY_DIGITS])
        return micro, start, end, lead, b"", False, 0, 10 + stamp.parts[0], None
    seconds = SECONDS.match(text, stamp.seconds_at) if stamp.seconds_at > 0 else None
    if seconds is None or seconds.end() > stamp.end:
        return micro, start, end, b"", b"", False, 0, 0, None
    ends = seconds.end() == stamp.end
    after = _raw(text[stamp.end : stamp.end + 1] if ends else text[seconds.end() : stamp.end])
    hours = _HOURS.search(text, stamp.start, stamp.seconds_at)
    if hours and hours.start() > stamp.start and not stamp.halves and _is_even(moment):
        begin = moment.replace(hour=0, minute=0, second=0, microsecond=0)
        lead = _raw(text[stamp.start : hours.start()])
        return micro, start, end, lead, after, ends, micros(begin), 0, _raw(hours[1] or "")
    begin = moment.replace(second=0, microsecond=0)
    lead = _raw(text[stamp.start : stamp.seconds_at])
    return micro, start, end, lead, after, ends, micros(begin), 0, None


_HOURS = re.compile(r"(?<!\d)\d\d([:.h-])\d\d\1$|(?<=[\dTt _-])\d{4}()$")


def _is_even(moment: datetime) -> bool:
    """Whether the clocks of its zone are not set on the day of a moment."""
    day = moment.replace(hour=0, minute=0, second=0, microsecond=0)
    return day.utcoffset() == day.replace(hour=23, minute=59).utcoffset()


def _raw(text: str) -> bytes:
    return text.encode("utf-8", "surrogateescape")
