"""Money: whole minor units of an ISO 4217 currency."""

from __future__ import annotations

import calendar
from datetime import date, timedelta

_DIGITS = {"JPY": 0, "KRW": 0, "CLP": 0, "ISK": 0, "VND": 0, "BHD": 3, "KWD": 3, "OMR": 3, "TND": 3}


def minor_digits(currency: str) -> int:
    """How many digits the minor unit of a currency has: 2, but for a few (ISO 4217)."""
    return _DIGITS.get(currency, 2)


def to_minor(amount: float, currency: str) -> int:
    """An amount in major units as minor ones, rounded to the nearest."""
    digits = minor_digits(currency)
    return round(amount * 10.0**digits)


def say_money(minor: int | None, currency: str | None) -> str:
    """An amount as people read it, with its currency; nothing if it is not known."""
    if minor is None or not currency:
        return ""
    digits = minor_digits(currency)
    return f"{minor / 10**digits:,.{digits}f} {currency}"


def months_between(first: date, last: date) -> float:
    """How many months two days (both included) span, the last one by its days."""
    end = last + timedelta(days=1)
    whole = (end.year - first.year) * 12 + end.month - first.month
    anchor = _months_later(first, whole)
    if anchor > end:
        whole -= 1
        anchor = _months_later(first, whole)
    month = (_months_later(first, whole + 1) - anchor).days
    return max(0.0, whole + (end - anchor).days / month)


def _months_later(day: date, months: int) -> date:
    year, month = divmod(day.year * 12 + day.month - 1 + months, 12)
    last = calendar.monthrange(year, month + 1)[1]
    return day.replace(year=year, month=month + 1, day=min(day.day, last))
