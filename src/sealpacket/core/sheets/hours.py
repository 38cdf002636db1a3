"""The hours of a desk: whether it works at a moment, and when it opens again."""

from __future__ import annotations

import re
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from sealpacket.core.sheets.model import DAYS, Hours

_WHOLE_DAY = 24 * 60
_SPAN = re.compile(r"([01]\d|2[0-3]):([0-5]\d)-(([01]\d|2[0-3]):([0-5]\d)|24:00)")


def span_fault(span: str) -> bool:
    """Whether a day's hours are not written as 08:00-18:00."""
    return _SPAN.fullmatch(span) is None or span[:5] >= span[6:]


@lru_cache(maxsize=64)
def _holidays(place: str, year: int) -> frozenset[date]:
    import holidays

    country, _, region = place.partition("-")
    try:
        found = holidays.country_holidays(country, subdiv=region or None, years=year)
    except NotImplementedError:
        return frozenset()
    return frozenset(found)


def has_holidays(place: str) -> bool:
    """Whether the holidays of a country, or of a part of one, are known."""
    import holidays

    country, _, region = place.partition("-")
    known = holidays.list_supported_countries(include_aliases=True)
    return country in known and (not region or region in known[country])


def is_closed_on(hours: Hours, day: date) -> bool:
    """Whether the desk does not work at all on that day."""
    if day in hours.closed_on or DAYS[day.weekday()] not in hours.week:
        return True
    return bool(hours.holidays_of) and day in _holidays(hours.holidays_of, day.year)


def working_days_later(hours: Hours | None, day: date, count: int) -> date:
    """The day that is `count` of the desk's working days after `day`; Monday to Friday if its hours are not known."""
    for ahead in range(1, 4000):
        later = day + timedelta(days=ahead)
        count -= not (is_closed_on(hours, later) if hours else later.weekday() >= 5)
        if count <= 0:
            return later
    return later


def open_again(hours: Hours, now: datetime) -> datetime | None:
    """When the desk opens next, in its zone; None if it is open now (or never within a month)."""
    zone = ZoneInfo(hours.zone)
    here = now.astimezone(zone)
    for ahead in range(32):
        day = (here + timedelta(days=ahead)).date()
        if is_closed_on(hours, day):
            continue
        begin, end = _span(hours, day)
        opens = datetime.combine(day, begin, zone)
        closes = datetime.combine(day, end, zone)
        if opens <= here < closes:
            return None
        if here < opens:
            return opens
    return None


def span_of(hours: Hours, day: date) -> tuple[int, int]:
    """From when to when the desk works on a day on which it does, in minutes after midnight."""
    begin, end = (
        int(one[:2]) * 60 + int(one[3:]) for one in hours.week[DAYS[day.weekday()]].split("-")
    )
    return begin, end


def _span(hours: Hours, day: date) -> tuple[time, time]:
    begin, end = span_of(hours, day)
    return time(*divmod(begin, 60)), time.max if end == _WHOLE_DAY else time(*divmod(end, 60))
