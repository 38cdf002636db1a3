"""Checks, each with its way out."""

from __future__ import annotations

from datetime import date
from typing import Any

import pytest

from sealpacket.core.coverage import Cure, Ruling
from sealpacket.core.sheets import (
    Check,
    ExhibitState,
    Fact,
    answer_fault,
    answers_for,
    check_packet,
    load_sheet,
    say_size,
)  # fmt: skip
from sealpacket.core.sheets.forms import Known
from sealpacket.demo.world import sheet_text

SHEET = load_sheet(sheet_text("tarnfell-support"))
PEOPLE: dict[str, dict[str, Any]] = {
    "marit": {"key": "marit", "name": "Marit Oswin", "phone": "+441632960112", "on_call": False},
    "ines": {"key": "ines", "name": "Ines Harrowgate", "phone": "+441632960114", "on_call": True},
    "nophone": {"key": "nophone", "name": "Nobody", "phone": None, "on_call": False},
    "local": {"key": "local", "name": "Local", "phone": "01632960114", "on_call": False},
}
for _person in PEOPLE.values():
    _person["mail"] = f"{_person['key']}@quillmere.example"
FACTS = {
    "asset.serial": Fact(value="TN9-44120-A", source="asset"),
    "entitlement.reference": Fact(value="TSE-301877", source="entitlement"),
}
GOOD = {
    "headline": "Volumes are slow",
    "kind": "FAULT",
    "category": "volume/latency",
    "severity": "3",
    "symptom": "Volumes answer slowly since this morning; nothing was changed before, and a restart was tried.",
    "began_at": "2026-11-23T07:40+00:00",
    "contact": "marit",
    "zone": "Europe/London",
}
COVERED = Ruling(
    route="support", holds=True, need="fault", day=date(2026, 11, 23), entitlement="TSE-1", contract="T-1", level="P",
    reasons=("Listed.",), passed_over=(), cures=(),
)  # fmt: skip
LOG = ExhibitState(name="a.log", state="ready", size=1000)


def check(
    ruling: Ruling | None = COVERED, exhibits: tuple[ExhibitState, ...] = (LOG,), **answers: str
) -> dict[str, Check]:
    """All checks that do not pass, by code."""
    given = {k: v for k, v in {**GOOD, **answers}.items() if v}
    found = check_packet(SHEET, answers_for(SHEET, given, FACTS), ruling, exhibits, PEOPLE)
    return {item.code: item for item in found if item.level != "pass"}


def test_a_good_packet_has_nothing_against_it() -> None:
    assert check() == {}


@pytest.mark.parametrize(
    "missing",
    ["headline", "kind", "category", "severity", "symptom", "began_at", "contact", "zone"],
)
def test_a_required_answer_that_is_missing_stops_it(missing: str) -> None:
    if missing == "kind":
        assert check(kind="")["unanswered"].target == "kind"
    else:
        stop = check(**{missing: ""})["unanswered"]
        assert (stop.level, stop.act, stop.target) == ("stop", "answer", missing)


@pytest.mark.parametrize(
    ("question", "value", "says"),
    [
        ("headline", "x", "at least 5 characters"),
        ("headline", "x" * 121, "121 characters; the desk takes 120"),
        ("symptom", "slow", "too short to help"),
        ("category", "volume", "not one of the desk's choices"),
        ("category", "volume/gone", "not one of the desk's choices"),
        ("severity", "5", "not one of the desk's choices"),
        ("began_at", "this morning", "RFC 3339"),
        ("began_at", "2026-11-23T07:40", "needs its offset"),
        ("zone", "Mars/Olympus", "not a time zone name"),
        ("contact", "someone", "not a person in the register"),
        ("contact", "nophone", "has no telephone number"),
        ("contact", "local", "not a number with a country code"),
    ],
)
def test_an_answer_of_the_wrong_form_stops_it(question: str, value: str, says: str) -> None:
    stop = check(**{question: value})["answer-form"]
    assert says in stop.sentence
    assert (stop.level, stop.target) == ("stop", question)


def test_a_severity_whose_duty_nobody_meets_names_who_could() -> None:
    stop = check(severity="1", impact="All stands still.")["duty"]
    assert "Marit Oswin is not" in stop.sentence
    assert stop.remedy == "Name Ines Harrowgate as contact"
    assert stop.target == "contact"


def test_a_contact_on_call_meets_the_duty() -> None:
    assert check(severity="1", impact="All stands still.", contact="ines") == {}


def test_where_nobody_is_on_call_a_lower_severity_is_the_remedy() -> None:
    people = {"marit": PEOPLE["marit"]}
    answers = answers_for(SHEET, {**GOOD, "severity": "1", "impact": "All."}, {})
    stop = next(
        c for c in check_packet(SHEET, answers, COVERED, (LOG,), people) if c.code == "duty"
    )
    assert (stop.remedy, stop.target) == ("Choose a lower severity", "severity")


def test_no_thing_no_packet() -> None:
    assert check(ruling=None)["no-thing"].act == "name_thing"


def test_cover_that_does_not_hold_stops_it_with_the_first_cure() -> None:
    ruling = COVERED.model_copy(update={
        "holds": False, "reasons": ("Listed.", "teo is not tied to T-1."),
        "cures": (Cure(code="use_login", sentence="Use ines.", act="use_login", target="ines"),),
    })  # fmt: skip
    stop = check(ruling=ruling)["cover"]
    assert (stop.sentence, stop.remedy, stop.act, stop.target) == (
        "teo is not tied to T-1.", "Use ines.", "use_login", "ines",
    )  # fmt: skip


