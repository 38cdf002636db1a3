"""From the numbers of a date, as written, to a day: which of them is the day, and which year is meant."""

from __future__ import annotations

from collections.abc import Sequence
from datetime import date, timedelta
from itertools import pairwise

from sealpacket.core.evidence.times.stamps import Stamp

ORDERS = {
    "ymd": ("ymd",), "year-named": ("ymd",), "digits": ("ymd",), "six": ("ymd",), "named": ("dmy",),
    "month": ("mdy",), "level": ("md",), "pair": ("md", "dm"), "num": ("dmy", "mdy", "ymd"),
}  # fmt: skip
"""Possible orders of year, month and day in a family, the likelier first."""
_SERIAL_START = date(1899, 12, 30)


def day_of(stamp: Stamp, order: str, year: int | None = None) -> date | None:
    """The day of a stamp in this order, with `year` if it has none; None if there is no such day."""
    if stamp.family == "serial":
        return _SERIAL_START + timedelta(days=stamp.parts[0])
    if stamp.family == "ordinal":
        first, day = date(stamp.parts[0], 1, 1), stamp.parts[1]
        found = first + timedelta(days=day - 1) if day else None
        return found if found is not None and found.year == first.year else None
    parts = dict(zip(order, stamp.parts, strict=False))
    years = parts.get("y", year)
    if years is None or "m" not in parts or "d" not in parts:
        return None
    if "y" in parts and years < 100:
        years += 2000
    try:
        return date(years, parts["m"], parts["d"])
    except ValueError:
        return None


def tells_year(stamp: Stamp) -> bool:
    """Whether a stamp says which year it is, or needs none: it counts from a moment that is known."""
    return len(stamp.parts) == 3 or stamp.family in ("serial", "ordinal", "epoch", "boot")


def order_of(stamps: Sequence[Stamp], near: date) -> tuple[str, bool]:
    """The order of year, month and day in these stamps, and whether another one would fit as well.

    In the right one all are days that there are, the days go on slowly, and none is far in the future.
    """
    family = stamps[0].family
    possible = ORDERS.get(family, ("",))
    if family == "num" and any(stamp.parts[2] > 99 for stamp in stamps):
        possible = ("dmy", "mdy")
    if stamps[0].separator == "/" and any(stamp.halves for stamp in stamps):
        possible = tuple(sorted(possible, key=lambda one: one != "mdy"))
    if len(possible) == 1:
        return possible[0], False
    rated = [(_strain(stamps, order, near), place) for place, order in enumerate(possible)]
    best, place = min(rated)
    return possible[place], sum(strain[:3] == best[:3] for strain, _ in rated) > 1


def _strain(stamps: Sequence[Stamp], order: str, near: date) -> tuple[int, int, int, int]:
    """How little sense an order makes: days that there are not, days to come, jumps from one line to the next, and
    how long ago the last would be."""
    days = [day_of(stamp, order, near.year) for stamp in stamps]
    known = [day for day in days if day is not None]
    missing = len(days) - len(known)
    steps = [abs((b - a).days) for a, b in pairwise(known)]
    ago = abs((near - known[-1]).days) if known else 0
    if not tells_year(stamps[0]):
        return missing, 0, sum(map(_around, steps)), _around(ago)
    future = sum(day > near + timedelta(days=2) for day in known)
    return missing, future, sum(min(step, 366) for step in steps), ago


def _around(days: int) -> int:
    """Days between two dates without a year: a new year begins between December and January."""
    return min(days % 365, 365 - days % 365)
