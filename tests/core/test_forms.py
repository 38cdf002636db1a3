"""The forms of answers: what each takes, what it makes of it, and what it refuses."""

from __future__ import annotations

from random import Random
from typing import Any

import pytest

from sealpacket.core.sheets import Question, answer_fault
from sealpacket.core.sheets.forms import FORMS, Known

PEOPLE = {
    "ines": {
        "name": "Ines Harrowgate",
        "mail": "ines@quillmere.example",
        "phone": "+441632960114",
        "language": "en",
    },
    "teo": {
        "name": "Teo Valcourt",
        "mail": "teo@quillmere.example",
        "phone": "+441632960113",
        "language": "en",
    },
}
KNOWN = Known(
    people=PEOPLE,
    values={"country": "US"},
    facts={"site.country": "GB", "packet.sealed_on": "2026-11-23"},
)
COLUMNS = [
    {"id": "region", "ask": "Region", "one_of": ["north-1", "west-1"]},
    {"id": "now", "ask": "Now", "number": True},
    {"id": "wanted", "ask": "Wanted", "number": True, "more_than": "now", "maximum": 90,
     "maximum_by": {"column": "region", "limits": {"west-1": 40}}},
]  # fmt: skip
CHOICES = [{"value": "a", "label": "A"}, {"value": "b", "label": "B"}, {"value": "c", "label": "C"}]


def asked(form: str, **more: Any) -> Question:
    """A question of that form."""
    needs: dict[str, Any] = {
        "rows": {"columns": COLUMNS}, "choice": {"choices": CHOICES}, "several": {"choices": CHOICES, "max_items": 2},
        "consent": {"wording": "We agree."}, "state": {"country": "country"},
        "tree": {"choices": [{"value": "top", "label": "Top", "choices": CHOICES}]},
    }.get(form, {})  # fmt: skip
    return Question.model_validate({"id": "q", "ask": "Q?", "form": form, **needs, **more})


@pytest.mark.parametrize(
    ("form", "more", "value", "says"),
    [
        ("number", {"units": ["kVA", "VA"]}, "3 kVA", None),
        ("number", {"units": ["kVA", "VA"]}, "3", "unit behind the number"),
        ("number", {"units": ["kVA", "VA"]}, "3 W", "unit behind the number"),
        ("number", {}, "3.5", None),
        ("number", {}, "3 kVA", "number alone"),
        ("number", {}, "many", "Give a number"),
        ("number", {}, "NaN", "Give a number"),
        ("number", {}, "1e999", "Give a number"),
        ("number", {"minimum": 2}, "1", "2 and more"),
        ("number", {"maximum": 5}, "6", "5 at most"),
        ("date", {}, "2026-11-23", None),
        ("date", {}, "23.11.2026", "as 2026-11-23"),
        ("date", {}, "20261123", "as 2026-11-23"),
        ("date", {"time": "future"}, "2026-11-23", None),
        ("date", {"time": "future"}, "2020-01-02", "That day is past"),
        ("date", {"time": "past"}, "2026-11-24", "still to come"),
        ("moment", {"time": "past"}, "2026-11-23T23:40+00:00", None),
        ("moment", {"time": "past"}, "2026-11-24T01:00+02:00", None),
        ("moment", {"time": "past"}, "2026-11-24T01:00+00:00", "still to come"),
        ("moment", {}, "2026-11-23T08:40+00:00", None),
        ("moment", {}, "2026-11-23T08:40", "needs its offset"),
        ("zone", {}, "Europe/London", None),
        ("zone", {}, "Europe/Quillmere", "not a time zone"),
        ("version", {}, "9.3.1", None),
        ("version", {}, "2026.2-rc1", None),
        ("version", {}, "version 9", "version alone"),
        ("version", {}, "latest", "version alone"),
        ("versions", {"components": ["agent", "server"]}, "agent: 9.3\nserver: 9.4.1", None),
        ("versions", {"components": ["agent"]}, "store: 9.3", "none of its components"),
        ("versions", {}, "agent 9.3", "component and version"),
        ("consent", {}, "yes", None),
        ("consent", {}, "maybe", "yes or no"),
        ("consent", {"must_agree": True}, "no", "Without this consent"),
        ("several", {}, "a, b", None),
        ("several", {}, "a, b, c", "the desk takes 2"),
        ("several", {}, "a, x", "not one of"),
        ("tree", {}, "top/a", None),
        ("tree", {}, "top", "not one of"),
        ("address", {}, "12 Fennel Lane\nQuillmere QM1 3FD", None),
        ("address", {}, "12 Fennel Lane", "as on an envelope"),
        ("country", {}, "GB", None),
        ("country", {}, "UK", "ISO 3166"),
        ("country", {"countries": ["GB", "IE"]}, "FR", "serves GB, IE"),
        ("state", {}, "US-OH", None),
        ("state", {}, "CA-ON", "not a state of US"),
        ("state", {"country": "site.country"}, "US-OH", "in GB has no state"),
        ("state", {"country": "nowhere"}, "US-OH", "not said yet"),
        ("phone", {}, "+441632960112", None),
        ("phone", {}, "01632 960112", "country code"),
        ("mail", {}, "someone@quillmere.example", None),
        ("mail", {}, "someone at quillmere", "mail address"),
        ("language", {}, "de-CH", None),
        ("language", {}, "english", "language tag"),
        ("language", {"languages": ["en", "cy"]}, "de", "speaks en, cy"),
        ("language", {"languages": ["en"]}, "en-GB", None),
        ("people", {"max_items": 1}, "ines", None),
        ("people", {"max_items": 1}, "ines, teo", "1 at most"),
        ("people", {}, "ines, nobody", "not a person"),
        ("people", {}, "ines, ines", "twice"),
        ("person", {}, "nobody", "not a person"),
        ("steps", {"max_items": 2}, "one\ntwo\nthree", "takes 2"),
        ("rows", {}, "north-1 | 4 | 8\nwest-1 | 1 | 40", None),
        ("rows", {}, "north-1 | 4", "has 2 columns"),
        ("rows", {}, "north-1 | 8 | 8", "not above “Now”, 8"),
        ("rows", {}, "north-1 | 8 | 91", "90 at most"),
        ("rows", {}, "west-1 | 8 | 41", "40 at most"),
        ("rows", {}, "south-1 | 1 | 2", "none of north-1"),
        ("rows", {}, "north-1 | | 2", "this is empty"),
        ("rows", {}, "north-1 | -1 | 2", "not a whole number"),
    ],
)
def test_each_form_says_what_it_wants(
    form: str, more: dict[str, Any], value: str, says: str | None
) -> None:
    fault = answer_fault(asked(form, **more), value, KNOWN)
    assert fault is None if says is None else says in (fault or "")


