"""Prepaid units: what a request costs, from which lots it is taken, and what will lapse unused."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import date, timedelta

MOST = 1_000_000
"""Maximum number of pieces of one request."""


@dataclass(frozen=True)
class LotLeft:
    """A lot with the units of it that are neither used nor held; `lapses_on` is its last day."""

    id: str
    reference: str
    left: int
    bought_on: date
    lapses_on: date


@dataclass(frozen=True)
class ItemPrice:
    """The price of one piece in units, when and where; `weekdays` (Monday: 0) are those of its hours."""

    item: str
    name: str
    units: int
    countries: Sequence[str] = ()
    during: str = "any"
    weekdays: frozenset[int] = frozenset()
    notice_days: int = 0
    most: int | None = None


@dataclass(frozen=True)
class Taking:
    """Units to be taken of a lot."""

    lot: LotLeft
    units: int


@dataclass(frozen=True)
class Cost:
    """The cost of a request. `short` units are missing; `faults` say why it cannot be had so."""

    units: int
    taken: tuple[Taking, ...] = ()
    short: int = 0
    faults: tuple[str, ...] = ()


def cost_of(
    price: ItemPrice,
    quantity: int,
    on: date | None,
    lots: Iterable[LotLeft],
    today: date,
    country: str = "",
) -> Cost:
    """The cost of a quantity of an item on a day (None: today), and the lots that it is taken from."""
    units = price.units * quantity
    faults = tuple(_faults(price, quantity, on, today, country))
    taken, short = take(units, lots, today, on)
    return Cost(units, taken, short, faults)


def _faults(
    price: ItemPrice, quantity: int, on: date | None, today: date, country: str
) -> Iterable[str]:
    if quantity < 1:
        yield f"{price.name}: ask for one at least."
    if price.most is not None and quantity > price.most:
        yield f"{price.name}: at most {price.most} at once can be had."
    if country and price.countries and country not in price.countries:
        yield f"{price.name} cannot be had in {country}, only in {', '.join(price.countries)}."
    if on is None:
        return
    if on < today:
        yield f"The wished day {on.isoformat()} is past."
    elif on < (first := today + timedelta(days=price.notice_days)):
        yield (
            f"{price.name} wants {price.notice_days} days of notice: "
            f"{first.isoformat()} is the first day on which it can be had."
        )
    if price.during == "in_hours" and price.weekdays and on.weekday() not in price.weekdays:
        yield f"{price.name} can be had within its hours only, and {on:%A} is not among them."


def take(
    units: int, lots: Iterable[LotLeft], today: date, on: date | None = None
) -> tuple[tuple[Taking, ...], int]:
    """Units from the lots that can be used on a day, the one that lapses first first; and how many are missing."""
    day, missing, taken = on or today, units, []
    for lot in sorted(lots, key=lambda one: (one.lapses_on, one.bought_on, one.reference)):
        if missing <= 0:
            break
        if lot.left > 0 and lot.bought_on <= today <= lot.lapses_on and day <= lot.lapses_on:
            part = min(lot.left, missing)
            taken.append(Taking(lot, part))
            missing -= part
    return tuple(taken), max(0, missing)


def will_lapse(lots: Iterable[LotLeft], used_in_a_year: int, today: date) -> dict[str, int]:
    """By lot, the units that will lapse unused if they go on being used as in the last year."""
    open_lots = sorted(
        (one for one in lots if one.left > 0 and one.lapses_on >= today),
        key=lambda one: (one.lapses_on, one.bought_on, one.reference),
    )
    lapsing, spent = {}, 0
    for lot in open_lots:
        until = used_in_a_year * ((lot.lapses_on - today).days + 1) // 365
        usable = min(lot.left, max(0, until - spent))
        spent += usable
        lapsing[lot.id] = lot.left - usable
    return lapsing
