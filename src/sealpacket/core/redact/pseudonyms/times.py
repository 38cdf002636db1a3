"""Times shifted by a constant: what lay between two events stays, and when they were is not told.

Every form keeps its length, so that nothing else moves. Read are the forms of RFC 3339, of web servers' logs, of RFC
5322 and RFC 3164 (which tell no year), and seconds or milliseconds since 1970 beside a label.
"""

from __future__ import annotations

import re
from datetime import UTC, datetime, timedelta
from functools import lru_cache

_MONTH = "Jan|Feb|Mar|Apr|May|Jun|Jul|Aug|Sep|Oct|Nov|Dec"
_DAY = "Mon|Tue|Wed|Thu|Fri|Sat|Sun"
_YEAR = r"(?:19|20)\d\d"
_CLOCK = r"\d\d:\d\d(?::\d\d)?"
_FORMS = (
    rf"(?P<iso>(?<!\d){_YEAR}-\d\d-\d\d(?:[T ]{_CLOCK})?(?!\d))",
    rf"(?P<web>(?<!\d)\d\d/(?:{_MONTH})/{_YEAR}:\d\d:\d\d:\d\d)",
    rf"(?P<mail>(?:(?:{_DAY}), )?(?<!\d)\d\d (?:{_MONTH}) {_YEAR} {_CLOCK})",
    rf"(?P<long>(?:(?:{_DAY}) )?\b(?:{_MONTH}) [ \d]\d {_CLOCK}(?: {_YEAR})?)",
    r"(?i:\b(?:time|timestamp|ts|epoch|date|at|since|when)\"?[=: ]{1,3})(?P<since>1\d{9}(?:\d{3})?)(?!\d)",
)
_TIMES = re.compile("|".join(_FORMS).encode())
_COMMON_YEAR = 2001
"""The year of a time that tells none: one without a 29th of February unless the time is of that day."""
_TWENTY = 20 * 365
"""A shift may go over so many days either way."""


class Shift:
    """Moves every time by `days`, or any part of days, to the second."""

    def __init__(self, by: timedelta) -> None:
        if abs(by) > timedelta(days=_TWENTY):
            raise ValueError(f"times can be shifted by {_TWENTY} days at most")
        self._by = timedelta(seconds=round(by.total_seconds()))
        self._moved = lru_cache(1 << 14)(self._made)

    @property
    def seconds(self) -> int:
        """By how many seconds times move."""
        return int(self._by.total_seconds())

    def shifted(self, text: bytes) -> bytes:
        """The text, as long as before, with all its times moved."""
        return _TIMES.sub(self._hit, text)

    def _hit(self, hit: re.Match[bytes]) -> bytes:
        form = hit.lastgroup or ""
        value = hit[form]
        made = self._moved(form, value) or value
        return hit[0][: hit.start(form) - hit.start()] + made

    def _made(self, form: str, value: bytes) -> bytes | None:
        """The time moved, in its own form; None if it is no real time."""
        text = value.decode("ascii")
        try:
            return (
                self._since(text) if form == "since" else getattr(self, f"_{form}")(text)
            ).encode()
        except (ValueError, OverflowError):
            return None

    def _since(self, text: str) -> str:
        unit = 1000 if len(text) == 13 else 1
        return f"{int(text) + int(self._by.total_seconds()) * unit:0{len(text)}d}"[-len(text) :]

    def _iso(self, text: str) -> str:
        moved = datetime.fromisoformat(text) + self._by
        return moved.isoformat(sep=text[10:11] or "T")[: len(text)]

    def _web(self, text: str) -> str:
        return _told(_read(text, "%d/%b/%Y:%H:%M:%S") + self._by, "%d/%b/%Y:%H:%M:%S")

    def _mail(self, text: str) -> str:
        day, rest = (text[:5], text[5:]) if text[3:4] == "," else ("", text)
        form = "%d %b %Y %H:%M:%S" if rest.count(":") == 2 else "%d %b %Y %H:%M"
        moved = _read(rest, form) + self._by
        return _told(moved, ("%a, " if day else "") + form)

    def _long(self, text: str) -> str:
        day, rest = (text[:4], text[4:]) if text[:3] in _DAY.split("|") else ("", text)
        month, date, clock, *year = rest.split()
        told = year[0] if year else "2000" if (month, date) == ("Feb", "29") else str(_COMMON_YEAR)
        form = "%H:%M:%S" if clock.count(":") == 2 else "%H:%M"
        moved = _read(f"{month} {date} {told} {clock}", f"%b %d %Y {form}") + self._by
        number = f"{moved.day:02d}" if rest[4:5] == "0" else f"{moved.day:2d}"
        head = f"{_told(moved, '%a')} " if day else ""
        return (
            head
            + f"{_told(moved, '%b')} {number} {moved.strftime(form)}"
            + (f" {moved.year}" if year else "")
        )


def _read(text: str, form: str) -> datetime:
    return datetime.strptime(text, form).replace(tzinfo=UTC)


def _told(moment: datetime, form: str) -> str:
    """The moment with the English names of days and months, whatever the machine speaks."""
    names = {"%a": _DAY.split("|")[moment.weekday()], "%b": _MONTH.split("|")[moment.month - 1]}
    for mark, name in names.items():
        form = form.replace(mark, name)
    return moment.strftime(form)
