"""Looking ahead: days without cover, and one end for several contracts."""

from __future__ import annotations

from datetime import date, timedelta

import pytest
from hypothesis import given

from sealpacket.core.coverage import Candidate, Extension, Term, Thing, align, gaps, timeline
from sealpacket.core.money import minor_digits, say_money, to_minor
from tests.core.test_ruling import KIOSK, TODAY, candidate, candidates, listing, question, things

YEAR_END = date(2027, 11, 22)


@pytest.mark.parametrize(
    ("rows", "expected"),
    [
        ((), [(TODAY, YEAR_END)]),
        ((candidate(ends_on=YEAR_END),), []),
        ((candidate(ends_on=date(2026, 12, 31)),), [(date(2027, 1, 1), YEAR_END)]),
        ((candidate(ends_on=date(2026, 12, 31), grace_days=10),), [(date(2027, 1, 11), YEAR_END)]),
        ((candidate(ends_on=date(2026, 12, 31)), candidate(entitlement="B", starts_on=date(2027, 2, 1), ends_on=YEAR_END)),
         [(date(2027, 1, 1), date(2027, 1, 31))]),
        ((candidate(ends_on=YEAR_END, serials=(), listings=(listing(until_on=date(2027, 3, 31)),)),),
         [(date(2027, 4, 1), YEAR_END)]),
        ((candidate(ends_on=YEAR_END, needs=("question",)),), [(TODAY, YEAR_END)]),
        ((candidate(ends_on=YEAR_END, sites=("elsewhere",)),), [(TODAY, YEAR_END)]),
        ((candidate(ends_on=YEAR_END, replaced_on=date(2027, 6, 1)),), [(date(2027, 6, 1), YEAR_END)]),
    ],
)  # fmt: skip
def test_gaps(rows: tuple[Candidate, ...], expected: list[tuple[date, date]]) -> None:
    assert gaps(KIOSK, rows, "fault", TODAY, YEAR_END) == expected


@given(candidates, things)
def test_a_gap_is_every_day_that_the_timeline_calls_uncovered(
    rows: list[Candidate], thing: Thing
) -> None:
    start, end = date(2026, 9, 20), date(2027, 2, 20)
    spans = timeline(question(day=start), lambda _day: thing, tuple(rows), end)
    bare = {s.starts_on + timedelta(n) for s in spans if s.route == "none" for n in range(s.days)}
    found = gaps(thing, rows, "fault", start, end)
    assert {
        first + timedelta(n) for first, last in found for n in range((last - first).days + 1)
    } == bare


def test_one_end_is_reached_pro_rata_by_day() -> None:
    terms = [
        Term("B", date(2026, 1, 1), date(2026, 12, 31), 36500), Term("A", date(2026, 1, 1), date(2026, 12, 31), None),
        Term("C", date(2026, 3, 1), date(2027, 2, 28), 36500),
    ]  # fmt: skip
    assert align(terms, date(2027, 1, 31)) == [
        Extension("A", date(2026, 12, 31), 31, None), Extension("B", date(2026, 12, 31), 31, 3100),
    ]  # fmt: skip


def test_half_a_penny_goes_up() -> None:
    two_days = Term("A", date(2026, 1, 1), date(2026, 1, 2), 1)
    assert align([two_days], date(2026, 1, 3))[0].cost_minor == 1


@pytest.mark.parametrize(
    ("minor", "currency", "said"),
    [
        (1184000, "GBP", "11,840.00 GBP"),
        (500, "JPY", "500 JPY"),
        (1500, "KWD", "1.500 KWD"),
        (None, "GBP", ""),
        (1, None, ""),
    ],
)
def test_money_is_said_in_its_own_units(minor: int | None, currency: str | None, said: str) -> None:
    assert say_money(minor, currency) == said


def test_amounts_become_minor_units() -> None:
    assert [to_minor(11.84, "GBP"), to_minor(11.84, "JPY"), to_minor(0.29 * 100, "GBP")] == [
        1184,
        12,
        2900,
    ]
    assert minor_digits("XXX") == 2