@pytest.mark.parametrize(
    ("update", "code"),
    [({"route": "warranty"}, "wrong-route"), ({"need": "capacity"}, "wrong-need")],
)
def test_what_the_desk_does_not_take_stops_it(update: dict[str, Any], code: str) -> None:
    assert check(ruling=COVERED.model_copy(update=update))[code].level == "stop"


@pytest.mark.parametrize(
    ("exhibit", "code", "act"),
    [
        (ExhibitState(name="a.log", state="ready", size=0), "empty", "open_exhibit"),
        (ExhibitState(name="a.log", state="ready", size=200_000_001), "too-large", "open_exhibit"),
        (ExhibitState(name="a.exe", state="ready", size=5), "ending", "open_exhibit"),
        (ExhibitState(name="noending", state="ready", size=5), "ending", "open_exhibit"),
        (ExhibitState(name="a.log", state="ready", size=5, leaks=2), "leak", "redact"),
        (
            ExhibitState(name="a.log", state="held", size=5, reason="It is a PDF."),
            "held",
            "release_exhibit",
        ),
        (ExhibitState(name="a.log", state="failed", size=5), "failed", "redact"),
        (ExhibitState(name="a.log", state="redacting", size=5), "unfinished", "open_exhibit"),
        (ExhibitState(name="a.log", state="waiting", size=5), "unfinished", "open_exhibit"),
        (ExhibitState(name="a.log", state="receiving", size=5), "unfinished", "open_exhibit"),
    ],
    ids=lambda value: value if isinstance(value, str) else "",
)
def test_an_exhibit_that_cannot_go_stops_it(exhibit: ExhibitState, code: str, act: str) -> None:
    stop = check(exhibits=(exhibit,))[code]
    assert (stop.level, stop.act, stop.target) == ("stop", act, exhibit.name)
    assert stop.remedy


def test_a_released_exhibit_passes() -> None:
    held = ExhibitState(name="a.log", state="held", size=5, released=True)
    assert check(exhibits=(held,)) == {}


def test_endings_are_compared_without_case() -> None:
    assert check(exhibits=(ExhibitState(name="A.LOG", state="ready", size=5),)) == {}


def test_too_many_and_too_much_stop_it() -> None:
    many = tuple(ExhibitState(name=f"{n}.log", state="ready", size=60_000_000) for n in range(13))
    assert {"too-many", "too-large-together"} <= set(check(exhibits=many))


def test_a_file_of_blank_space_is_no_evidence() -> None:
    blank = LOG.model_copy(update={"blank": True})
    assert check(exhibits=(blank,))["empty"].sentence == "a.log holds nothing but blank space."
    care = load_sheet(sheet_text("lumenlathe-care"))
    facts = {"packet.need": Fact(value="fault", source="packet")}
    wanted = [
        any(item.code == "evidence" and item.level != "pass" for item in
            check_packet(care, answers_for(care, {}, facts), COVERED, (exhibit,), PEOPLE, facts))
        for exhibit in (LOG, blank)
    ]  # fmt: skip
    assert wanted == [False, True]


def test_a_purpose_is_not_missed_where_it_is_not_asked() -> None:
    cloud = load_sheet(sheet_text("hollowmere-requests"))
    missed = {}
    for need in ("capacity", "question"):
        facts = {"packet.need": Fact(value=need, source="packet")}
        ruling = COVERED.model_copy(update={"need": need})
        found = check_packet(cloud, answers_for(cloud, {}, facts), ruling, (), PEOPLE, facts)
        missed[need] = [item.level for item in found if item.code == "purpose"]
    assert missed == {"capacity": ["warn"], "question": []}


def test_a_packet_without_evidence_gets_a_hint_only() -> None:
    assert {code: item.level for code, item in check(exhibits=()).items()} == {"no-exhibit": "hint"}


def test_stops_come_first_and_passed_checks_last() -> None:
    found = check_packet(
        SHEET, answers_for(SHEET, {**GOOD, "severity": ""}, FACTS), COVERED, (), PEOPLE
    )
    levels = [item.level for item in found]
    assert levels[0] == "stop"
    assert levels == sorted(levels, key=["stop", "warn", "hint", "pass"].index)


def test_prefilled_answers_are_checked_like_typed_ones() -> None:
    facts = {**FACTS, "site.time_zone": Fact(value="Nowhere/Land", source="site")}
    answers = answers_for(SHEET, {k: v for k, v in GOOD.items() if k != "zone"}, facts)
    found = check_packet(SHEET, answers, COVERED, (LOG,), PEOPLE)
    assert [c.target for c in found if c.level == "stop"] == ["zone"]


def test_a_pattern_has_to_match_the_whole_answer() -> None:
    question = SHEET.questions[0].model_copy(update={"pattern": r"E-\d{3}"})
    assert answer_fault(question, "E-417", Known()) is None
    assert "the desk wants, such as E-" in str(answer_fault(question, "E-4177", Known()))


@pytest.mark.parametrize(
    ("size", "words"),
    [(0, "0 bytes"), (999, "999 bytes"), (30_100_000, "30.1 MB"), (2_000_000_000_000, "2000.0 GB")],
)
def test_sizes_are_said_in_decimal_units(size: int, words: str) -> None:
    assert say_size(size) == words
