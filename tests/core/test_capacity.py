"""Capacity: need against granted for every region, and messages of failed starts."""

from __future__ import annotations

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.capacity import Compared, LimitNow, PlanRow, compare, explain, said_limit

LIMITS = [
    LimitNow("1", "north-1", "general cores", 64, 58),
    LimitNow("2", "north-2", "general cores", 100, 10),
    LimitNow("3", "north-1", "memory cores", 32, 0),
]


def found(rows: list[PlanRow], headroom: int = 0) -> dict[tuple[str, str], Compared]:
    return {(one.region, one.resource): one for one in compare(rows, LIMITS, headroom=headroom)}


def test_rows_of_one_region_add_up_and_what_is_missing_is_asked_for_with_headroom() -> None:
    rows = [PlanRow("general cores", 2, 8, "north-1"), PlanRow("general cores", 1, 4, "north-1")]
    (one,) = compare(rows, LIMITS, headroom=20)
    assert (one.need, one.missing, one.asked) == (20, 14, 94)


def test_a_plan_for_any_region_is_compared_with_each() -> None:
    at = found([PlanRow("general cores", 10, 4)])
    assert {region: one.missing for (region, _), one in at.items()} == {"north-1": 34, "north-2": 0}


def test_of_several_failures_the_one_that_needs_most_counts() -> None:
    rows = [
        PlanRow("general cores", 10, 1, "north-2"),
        PlanRow("general cores", 60, 1, "north-2", when="north-1 lost"),
        PlanRow("general cores", 90, 1, "north-2", when="west-1 lost"),
    ]
    (one,) = compare(rows, LIMITS)
    assert (one.need, one.when, one.missing) == (100, "west-1 lost", 10)


def test_what_the_register_has_no_limit_for_is_missing_whole() -> None:
    (one,) = compare([PlanRow("fast disks", 3, 10, "east-1")], LIMITS)
    assert (one.limit, one.missing, one.asked) == (None, 30, 30)


@given(
    st.lists(
        st.builds(
            PlanRow,
            st.sampled_from(["general cores", "memory cores"]),
            st.integers(0, 500),
            st.integers(1, 64),
            st.sampled_from(["", "north-1", "north-2"]),
            st.sampled_from(["", "a", "b"]),
        ),
        max_size=30,
    )
)
def test_what_is_asked_for_always_lets_the_plan_fit(rows: list[PlanRow]) -> None:
    for one in compare(rows, LIMITS, headroom=10):
        used = one.limit.used if one.limit else 0
        granted = one.limit.granted if one.limit else 0
        assert max(granted, one.asked) >= used + one.need
        alone = [
            row.count * row.size
            for row in rows
            if row.resource == one.resource and row.region in ("", one.region)
        ]
        assert max(alone, default=0) <= one.need <= sum(alone)


@pytest.mark.parametrize(
    ("text", "row"),
    [
        ("Start failed in north-1: general-cores limit reached. Limit: 64, current usage: 58, additional required: 16.",
         PlanRow("general cores", 16, region="north-1")),
        ("QuotaError region=NORTH_2 resource=GENERAL_CORES requested 1,200 allowed 100",
         PlanRow("general cores", 1200, region="north-2")),
        ("16 general cores requested in north-1, 6 left", PlanRow("general cores", 16, region="north-1")),
    ],
)  # fmt: skip
def test_a_message_of_a_failed_start_says_what_it_needed(text: str, row: PlanRow) -> None:
    assert explain(text, LIMITS) == [row]


def test_a_message_without_number_or_limit_gives_nothing() -> None:
    assert explain("general cores are used up in north-1", LIMITS) == []
    assert explain("requested 16 of something else in north-1", LIMITS) == []


def test_a_message_tells_the_limit_and_the_use_that_its_sender_saw() -> None:
    assert said_limit("Limit: 64, current usage: 58, additional required: 16.") == (64, 58)
    assert said_limit("It did not start.") == (None, None)