@pytest.mark.parametrize(
    ("form", "more", "value", "part", "taken"),
    [
        ("number", {"units": ["kVA"]}, "3 kVA", "number", 3),
        ("number", {"units": ["kVA"]}, "3 kVA", "", "3 kVA"),
        ("number", {}, "2.5", "", 2.5),
        ("moment", {}, "2026-11-23T08:40+01:00", "full", "2026-11-23T08:40:00+01:00"),
        ("moment", {}, "2026-11-23T08:40+01:00", "offset", "+01:00"),
        ("steps", {}, "1. Start it\n\n2. Stop it", "", ["Start it", "Stop it"]),
        ("steps", {}, "Set 1.5 V", "", ["Set 1.5 V"]),
        ("consent", {}, "no", "", False),
        ("several", {}, "a, c", "", ["a", "c"]),
        ("tree", {}, "top/b", "label", "Top › B"),
        ("country", {}, "GB", "alpha3", "GBR"),
        ("state", {}, "US-OH", "short", "OH"),
        ("phone", {}, "+44 1632 960112", "", "+441632960112"),
        ("phone", {}, "+441632960112", "country_code", "+44"),
        ("person", {}, "ines", "phone_country", "+44"),
        ("people", {}, "ines, teo", "mails", ["ines@quillmere.example", "teo@quillmere.example"]),
        ("versions", {}, "agent: 9.3", "", [{"component": "agent", "version": "9.3"}]),
        ("rows", {}, "north-1 | 4 | 8", "", [{"region": "north-1", "now": 4, "wanted": 8}]),
        ("language", {}, "cy", "name", "Welsh"),
    ],
)
def test_each_form_gives_its_parts(
    form: str, more: dict[str, Any], value: str, part: str, taken: Any
) -> None:
    assert FORMS[form].taken(asked(form, **more), value, KNOWN)[part] == taken
    assert part == "" or part in FORMS[form].parts


@pytest.mark.parametrize("form", sorted(FORMS))
def test_what_a_form_makes_up_can_stand(form: str) -> None:
    question = asked(form)
    for seed in range(60):
        value = FORMS[form].sample(question, Random(seed), KNOWN)
        assert answer_fault(question, value, KNOWN) is None, (form, value)


@pytest.mark.parametrize(
    "more",
    [{"form": "choice", "choices": []}, {"form": "rows", "columns": []}, {"form": "consent", "wording": ""},
     {"form": "state", "country": None}, {"form": "text", "choices": CHOICES}, {"form": "text", "wording": "x"}],
)  # fmt: skip
def test_a_question_without_what_its_form_needs_is_refused(more: dict[str, Any]) -> None:
    with pytest.raises(ValueError, match="question q"):
        Question.model_validate({"id": "q", "ask": "Q?", **more})


def test_a_tree_has_an_end() -> None:
    node: dict[str, Any] = {"value": "x", "label": "X"}
    for _ in range(12):
        node = {"value": "x", "label": "X", "choices": [node]}
    with pytest.raises(ValueError, match="deeper than"):
        asked("tree", choices=[node])
    wide = [{"value": f"v{n}", "label": "V"} for n in range(5001)]
    with pytest.raises(ValueError, match="more than 5000"):
        asked("choice", choices=wide)
