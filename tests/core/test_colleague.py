"""What a good colleague would say, what a desk wants before, the severity, the evidence, and a newer sheet."""

from __future__ import annotations

from datetime import UTC, date, datetime
from typing import Any

import pytest

from sealpacket.core.coverage import Ruling
from sealpacket.core.sheets import (
    Check,
    ExhibitState,
    Fact,
    Seen,
    Sheet,
    answers_for,
    check_packet,
    differences,
    load_sheet,
    open_again,
    severity_of,
)
from sealpacket.core.sheets.difference import dropped
from sealpacket.core.sheets.forms import Known
from sealpacket.core.sheets.hours import span_fault
from sealpacket.core.sheets.model import Hours
from sealpacket.demo.world import sheet_text

TARNFELL = load_sheet(sheet_text("tarnfell-support"))
LUMENLATHE = load_sheet(sheet_text("lumenlathe-care"))
PEOPLE: dict[str, dict[str, Any]] = {
    "marit": {"key": "marit", "name": "Marit Oswin", "mail": "m@q.example", "phone": "+441632960112", "on_call": False,
              "reach_by": "mail", "away": "", "hours": "Mo–Fr 08:30–17:00", "time_zone": "Europe/London"},
    "ines": {"key": "ines", "name": "Ines Harrowgate", "mail": "i@q.example", "phone": "+441632960114", "on_call": True,
             "reach_by": "either", "away": "2026-12-01"},
}  # fmt: skip
FULL = "Volumes answer slowly since Monday; nothing was changed before, and a restart was tried without effect."
FACTS = {
    "packet.title": "Volumes of array A are slow", "packet.note": FULL, "packet.need": "fault", "asset.serial": "TN9-44120-A", "entitlement.reference": "TSE-301877",
    "asset.product_name": "Tarnfell 9", "site.name": "Book store", "site.time_zone": "Europe/London",
    "login.name": "marit@q.example", "login.mailbox_read": "yes", "login.contracts": "T-1", "asset.registered_on": "2026-01-01",
}  # fmt: skip
ANSWERS = {"category": "volume/latency", "severity": "3", "began_at": "2026-11-23T07:40+00:00", "contact": "marit",
           "zone": "Europe/London", "symptom": FULL}  # fmt: skip
RULING = Ruling(route="support", holds=True, need="fault", day=date(2026, 11, 23), entitlement="E", contract="T-1",
                level="P", reasons=("Listed.",), passed_over=(), cures=())  # fmt: skip
LOG = ExhibitState(name="a.log", state="ready", size=1000)


def said(
    sheet: Sheet = TARNFELL, seen: Seen | None = None, ruling: Ruling = RULING, exhibits: tuple[ExhibitState, ...] = (LOG,),
    facts: dict[str, str] | None = None, **answers: str,
) -> dict[str, Check]:  # fmt: skip
    """All that is said and does not pass, by code."""
    known = {
        path: Fact(value=value, source="x") for path, value in {**FACTS, **(facts or {})}.items()
    }
    state = answers_for(sheet, {**ANSWERS, **answers}, known)
    found = check_packet(sheet, state, ruling, exhibits, PEOPLE, known, seen)
    return {check.code: check for check in found if check.level != "pass"}


def test_of_a_good_packet_a_colleague_says_nothing() -> None:
    assert said() == {}


@pytest.mark.parametrize(
    ("text", "level", "missing"),
    [
        (
            "It is broken.",
            "warn",
            ["what is seen", "since when", "what changed before", "what was tried"],
        ),
        (
            "The volumes of the catalogue answer slowly to all hosts.",
            "hint",
            ["what changed before", "what was tried"],
        ),
        ("Since Monday the volumes answer slowly, after an update.", "hint", ["what was tried"]),
        ("Volumes answer slowly since 08:40, no change before, restarted twice.", None, []),
    ],
)
def test_a_thin_description_is_told_with_what_it_lacks(
    text: str, level: str | None, missing: list[str]
) -> None:
    found = said(LUMENLATHE, facts={"packet.note": text}, what=text).get("thin")
    if level is None:
        assert found is None
    else:
        assert found is not None
        for words in missing:
            if words != "since when":
                assert words in found.sentence


