"""The register beside a vendor's statement."""

from __future__ import annotations

from datetime import date
from random import Random

import pytest
from hypothesis import given
from hypothesis import strategies as st

from sealpacket.core.statement import COMPARED, CoverLine, compare, folded, likely_pairs, slips

END = date(2027, 3, 31)
SAID = frozenset(COMPARED)


def line(serial: str, contract: str = "4388", **more: object) -> CoverLine:
    return CoverLine.model_validate(
        {"serial": serial, "contract": contract, "level": "Care", "ends_on": END, **more}
    )


def sorts(
    ours: list[CoverLine], theirs: list[CoverLine], said: frozenset[str] = SAID
) -> list[tuple[str, str, list[str]]]:
    return [(one.sort, one.serial, one.fields) for one in compare(ours, theirs, said).differences]


def test_what_agrees_is_counted_and_not_told() -> None:
    same = [line("OBS4-551200"), line("OBS4-551201")]
    assert compare(same, same, SAID).model_dump() == {"agreeing": 2, "differences": []}


def test_only_ours_only_theirs_and_what_differs() -> None:
    ours = [line("OBS4-551200"), line("OBS4-551201"), line("PW-LIC-5520")]
    theirs = [
        line("OBS4-551200", level="Extended care"),
        line("OBS4-551201", ends_on=date(2026, 3, 31), site="Bellfield"),
        line("SW3K-61008"),
    ]
    assert sorts(ours, theirs) == [
        ("differs", "OBS4-551200", ["level"]), ("differs", "OBS4-551201", ["ends_on", "site"]),
        ("only_ours", "PW-LIC-5520", []), ("only_theirs", "SW3K-61008", []),
    ]  # fmt: skip


def test_a_column_that_the_statement_lacks_and_a_cell_left_empty_say_nothing() -> None:
    ours, theirs = (
        [line("A-10001", site="fennel-lane")],
        [line("A-10001", level="", site="elsewhere")],
    )
    assert sorts(ours, theirs, frozenset({"level", "ends_on"})) == []


def test_case_spaces_and_marks_do_not_make_another_serial() -> None:
    assert sorts([line("OBS4-551200")], [line("obs4 551200", level="CARE ")]) == []


def test_a_thing_on_two_contracts_is_paired_by_contract() -> None:
    ours = [line("LK40-0926", "88-4107"), line("LK40-0926", "88-2950")]
    theirs = [line("LK40-0926", "88-2950"), line("LK40-0926", "88-4600")]
    assert sorts(ours, theirs) == [("differs", "LK40-0926", ["contract"])]
    assert sorts(ours, theirs[:1]) == [("only_ours", "LK40-0926", [])]


@pytest.mark.parametrize(
    ("ours", "theirs", "words"),
    [
        ("TN9-44120-A", "TN9-4412O-A", ["character 9: the digit 0 here, the letter O there"]),
        ("LK40-7731-I1", "LK40-7731-1I", ["characters 11 and 12 are swapped: I1 here, 1I there"]),
        ("OBF2-118804", "OBF2-181804", ["characters 7 and 8 are swapped: 18 here, 81 there"]),
        ("OBF2-118804", "OBF2-11804", ["character 8, the digit 8, is missing there"]),
        ("OBF2-11804", "OBF2-118804", ["there is the digit 8 more there, before our character 8"]),
        ("SW3K-61008", "SW3K-61Q08", ["character 8: the digit 0 here, the letter Q there"]),
        ("SW3K-61008", "SW3K/61008", ["character 5: “-” here, “/” there"]),
        ("B8", "8B", ["characters 1 and 2 are swapped: B8 here, 8B there"]),
        ("SAME", "same", []),
    ],
)
def test_slips_say_which_characters(ours: str, theirs: str, words: list[str]) -> None:
    assert [slip.say() for slip in slips(ours, theirs)] == words


@pytest.mark.parametrize(
    "theirs",
    [
        "TN9-4412O-A",
        "TN9-44l20-A",
        "TN9-441Z0-A",
        "TN9-44210-A",
        "TN9-4412-A",
        "TN9-441200-A",
        "TN9-44620-A",
        "TN9-4A120-A",
    ],
)
def test_a_mistyped_serial_is_one_difference_not_two(theirs: str) -> None:
    [found] = compare([line("TN9-44120-A")], [line(theirs)], SAID).differences
    assert (found.sort, found.serial, len(found.slips)) == ("mistyped", "TN9-44120-A", 1)
    assert found.theirs is not None and found.theirs.serial == theirs


