"""Clocks of desks: against counting minute by minute, over zones, holidays, summer time and pauses."""

from __future__ import annotations

import random
from datetime import UTC, date, datetime, timedelta
from zoneinfo import ZoneInfo

import pytest

from sealpacket.core.sheets.clock import covered_hours, due_at, passed, promised
from sealpacket.core.sheets.hours import is_closed_on, is_outside, read_week
from sealpacket.core.sheets.model import DAYS, Hours
from tests.some import SEED, in_batches, some_of

MINUTE = timedelta(minutes=1)
ZONES = (
    "Europe/London", "Europe/Berlin", "America/New_York", "America/Santiago", "Asia/Kolkata", "Australia/Lord_Howe",
    "Africa/Casablanca", "Pacific/Apia", "UTC",
)  # fmt: skip
CHANGES = (
    date(2026, 3, 8), date(2026, 3, 29), date(2026, 4, 5), date(2026, 9, 6), date(2026, 10, 25), date(2026, 11, 1),
    date(2026, 12, 24), date(2026, 12, 31), date(2026, 2, 14),
)  # fmt: skip
"""Days about which zones change their offset, or that are holidays."""


def drawn(number: int) -> tuple[Hours | None, datetime, list[tuple[datetime, datetime]], int]:
    """Hours, a beginning, pauses, and how many minutes are counted."""
    chance = random.Random(f"{SEED} clock {number}")
    hours = None
    if chance.random() < 0.9:
        week = {}
        for day in DAYS:
            begin, end = sorted(chance.sample(range(0, 97), 2))
            if chance.random() < 0.7 and begin < 96:
                week[day] = f"{begin // 4:02}:{begin % 4 * 15:02}-{end // 4:02}:{end % 4 * 15:02}"
        place = chance.choice(("", "", "GB", "DE-BY", "US", "CL"))
        hours = Hours(zone=chance.choice(ZONES), week=week, holidays_of=place)
    around = datetime.combine(chance.choice(CHANGES), datetime.min.time(), UTC)
    begin = around + timedelta(minutes=chance.randrange(-2 * 1440, 1440))
    pauses = []
    for _ in range(chance.randrange(4)):
        since = begin + timedelta(minutes=chance.randrange(-500, 4000))
        pauses.append((since, since + timedelta(minutes=chance.randrange(1, 900))))
    return hours, begin, pauses, chance.randrange(1, 4 * 1440)


def counts(hours: Hours | None, moment: datetime, pauses: list[tuple[datetime, datetime]]) -> bool:
    """Whether the minute that begins at a moment counts: the desk's clock shows working hours, and it is not paused."""
    if any(since <= moment < until for since, until in pauses):
        return False
    if hours is None:
        return True
    here = moment.astimezone(ZoneInfo(hours.zone))
    if is_closed_on(hours, here.date()):
        return False
    begin, end = hours.week[DAYS[here.weekday()]].split("-")
    return begin <= f"{here:%H:%M}" < end


@pytest.mark.parametrize("numbers", in_batches(some_of(range(10_000), 60), 20))
def test_clocks_are_as_counted_minute_by_minute(numbers: list[int]) -> None:
    for number in numbers:
        compare(number)