@pytest.mark.parametrize(
    ("title", "empty"),
    [("Problem", True), ("urgent!", True), ("It is not working", True), ("Kiosk broken", True), ("help please", True),
     ("Volumes of array A are slow", False), ("Card reader of kiosk 2 is dead", False), ("No link", True)],
)  # fmt: skip
def test_a_title_that_says_nothing_is_told(title: str, empty: bool) -> None:
    assert ("empty-title" in said(facts={"packet.title": title})) is empty


def test_what_a_colleague_sees_beside_the_packet() -> None:
    found = said(
        seen=Seen(serial_fits="Tarnfell 4", elsewhere={"a.log": "P-0007"}, closed="Tuesday 09:00")
    )
    assert "looks like one of Tarnfell 4" in found["serial-model"].sentence
    assert "P-0007, which goes to another vendor" in found["file-of-another"].sentence
    assert found["desk-closed"].level == "hint"


def test_another_time_zone_a_contact_who_is_away_and_a_mailbox_that_nobody_reads() -> None:
    assert "Book store is in Europe/London" in said(zone="Europe/Paris")["zone"].sentence
    assert "away until 2026-12-01" in said(contact="ines")["contact-away"].sentence
    assert said(facts={"login.mailbox_read": "no"})["mailbox"].act == "use_login"


def test_a_severity_that_promises_someone_who_is_away_names_nobody_else() -> None:
    stop = said(severity="1", impact="All stands still.")["duty"]
    assert (stop.level, stop.remedy) == ("stop", "Choose a lower severity"), (
        "the one on call is away"
    )


def test_a_category_that_does_not_fit_the_kind_is_told() -> None:
    found = said(load_sheet(sheet_text("lumenlathe-care")), request="exchange")
    assert "is for return, and this packet is about: fault" in found["category-kind"].sentence


def test_a_call_where_mail_was_asked_for() -> None:
    sheet = load_sheet(sheet_text("ovenbird-support"))
    assert "wants to be written to" in said(sheet, reply_by="phone")["reach"].sentence
    assert "reach" not in said(sheet, reply_by="mail")


def test_a_call_at_a_time_at_which_nobody_is_there() -> None:
    sheet = load_sheet(sheet_text("ovenbird-support"))
    sunday, monday = (datetime(2026, 11, day, 12, tzinfo=UTC) for day in (29, 30))
    told = said(sheet, Seen(at=sunday), reply_by="phone")["contact-hours"]
    assert "Marit Oswin works Mo–Fr 08:30–17:00" in told.sentence
    assert "contact-hours" not in said(sheet, Seen(at=monday), reply_by="phone")
    assert "contact-hours" not in said(sheet, Seen(at=sunday), reply_by="mail")


@pytest.mark.parametrize(
    ("before", "facts", "ruling", "code"),
    [
        ({"requirement": "mailbox_read"}, {"login.mailbox_read": "no"}, {}, "mailbox-read"),
        ({"requirement": "contract_tied"}, {"login.contracts": "T-9"}, {}, "contract-tied"),
        (
            {"requirement": "product_registered"},
            {"asset.registered_on": ""},
            {},
            "product-registered",
        ),
        ({"requirement": "warranty_elsewhere"}, {}, {"route": "warranty"}, "warranty-elsewhere"),
        ({"requirement": "purpose", "question": "tried"}, {}, {}, "purpose"),
    ],
)
def test_what_has_to_be_so_before(
    before: dict[str, str], facts: dict[str, str], ruling: dict[str, str], code: str
) -> None:
    sheet = Sheet.model_validate(
        {**TARNFELL.model_dump(), "requirements": [{**before, "because": "They insist."}]}
    )
    broken = said(sheet, facts=facts, ruling=RULING.model_copy(update=ruling))[code]
    assert broken.level == "stop"
    assert broken.sentence.endswith("They insist.")
    assert broken.remedy
    assert code not in said(sheet, tried="A restart: no change.")


def test_a_severity_is_computed_from_two_answers() -> None:
    sheet = load_sheet(sheet_text("thornbeck-lifts"))
    facts = {"packet.need": Fact(value="fault", source="x")}
    level = {
        (inside, state): severity_of(sheet, answers_for(sheet, {"people_inside": inside, "state": state}, facts))
        for inside in ("yes", "no") for state in ("stands", "noise")
    }  # fmt: skip
    assert level == {
        ("yes", "stands"): "P1",
        ("yes", "noise"): "P1",
        ("no", "stands"): "P2",
        ("no", "noise"): "P3",
    }
    assert severity_of(sheet, answers_for(sheet, {"people_inside": "yes"}, facts)) == ""


