"""Clocks of a case: how much of a desk's time has passed, and when something that it promised is due.

Time counts while the desk works (its hours, in its zone, without its holidays) and while it is not our turn. Where the
zone changes to or from summer time, the minutes that really pass are counted, while its clocks show working hours.
"""

from __future__ import annotations

import re
from collections.abc import Iterator, Sequence
from datetime import UTC, date, datetime, time, timedelta
from functools import lru_cache
from typing import Literal
from zoneinfo import ZoneInfo

from sealpacket.core.sheets.hours import is_closed_on, read_week, span_of
from sealpacket.core.sheets.model import Hours

Due = Literal["first_answer", "next_word", "repair"]
"""Things that a desk can promise for a severity."""
Span = tuple[datetime, datetime]
"""A period, from its beginning up to its end, both in UTC."""
LONGEST = timedelta(days=800)
"""How far ahead something is looked for."""
_DAY = timedelta(days=1)
_PROMISE = re.compile(r"(\d{1,5})(min|h)")


def promised(text: str) -> timedelta:
    """A promise such as 30min or 4h. Raises ValueError for another text."""
    found = _PROMISE.fullmatch(text)
    if found is None or int(found[1]) == 0:
        raise ValueError(f"{text} is no time; write it as 30min or 4h")
    return timedelta(**{"minutes" if found[2] == "min" else "hours": int(found[1])})


def covered_hours(text: str, desk: Hours | None) -> Hours | None:
    """The hours in which an entitlement is served: as its text says, else those of its desk. None: always.

    Hours such as 9x5, which do not say when, are the desk's.
    """
    try:
        week = read_week(text)
    except ValueError:
        return desk
    if week is None:
        return None
    zone, holidays_of = (desk.zone, desk.holidays_of) if desk else ("UTC", "")
    return Hours(zone=zone, week=week, holidays_of=holidays_of)


def due_at(
    hours: Hours | None, begin: datetime, promise: timedelta, pauses: Sequence[Span] = ()
) -> datetime | None:
    """When so much of the desk's time has passed since a moment; None if that is not within two years."""
    left = promise
    for open_from, open_until in counted(hours, begin, begin + LONGEST, pauses):
        if open_until - open_from >= left:
            return open_from + left
        left -= open_until - open_from
    return None


def passed(
    hours: Hours | None, begin: datetime, end: datetime, pauses: Sequence[Span] = ()
) -> timedelta:
    """How much of the desk's time has passed between two moments."""
    return sum((until - since for since, until in counted(hours, begin, end, pauses)), timedelta())


def counted(
    hours: Hours | None, begin: datetime, end: datetime, pauses: Sequence[Span] = ()
) -> Iterator[Span]:
    """The periods that count between two moments, in order."""
    for span in _open(hours, begin.astimezone(UTC), end.astimezone(UTC)):
        yield from _without(span, sorted(pauses))


def _without(span: Span, pauses: Sequence[Span]) -> Iterator[Span]:
    begin, end = span
    for pause_from, pause_until in pauses:
        if pause_until <= begin or pause_from >= end:
            continue
        if pause_from > begin:
            yield begin, pause_from
        begin = pause_until
        if begin >= end:
            return
    yield begin, end


def _open(hours: Hours | None, begin: datetime, end: datetime) -> Iterator[Span]:
    """The periods in which a desk works, cut at the changes of its zone's offset."""
    if hours is None:
        if begin < end:
            yield begin, end
        return
    for since, until, offset in _with_one_offset(ZoneInfo(hours.zone), begin, end):
        first, last = (since + offset).date(), (until + offset).date()
        for ahead in range((last - first).days + 1):
            day = first + ahead * _DAY
            if is_closed_on(hours, day):
                continue
            opens, closes = (_moment(day, minutes) - offset for minutes in span_of(hours, day))
            if max(opens, since) < min(closes, until):
                yield max(opens, since), min(closes, until)


def _moment(day: date, minutes: int) -> datetime:
    return datetime.combine(day, time(), UTC) + timedelta(minutes=minutes)


def _with_one_offset(
    zone: ZoneInfo, begin: datetime, end: datetime
) -> Iterator[tuple[datetime, datetime, timedelta]]:
    """A period in parts in which the zone has one offset."""
    while begin < end:
        until = min(end, begin + _DAY)
        offset = _offset(zone, begin)
        if _offset(zone, until) != offset:
            until = _change(zone, begin, until)
        yield begin, until, offset
        begin = until


@lru_cache(maxsize=4096)
def _offset(zone: ZoneInfo, moment: datetime) -> timedelta:
    return moment.astimezone(zone).utcoffset() or timedelta()


def _change(zone: ZoneInfo, begin: datetime, end: datetime) -> datetime:
    """The moment of the first change of offset in a period that has one."""
    low, high = 0, int((end - begin).total_seconds())
    first = _offset(zone, begin)
    while high - low > 1:
        middle = (low + high) // 2
        if _offset(zone, begin + timedelta(seconds=middle)) == first:
            low = middle
        else:
            high = middle
    return begin + timedelta(seconds=high)
