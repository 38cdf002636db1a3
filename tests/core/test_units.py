"""Prepaid units: cost, lots, and what lapses."""

from __future__ import annotations

from datetime import date, timedelta

from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.units import Cost, ItemPrice, LotLeft, cost_of, take, will_lapse

TODAY = date(2026, 11, 2)
EARLY = LotLeft("a", "A", 3, date(2026, 1, 1), date(2026, 12, 1))
LATE = LotLeft("b", "B", 10, date(2026, 6, 1), date(2027, 6, 1))
VISIT = ItemPrice("visit", "A visit", 2, ("GB",), "in_hours", frozenset(range(5)), 5, 10)


def cost(quantity: int = 1, on: date | None = None, country: str = "GB") -> Cost:
    return cost_of(VISIT, quantity, on, [LATE, EARLY], TODAY, country)


def test_units_come_from_the_lot_that_lapses_first() -> None:
    found = cost(3, date(2026, 11, 10))
    assert (found.units, found.short, found.faults) == (6, 0, ())
    assert [(one.lot.reference, one.units) for one in found.taken] == [("A", 3), ("B", 3)]


def test_a_lot_that_has_lapsed_by_the_wished_day_is_not_used() -> None:
    assert [one.lot.reference for one in cost(1, date(2026, 12, 8)).taken] == ["B"]


def test_what_is_missing_is_said() -> None:
    assert cost(10, date(2026, 11, 10)).short == 7


def test_each_reason_why_it_cannot_be_had_is_said() -> None:
    assert "past" in cost(1, TODAY - timedelta(days=1)).faults[0]
    assert "2026-11-07" in cost(1, TODAY + timedelta(days=2)).faults[0]
    assert "Saturday" in cost(1, date(2026, 11, 14)).faults[0]
    assert "in DE" in cost(1, date(2026, 11, 10), "DE").faults[0]
    assert "at most 10" in cost(11).faults[0]
    assert "at least" in cost(0).faults[0]


def test_what_will_lapse_follows_from_the_use_of_the_last_year() -> None:
    assert will_lapse([EARLY, LATE], 0, TODAY) == {"a": 3, "b": 10}
    assert will_lapse([EARLY, LATE], 13, TODAY) == {"a": 2, "b": 4}
    assert will_lapse([EARLY, LATE], 365, TODAY) == {"a": 0, "b": 0}


lots = st.lists(
    st.builds(
        LotLeft,
        st.uuids().map(str),
        st.text("ABC", min_size=1, max_size=3),
        st.integers(0, 50),
        st.dates(date(2026, 1, 1), date(2026, 11, 30)),
        st.dates(date(2026, 10, 1), date(2028, 1, 1)),
    ),
    max_size=8,
)


@given(lots, st.integers(0, 200), st.dates(TODAY, date(2027, 12, 31)))
def test_no_lot_gives_more_than_it_has_and_nothing_is_lost(
    them: list[LotLeft], units: int, on: date
) -> None:
    taken, short = take(units, them, TODAY, on)
    assert sum(one.units for one in taken) + short == units
    assert all(0 < one.units <= one.lot.left and on <= one.lot.lapses_on for one in taken)
    days = [one.lot.lapses_on for one in taken]
    assert days == sorted(days)
    if short:
        usable = [one for one in them if one.bought_on <= TODAY and max(on, TODAY) <= one.lapses_on]
        assert sum(one.left for one in usable) == units - short