def compare(number: int) -> None:
    """Compare one drawn case with counting each of its minutes."""
    hours, begin, pauses, minutes = drawn(number)
    end = begin + timedelta(minutes=minutes)
    counted = 0
    promise = timedelta(minutes=max(1, minutes // 5))
    due = None
    for place in range(minutes):
        moment = begin + place * MINUTE
        counted += counts(hours, moment, pauses)
        if due is None and counted * MINUTE == promise:
            due = moment + MINUTE
    assert passed(hours, begin, end, pauses) == counted * MINUTE
    found = due_at(hours, begin, promise, pauses)
    assert found == due if due is not None else found is None or found > end


@pytest.mark.parametrize(
    ("text", "week"),
    [
        ("24x7", None),
        ("24 x 7", None),
        ("9x5", {"mo": "08:00-16:00"}),
        ("", {"mo": "08:00-16:00"}),
        ("Mo–Tu 08:30–17:00", {"mo": "08:30-17:00", "tu": "08:30-17:00"}),
        ("Mon - Tue 8:30-17:00", {"mo": "08:30-17:00", "tu": "08:30-17:00"}),
        ("Tu–Mo 08:30–17:00", {"mo": "08:00-16:00"}),
        ("Mo–Tu 17:00–08:30", {"mo": "08:00-16:00"}),
        ("Lu–Ma 08:30–17:00", {"mo": "08:00-16:00"}),
    ],
)
def test_hours_of_an_entitlement_are_read(text: str, week: dict[str, str] | None) -> None:
    desk = Hours(zone="Europe/Berlin", week={"mo": "08:00-16:00"}, holidays_of="DE")
    hours = covered_hours(text, desk)
    assert (hours and dict(hours.week)) == week
    if hours is not None:
        assert (hours.zone, hours.holidays_of) == ("Europe/Berlin", "DE")


def test_a_desk_that_never_works_is_never_due() -> None:
    never = Hours(zone="UTC", week={})
    assert due_at(never, datetime(2026, 12, 1, tzinfo=UTC), timedelta(minutes=1)) is None


@pytest.mark.parametrize("text", ["", "0h", "4", "4 h", "-1h", "1d", "h"])
def test_a_wrong_promise_is_refused(text: str) -> None:
    with pytest.raises(ValueError, match="write it as 30min or 4h"):
        promised(text)


def test_promises() -> None:
    assert promised("30min") == timedelta(minutes=30)
    assert promised("48h") == timedelta(hours=48)


@pytest.mark.parametrize(
    ("text", "week"),
    [
        ("on call, day and night", None),
        ("Mo–Th 9–17:30, Fr 9–15", {**dict.fromkeys(("mo", "tu", "we", "th"), "09:00-17:30"), "fr": "09:00-15:00"}),
        ("Di 8:00 bis 12", {"tu": "08:00-12:00"}),
        ("Saturday to Sunday 10 to 24:00", {"sa": "10:00-24:00", "su": "10:00-24:00"}),
    ],
)  # fmt: skip
def test_hours_as_people_write_them(text: str, week: dict[str, str] | None) -> None:
    assert read_week(text) == week


@pytest.mark.parametrize(
    "text", ["", "9x5", "Mo 8–12, Mo 13–17", "Fr–Mo 8–17", "Mo 17–8", "Mo 25–26", "weekdays"]
)
def test_hours_that_do_not_say_when_are_refused(text: str) -> None:
    with pytest.raises(ValueError, match=r"say|ends"):
        read_week(text)


@pytest.mark.parametrize(
    ("text", "zone", "moment", "outside"),
    [
        ("Mo–Fr 08:30–17:00", "Europe/London", "2026-11-30T08:29:00+00:00", True),
        ("Mo–Fr 08:30–17:00", "Europe/London", "2026-11-30T08:30:00+00:00", False),
        ("Mo–Fr 08:30–17:00", "Europe/Berlin", "2026-11-30T16:30:00+00:00", True),
        ("Mo–Fr 08:30–17:00", "Europe/London", "2026-11-29T12:00:00+00:00", True),
        ("24x7", "Europe/London", "2026-11-29T03:00:00+00:00", False),
        ("9x5", "Europe/London", "2026-11-29T03:00:00+00:00", False),
    ],
)
def test_a_moment_is_outside_hours(text: str, zone: str, moment: str, outside: bool) -> None:
    assert is_outside(text, zone, datetime.fromisoformat(moment)) is outside


def test_holidays_of_a_year_that_nobody_knows_yet_are_working_days() -> None:
    hours = Hours(zone="UTC", week={"mo": "08:00-16:00"}, holidays_of="GB")
    far = datetime(2999, 12, 23, tzinfo=UTC)
    assert due_at(hours, far, timedelta(hours=1)) is not None