def test_evidence_is_asked_for_by_kind_and_category() -> None:
    sheet = load_sheet(sheet_text("pellwick-intake"))
    facts = {"asset.serial": "PW-LIC-5520"}
    about = {
        "area": "backup/fails",
        "impact": "none",
        "text": FULL,
        "since": "2026-11-22T08:00+00:00",
        "version": "9.3.1",
    }
    asked = said(sheet, facts=facts, exhibits=(LOG,), **about)["evidence"]
    assert (
        asked.sentence
        == "Pellwick intake wants to see: the job log, from 12 hours before it began."
    )
    job = ExhibitState(name="Job-catalogue.log", state="ready", size=10)
    assert "evidence" not in said(sheet, facts=facts, exhibits=(job,), **about)
    assert "evidence" not in said(
        sheet, facts=facts, exhibits=(LOG,), **{**about, "area": "store/full"}
    )


def test_an_archive_is_measured_as_it_is_packed() -> None:
    big = ExhibitState(name="a.log", state="ready", size=60_000_000, packed=4_000_000)
    assert "too-large-together" not in said(LUMENLATHE, exhibits=(big,))
    assert "too-large-together" in said(
        LUMENLATHE, exhibits=(big.model_copy(update={"packed": 19_999_900}),)
    )
    assert "too-large-together" in said(
        LUMENLATHE, exhibits=(big.model_copy(update={"packed": None}),)
    )


HOURS = Hours.model_validate({
    "zone": "Europe/London", "week": {"mo": "09:00-17:30", "fr": "09:00-17:00", "sa": "00:00-24:00"},
    "holidays_of": "GB-ENG", "closed_on": ["2026-11-27"],
})  # fmt: skip


@pytest.mark.parametrize(
    ("now", "opens"),
    [
        ("2026-11-23T10:00+00:00", None),
        ("2026-11-23T08:59+00:00", "2026-11-23T09:00:00+00:00"),
        ("2026-11-23T17:30+00:00", "2026-11-28T00:00:00+00:00"),
        ("2026-11-28T23:59+00:00", None),
        ("2026-08-31T10:00+01:00", "2026-09-04T09:00:00+01:00"),
        ("2026-06-05T08:30+00:00", None),
    ],
    ids=["open", "early", "closed on Friday", "all Saturday", "a holiday", "in summer time"],
)
def test_the_hours_of_a_desk(now: str, opens: str | None) -> None:
    found = open_again(HOURS, datetime.fromisoformat(now).astimezone(UTC))
    assert (found.isoformat() if found else None) == opens


@pytest.mark.parametrize(
    ("span", "bad"),
    [("08:00-18:00", False), ("8-18", True), ("18:00-08:00", True), ("00:00-24:00", False)],
)
def test_spans_of_hours(span: str, bad: bool) -> None:
    assert span_fault(span) is bad


def test_a_newer_sheet_says_what_it_changes_and_what_cannot_stay() -> None:
    body = TARNFELL.model_dump()
    body["questions"] = [q for q in body["questions"] if q["id"] != "impact"]
    body["questions"][3]["choices"] = body["questions"][3]["choices"][:2]
    body["questions"].append(
        {"id": "room", "ask": "In which room?", "form": "text", "required": True}
    )
    body["attachments"]["max_files"] = 3
    newer = Sheet.model_validate(body)
    typed = {"impact": "All.", "severity": "4", "symptom": "Slow."}
    found = {
        (one.what, one.sentence): one.answer for one in differences(TARNFELL, newer, typed, Known())
    }
    assert found[("gone", "No longer asked: Who is hindered, and how?")] == ""
    assert found[("dropped", "What was answered cannot stay: How bad is it?")] == "4"
    assert found[("dropped", "What was answered cannot stay: Who is hindered, and how?")] == "All."
    assert ("asked", "Asked anew: In which room?") in found
    assert ("attachments", "Its limits for attachments are others.") in found
    assert sorted(dropped(newer, typed, Known())) == ["impact", "severity"]
    assert differences(TARNFELL, TARNFELL, typed, Known()) == ()