def test_serials_that_count_up_are_not_taken_for_mistyped_ones() -> None:
    ours = [line("OBS4-551200"), line("OBS4-551201")]
    theirs = [line("OBS4-551202"), line("OBS4-551203")]
    assert {sort for sort, _, _ in sorts(ours, theirs)} == {"only_ours", "only_theirs"}
    assert (
        sorts([line("OBS4-551200", product="S48")], [line("OBS4-551202", product="F220")])[0][0]
        == "only_ours"
    )


def test_a_serial_that_both_sides_have_is_never_taken_for_another() -> None:
    ours = [line("OBS4-551200"), line("OBS4-55120O")]
    assert sorts(ours, [line("OBS4-551200")]) == [("only_ours", "OBS4-55120O", [])]


def test_a_serial_of_a_thing_that_we_have_is_not_taken_for_a_mistyped_one() -> None:
    ours, theirs = [line("LK40-7731-0930")], [line("LK40-7731-0931")]
    assert [sort for sort, _, _ in sorts(ours, theirs)] == ["mistyped"]
    found = compare(ours, theirs, SAID, known={"LK4077310931"}).differences
    assert [one.sort for one in found] == ["only_ours", "only_theirs"]


def test_one_line_of_a_thing_may_be_mistyped_while_another_is_right() -> None:
    ours = [line("LK40-7731-0928", "88-4107"), line("LK40-7731-0928", "88-2950")]
    theirs = [line("LK40-7731-O928", "88-4107"), line("LK40-7731-0928", "88-2950")]
    [found] = compare(ours, theirs, SAID).differences
    assert (found.sort, found.serial) == ("mistyped", "LK40-7731-0928")
    assert found.say("your") == (
        "On the thing stands LK40-7731-0928, on your statement LK40-7731-O928: "
        "character 11: the digit 0 on the thing, the letter O on your statement."
    )


def test_what_ended_with_us_is_only_told_where_the_vendor_says_otherwise() -> None:
    over = line("SW3K-61008", ends_on=date(2026, 1, 31))
    assert compare([over], [], SAID, day=date(2026, 11, 23)).differences == []
    [found] = compare([over], [line("SW3K-61008")], SAID, day=date(2026, 11, 23)).differences
    assert (
        found.say()
        == "SW3K-61008: end of cover: 2026-01-31 by our records, 2027-03-31 on their statement."
    )


def test_look_alikes_go_before_other_slips() -> None:
    ours = [line("AB-10007"), line("AB-1000Z")]
    theirs = [line("AB-10002")]
    assert [(one.serial, other.serial) for one, other in likely_pairs(ours, theirs)] == [
        ("AB-1000Z", "AB-10002")
    ]


serials = st.lists(
    st.text("ABO01IL58-", min_size=5, max_size=9).filter(lambda text: text.strip("-")),
    max_size=12,
    unique_by=lambda text: text.replace("-", ""),
)


@given(serials, serials, st.randoms(use_true_random=False))
def test_the_order_of_rows_changes_nothing_and_no_line_is_lost(
    mine: list[str], yours: list[str], random: Random
) -> None:
    ours, theirs = [line(serial) for serial in mine], [line(serial) for serial in yours]
    found = compare(ours, theirs, SAID)
    told_ours = [one.ours.serial for one in found.differences if one.ours] + []
    told_theirs = [one.theirs.serial for one in found.differences if one.theirs]
    assert len(told_ours) == len(set(told_ours)) == len(mine) - found.agreeing
    assert len(told_theirs) == len(set(told_theirs)) == len(yours) - found.agreeing
    random.shuffle(ours)
    random.shuffle(theirs)
    assert compare(ours, theirs, SAID) == found


@given(st.text("AB01OI", max_size=8), st.text("AB01OI", max_size=8))
def test_slips_are_as_many_from_either_side_and_none_for_the_same(one: str, other: str) -> None:
    assert len(slips(one, other)) == len(slips(other, one))
    assert (not slips(one, other)) == (one == other)
    assert folded(folded(one)) == folded(one)
