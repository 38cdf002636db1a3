"""The moments of a log's lines, one after the other."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import UTC, date, datetime, time, timedelta, timezone

from sealpacket.core.evidence.times.dates import day_of, tells_year
from sealpacket.core.evidence.times.recognition import TimeFormat
from sealpacket.core.evidence.times.stamps import DAY, GOES_ON, Stamp, microseconds

_EPOCH = datetime(1970, 1, 1, tzinfo=UTC)


SECONDS = re.compile(r"([0-5]\d)(?:[.,:](\d{1,9})(?!\d|\.\d))?")
"""Seconds and their fraction."""


@dataclass(frozen=True)
class _Minute:
    """A line that was read, up to its seconds: others of the same minute are read from there."""

    before: str
    after: str
    ends: bool
    start: datetime

    @classmethod
    def of(cls, line: str, stamp: Stamp, moment: datetime) -> _Minute | None:
        """Facts from this line about others of the same minute."""
        found = SECONDS.match(line, stamp.seconds_at)
        if found is None or found.end() > stamp.end:
            return None
        before, after = line[: stamp.seconds_at], line[found.end() : stamp.end + 1]
        ends = found.end() == stamp.end
        return cls(before, after, ends, moment.replace(second=0, microsecond=0))

    def moment(self, line: str) -> datetime | None:
        """When a line of this minute was written, if it is the same but for its seconds."""
        found = SECONDS.match(line, len(self.before))
        if found is None or not line.startswith(self.after, found.end()):
            return None
        if self.ends and (not self.after or GOES_ON.match(line, found.end())):
            return None
        return self.start.replace(second=int(found[1]), microsecond=microseconds(found[2]))


class Reader:
    """Reads the times of consecutive lines; years or days that are not written are counted.

    `boot` is when the machine was started from which seconds are counted. `span` is where the time of the line that was
    read last stands; a fraction may end a few characters before or after it.
    """

    def __init__(self, form: TimeFormat, boot: datetime | None = None) -> None:
        self._form, self._boot, self._order = form, boot, form.orders
        self._day, self._last = form.first_day, 0
        self._month = 0
        self._minute: _Minute | None = None
        self.span = (0, 0)

    def moment(self, line: str) -> datetime | None:
        """When a line was written; None where it does not say so. Without an offset, as the writer's clock said."""
        known = self._minute
        if known is not None and line.startswith(known.before):
            moment = known.moment(line)
            if moment is not None:
                return moment
        moment, stamp = self.stamp(line)
        if moment is not None and stamp is not None and stamp.seconds_at > 0:
            self._minute = _Minute.of(line, stamp, moment)
        return moment

    def stamp(self, line: str) -> tuple[datetime | None, Stamp | None]:
        """When a line was written, and where exactly it says so."""
        stamp = self._form.stamp_of(line)
        if stamp is None:
            return None, None
        self.span = (stamp.start, stamp.end)
        return self._moment(stamp), stamp

    def _moment(self, stamp: Stamp) -> datetime | None:
        clock = timedelta(microseconds=stamp.clock or 0)
        match stamp.family:
            case "epoch":
                return _EPOCH + clock
            case "boot":
                return None if self._boot is None else self._boot + clock
            case "day":
                day: date | None = self._counted_day(stamp)
            case _:
                day = day_of(stamp, self._order[stamp.family], self._year(stamp))
        if day is None:
            return None
        moment = datetime.combine(day, time()) + clock
        if stamp.zone is None:
            return moment
        return moment.replace(tzinfo=timezone(timedelta(minutes=stamp.zone)))

    def _year(self, stamp: Stamp) -> int | None:
        """The year of a stamp without one: it advances when January follows December."""
        if tells_year(stamp):
            return None
        told = dict(zip(self._order[stamp.family], stamp.parts, strict=False))
        month = told.get("m", 0)
        if self._month - month > 6:
            self._day = date(self._day.year + 1, 1, 1)
        elif month - self._month > 6 and self._month:  # a line that came late
            return self._day.year - 1
        self._month = month
        return self._day.year

    def _counted_day(self, stamp: Stamp) -> date:
        clock = stamp.clock or 0
        if self._last - clock > DAY // 2:
            self._day += timedelta(days=1)
        self._last = clock
        return self._day
