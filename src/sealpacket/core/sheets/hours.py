"""The hours of a desk: whether it works at a moment, and when it opens again."""

from __future__ import annotations

import re
from datetime import date, datetime, time, timedelta
from functools import lru_cache
from zoneinfo import ZoneInfo

from sealpacket.core.sheets.model import DAYS, Day, Hours

_WHOLE_DAY = 24 * 60
_SPAN = re.compile(r"([01]\d|2[0-3]):([0-5]\d)-(([01]\d|2[0-3]):([0-5]\d)|24:00)")


def span_fault(span: str) -> bool:
    """Whether a day's hours are not written as 08:00-18:00."""
    return _SPAN.fullmatch(span) is None or span[:5] >= span[6:]


def read_week(text: str) -> dict[Day, str] | None:
    """By day, the hours that a text says (Mo–Fr 08:30–17:00, Sa 9–12); None: day and night.

    Day names are English or German. Raises ValueError for a text that does not say when, such as 9x5, or that says two
    things of one day.
    """
    said = " ".join(text.lower().split())
    if said.replace(" ", "") in ("24x7", "24/7") or "day and night" in said:
        return None
    week: dict[Day, str] = {}
    for part in re.split(r"\s*[,;]\s*", said):
        found = _WRITTEN.fullmatch(part)
        first, last = (found["first"], found["last"] or found["first"]) if found else ("", "")
        if found is None or first not in _NAMES or last not in _NAMES:
            raise ValueError(f"“{text}” does not say at which days and times")
        span = "-".join(_clock(found[name]) for name in ("begin", "end"))
        days = DAYS[_NAMES[first] : _NAMES[last] + 1]
        if not days or span_fault(span):
            raise ValueError(f"“{part}” ends before it begins")
        if twice := week.keys() & set(days):
            raise ValueError(f"“{text}” says two things of one day: {', '.join(sorted(twice))}")
        week |= dict.fromkeys(days, span)
    return week


_NAMES = {
    name: place
    for place, names in enumerate(("mo", "tu di", "we mi", "th do", "fr", "sa", "su so"))
    for name in names.split()
}
_WRITTEN = re.compile(
    r"(?P<first>[a-z]{2})[a-z]*\.?(?:\s*(?:[-–]|to|bis)\s*(?P<last>[a-z]{2})[a-z]*\.?)?\s+"
    r"(?P<begin>\d{1,2}(?::\d{2})?)\s*(?:[-–]|to|bis)\s*(?P<end>\d{1,2}(?::\d{2})?)"
)


def _clock(text: str) -> str:
    hour, _, minute = text.partition(":")
    return f"{hour:0>2}:{minute or '00'}"


def is_outside(text: str, zone: str, at: datetime) -> bool:
    """Whether a moment is outside hours that a text says, in a time zone; False if it does not say when."""
    try:
        week = read_week(text)
    except ValueError:
        return False
    if week is None:
        return False
    here = at.astimezone(ZoneInfo(zone))
    span = week.get(DAYS[here.weekday()])
    return span is None or not span[:5] <= f"{here:%H:%M}" < span[6:]


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
