"""When something began, from what somebody wrote about it: “Since 09:00”, “yesterday at 4 pm”."""

from __future__ import annotations

import re
from dataclasses import dataclass
from datetime import date, datetime, time, timedelta, tzinfo

from sealpacket.core.evidence.times.words import MONTHS

_DAYS = ("monday", "tuesday", "wednesday", "thursday", "friday", "saturday", "sunday")
_DAY = (
    r"(?P<day>today|this morning|this afternoon|tonight|last night|yesterday|"
    rf"(?:last |on )?(?:{'|'.join(_DAYS)})|\d{{4}}-\d\d-\d\d|"
    rf"(?:the )?\d{{1,2}}(?:st|nd|rd|th)?\.? (?:{'|'.join(sorted(MONTHS, key=len, reverse=True))})\b(?: \d{{4}})?)"
)
_CLOCK = r"(?P<hour>[01]?\d|2[0-3])(?:[:.h](?P<minute>[0-5]\d))?(?P<half> ?[ap]\.?m\b\.?)?(?: ?(?:h|o'clock|hours)\b)?"
_LEAD = (
    r"(?:since|from|starting|began|begun|started|beginning|after|as of|first seen|at|around|about)"
)
_APPROX = r"(?:(?:about|around|roughly|approx\.?|ca\.?|~|at) ?)*"
_TO_COME = re.compile(r"(?i)\b(?:tomorrow|until|till|next|by|comes?|will)\W*$")
_FORMS = tuple(
    re.compile(form, re.I)
    for form in (
        rf"\b{_LEAD}\b,? {_APPROX}{_DAY},? ?{_APPROX}{_CLOCK}(?![\d:]|\.\d)",
        rf"\b{_LEAD}\b,? {_APPROX}{_CLOCK}(?![\d:]|\.\d)(?:,? (?:on )?{_DAY})?",
        rf"\b{_DAY},? {_APPROX}{_CLOCK}(?![\d:]|\.\d)",
        rf"\b(?:since|from) {_DAY}",
    )
)


@dataclass(frozen=True)
class Began:
    """When it began, and the words that say so. `whole_day` if they name no time."""

    at: datetime
    words: str
    whole_day: bool = False


def read_began(text: str, noted: datetime, zone: tzinfo) -> Began | None:
    """When it began, if a note says so; read as of when it was `noted`, at a place in `zone`. Never after that."""
    here = noted.astimezone(zone)
    for form in _FORMS:
        for found in form.finditer(text[:4000]):
            began = _read(found, here)
            if began is not None and not _TO_COME.search(text[: found.start()]):
                return began
    return None


def _read(found: re.Match[str], here: datetime) -> Began | None:
    groups = found.groupdict()
    day = _day(groups.get("day") or "", here.date())
    if day is None:
        return None
    words = re.sub(r"\s+", " ", found[0]).strip(" ,")
    hour = groups.get("hour")
    if hour is None:
        return Began(datetime.combine(day, time(), here.tzinfo), words, whole_day=True)
    minute, half = groups.get("minute"), (groups.get("half") or "").strip().lower()
    if minute is None and not half and not re.search(r"(?i)o'clock|hours|\dh", found[0]):
        return None  # a bare number is no time
    hours = int(hour)
    if half:
        if not 1 <= hours <= 12:
            return None
        hours = hours % 12 + (12 if half[0] == "p" else 0)
    at = datetime.combine(day, time(hours, int(minute or 0)), here.tzinfo)
    if at > here and not groups.get("day"):
        at -= timedelta(days=1)
    return Began(at, words) if at <= here else None


def _day(words: str, today: date) -> date | None:
    """The day that is meant, today or before; None if there is no such day."""
    low = re.sub(r"^(?:the|on|last) (?!night)", "", words.lower())
    if low in ("", "today", "this morning", "this afternoon", "tonight"):
        return today
    if low in ("yesterday", "last night"):
        return today - timedelta(days=1)
    if low in _DAYS:
        back = (today.weekday() - _DAYS.index(low)) % 7
        return today - timedelta(days=back or (7 if "last" in words.lower() else 0))
    try:
        if re.match(r"\d{4}-", low):
            return date.fromisoformat(low)
        number, month, *year = re.sub(r"(?<=\d)(?:st|nd|rd|th)|\.", "", low).split()
        found = date(int(year[0]) if year else today.year, MONTHS[month], int(number))
    except (ValueError, KeyError):
        return None
    return found if found <= today or year else found.replace(year=today.year - 1)
