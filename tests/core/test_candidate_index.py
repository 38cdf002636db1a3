"""The index of candidates: the few entitlements that concern a thing, found without reading all of them."""

from __future__ import annotations

from datetime import timedelta

import pytest

from sealpacket.core.coverage import Candidate, CandidateIndex, Carrier, Login, Thing, replay, rule
from sealpacket.core.coverage.ruling import touches
from tests.core.test_ruling import KIOSK, PART, SOFTWARE, TODAY, candidate, listing, question


def many(number: int) -> tuple[str, ...]:
    """So many serials, the kiosk's among them."""
    return (*(f"LK40-{n:05d}" for n in range(number)), "LK40-0926")


def test_of_a_long_list_only_what_matters_is_stored() -> None:
    rows = [
        candidate(serials=many(5000), models=("LK-40",)),
        candidate(entitlement="OTHER", serials=many(3000)[:-1]),
    ]
    basis = CandidateIndex(rows).basis(question(), KIOSK)
    assert [item.serials for item in basis.candidates] == [("LK40-0926",)]
    assert replay(basis) == rule(question(), KIOSK, rows)


def test_a_thing_in_a_thing_keeps_both_serials() -> None:
    row = candidate(serials=("CH-1", "LK40-0926", "X-1", "X-2"))
    (kept,) = CandidateIndex([row]).for_thing(PART, TODAY, "fault")
    assert set(kept.serials) == {"CH-1", "LK40-0926"}


def test_dated_listings_of_others_are_left_out() -> None:
    other = listing(from_on=TODAY).model_copy(update={"serial": "X-1"})
    row = candidate(serials=("X-2", "X-3"), listings=(listing(until_on=TODAY), other))
    (kept,) = CandidateIndex([row]).for_thing(KIOSK, TODAY, "fault")
    assert ([item.serial for item in kept.listings], kept.serials) == (["LK40-0926"], ())


def test_what_was_emptied_covers_nothing() -> None:
    emptied = candidate(serials=(), everything=False)
    assert list(touches(KIOSK, emptied)) == []
    assert CandidateIndex([emptied]).rule(question(), KIOSK).route == "none"


@pytest.mark.parametrize(
    ("changes", "is_near"),
    [
        ({}, True), ({"ends_on": TODAY - timedelta(1)}, False), ({"starts_on": TODAY + timedelta(1)}, False),
        ({"needs": ("question",)}, False), ({"models": ("BS-8",)}, False), ({"replaced_on": TODAY}, False),
    ],
)  # fmt: skip
def test_near_is_what_runs_serves_and_lists_the_model(
    changes: dict[str, object], is_near: bool
) -> None:
    row = candidate(**{"serials": ("LK40-0001", "LK40-0002"), "models": ("LK-40",), **changes})
    ruling = CandidateIndex([row]).rule(question(), KIOSK)
    assert ([cure.act for cure in ruling.cures] == ["list_serial"]) is is_near


def test_the_best_of_several_near_ones_is_named() -> None:
    rows = [
        candidate(
            contract=contract,
            entitlement=contract,
            serials=("LK40-0001",),
            models=("LK-40",),
            rank=rank,
        )
        for contract, rank in (("A", 5), ("B", 20), ("C", 20))
    ]
    assert (
        "Contract B covers others" in CandidateIndex(rows).rule(question(), KIOSK).cures[0].sentence
    )


def test_what_concerns_it_already_is_not_near() -> None:
    row = candidate(models=("LK-40",), sites=("elsewhere",))
    assert [cure.act for cure in CandidateIndex([row]).rule(question(), KIOSK).cures] == []


@pytest.mark.parametrize(
    ("thing", "distances"),
    [(KIOSK, [0, 1, 4]), (PART, [0, 1, 2, 3, 4]), (SOFTWARE, [4]),
     (Thing(vendor="v", product="LK-40", product_name="Lending kiosk"), [1, 4])],
)  # fmt: skip
def test_the_more_directly_it_concerns_a_thing_the_sooner_it_is_told(
    thing: Thing, distances: list[int]
) -> None:
    row = candidate(serials=("LK40-0926", "CH-1"), products=("LK-40", "CH"), everything=True)
    assert [way.distance for way in touches(thing, row)] == distances


def test_carriers_of_carriers_are_reached_through_all_between() -> None:
    chain = (
        Carrier(serial="H-1", product="H", product_name="Host", how="software"),
        Carrier(serial="R-1", product="R", product_name="Rack"),
    )
    thing = SOFTWARE.model_copy(update={"carriers": chain})

    def beyond(reach: tuple[str, ...]) -> str:
        (way,) = touches(thing, candidate(serials=("R-1",), reach=reach))
        return way.beyond

    assert [beyond(()), beyond(("parts",)), beyond(("software",)), beyond(("software", "parts"))] == [
        "software", "software", "parts", "",
    ]  # fmt: skip


def test_two_versions_of_equal_weight_are_told_apart_by_their_first_day() -> None:
    rows = [candidate(starts_on=TODAY - timedelta(days=days)) for days in (30, 10)]
    asked = question(login=Login(name="ines", tied=("88-4107",)))
    forwards, backwards = rule(asked, KIOSK, rows), rule(asked, KIOSK, rows[::-1])
    assert forwards == backwards
    assert [item.code for item in forwards.passed_over] == ["weaker"]


def test_a_ruling_from_the_index_is_the_same_with_and_without_candidates_at_hand() -> None:
    rows: list[Candidate] = [
        candidate(serials=many(200)),
        candidate(entitlement="P", serials=(), products=("LK-40",)),
    ]
    index = CandidateIndex(rows)
    assert index.rule(question(), KIOSK) == index.rule(question(), KIOSK, index.concerned(KIOSK))
