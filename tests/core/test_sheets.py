"""The sheet language: reading, conditions, prefill, writing, and reading replies."""

from __future__ import annotations

import json
from typing import Any

import pytest
import yaml
from jsonschema import Draft202012Validator
from pydantic import TypeAdapter

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import (
    Condition,
    Fact,
    Sheet,
    answers_for,
    holds,
    load_sheet,
    read_case,
    read_reference,
    read_refusals,
    render,
    sheet_schema,
)
from sealpacket.core.sheets.bodies import Group
from sealpacket.demo.world import sheet_text

TARNFELL = load_sheet(sheet_text("tarnfell-support"))

BODY: TypeAdapter[Any] = TypeAdapter(Group)

SMALL: dict[str, Any] = {
    "sheet": 2,
    "desk": "small-desk",
    "vendor": "small",
    "name": "Small desk",
    "kinds": [{"need": "fault", "routes": ["support"]}],
    "questions": [{"id": "what", "ask": "What?", "form": "text"}],
    "write": {"format": "json", "body": {"what": {"take": "answers.what"}}},
    "send": {
        "channel": "http", "lodge": "/a", "follow": "/a/{reference}", "answer": "/a/{reference}/m",
        "answer_body": {"t": {"take": "message.text"}},
    },
    "replies": {
        "reference": "$.ref", "status": "$.state", "statuses": {"done": "settled"},
        "messages": {"list": "$.m[*]", "id": "$.id", "text": "$.text", "at": "$.at", "asks": "$.asks"},
        "refusals": {"list": "$.errors[*]", "code": "$.code", "text": "$.text",
                     "remedies": {"late": {"remedy": "Be earlier.", "act": "reopen"}}},
    },
}  # fmt: skip


def small(**changes: Any) -> Sheet:
    """The small sheet with changes."""
    return load_sheet(json.dumps({**SMALL, **changes}))


def test_the_demo_sheet_is_valid_and_fits_its_published_schema() -> None:
    Draft202012Validator(sheet_schema()).validate(yaml.safe_load(sheet_text("tarnfell-support")))
    assert TARNFELL.desk == "tarnfell-support"
    assert len(TARNFELL.questions) == 13


def test_a_sheet_survives_being_stored() -> None:
    assert Sheet.model_validate(TARNFELL.model_dump(mode="json")) == TARNFELL


@pytest.mark.parametrize(
    ("changes", "says"),
    [
        ({"desk": "No Good"}, "desk"),
        ({"sheet": 1}, "the language is version 2"),
        ({"colour": "red"}, "colour"),
        ({"kinds": [{"need": "fault", "routes": ["magic"]}]}, "kinds.0.routes.0"),
        ({"questions": [{"id": "a", "ask": "A?", "form": "choice"}]}, "the form choice needs choices"),
        ({"questions": [{"id": "a", "ask": "A?", "form": "text", "choices": [{"value": "x", "label": "X"}]}]},
         "choices belongs to choice, several and tree"),
        ({"questions": [{"id": "a", "ask": "A?", "form": "text"}] * 2}, "Two questions are called a"),
        ({"questions": [{"id": "what", "ask": "?", "form": "text", "shown": {"question": "b", "answered": True}}]},
         "looks at b"),
        ({"split": {"question": "missing", "label": "x"}}, "names missing"),
        ({"send": {**SMALL["send"], "lodge": "http://elsewhere.example/"}}, "send.lodge"),
        ({"send": {**SMALL["send"], "channel": "pigeon"}}, "send"),
        ({"write": {"format": "mail", "subject": "x", "body": {"x": "y"}}}, "The channel http writes json or form or xml"),
        ({"attachments": {"max_files": -1}}, "attachments.max_files"),
    ],
)  # fmt: skip
def test_a_faulty_sheet_is_refused_with_the_place(changes: dict[str, Any], says: str) -> None:
    with pytest.raises(Invalid) as caught:
        small(**changes)
    assert says in f"{caught.value.detail} {caught.value.remedy}"
    assert caught.value.remedy


@pytest.mark.parametrize(
    ("text", "code"),
    [
        ("a: [1", "sheet-yaml"),
        ("a: &x [1]\nb: *x\n", "sheet-alias"),
        ("a: !!python/object/apply:os.system ['true']\n", "sheet-yaml"),
        ("just text", "sheet-shape"),
        ("", "sheet-shape"),
        ("x: " + "y" * (1 << 20), "sheet-too-large"),
        ("[" * 100_000, "sheet-nested"),
        ("{a: " * 20_000, "sheet-nested"),
        ("- " * 50_000, "sheet-nested"),
        ("? " * 5_000, "sheet-yaml"),
        ("a: 1\n---\nb: 2", "sheet-yaml"),
        ("x: " + "9" * 100_000, "sheet-shape"),
        ("x: 2026-99-99", "sheet-shape"),
        ("a: !!binary aGVsbG8=", "sheet-yaml"),
        ("? [a, b]\n: c", "sheet-yaml"),
    ],
)
def test_hostile_text_does_no_harm(text: str, code: str) -> None:
    with pytest.raises(Invalid) as caught:
        load_sheet(text)
    assert caught.value.code == code


@pytest.mark.parametrize(
    ("condition", "values", "expected"),
    [
        ({"question": "a", "one_of": ["1", "2"]}, {"a": "2"}, True),
        ({"question": "a", "one_of": ["1"]}, {"a": "2"}, False),
        ({"question": "a", "one_of": ["1"]}, {}, False),
        ({"question": "a", "one_of": ["volume"]}, {"a": "volume/latency"}, True),
        ({"question": "a", "one_of": ["vol"]}, {"a": "volume/latency"}, False),
        ({"question": "a", "answered": True}, {"a": "x"}, True),
        ({"question": "a", "answered": False}, {}, True),
        (
            {"all": [{"question": "a", "answered": True}, {"question": "b", "answered": True}]},
            {"a": "x"},
            False,
        ),
        (
            {"any": [{"question": "a", "answered": True}, {"question": "b", "answered": True}]},
            {"a": "x"},
            True,
        ),
        ({"none": [{"question": "a", "one_of": ["x"]}]}, {"a": "y"}, True),
        ({"none": [{"question": "a", "one_of": ["y"]}]}, {"a": "y"}, False),
        (True, {}, True),
        (False, {"a": "x"}, False),
    ],
)
def test_conditions(condition: Any, values: dict[str, str], expected: bool) -> None:
    parsed = condition if isinstance(condition, bool) else Condition.model_validate(condition)
    assert holds(parsed, values) is expected


FACTS = {
    "packet.title": Fact(value="Slow volumes", source="the packet's title"),
    "packet.need": Fact(value="fault", source="the packet's kind of need"),
    "asset.software_version": Fact(value="7.4.2", source="asset TN9"),
    "login.person": Fact(value="marit", source="the person behind marit"),
    "site.contact": Fact(value="ines", source="site Book store"),
}


def state(typed: dict[str, str], facts: dict[str, Fact] | None = None) -> dict[str, Any]:
    """The answers to Tarnfell's questions by name."""
    return {a.question: a for a in answers_for(TARNFELL, typed, FACTS if facts is None else facts)}


def test_the_register_answers_with_its_source() -> None:
    answers = state({})
    assert (answers["release"].value, answers["release"].source) == ("7.4.2", "asset TN9")
    assert answers["kind"].value == "FAULT"
    assert answers["contact"].value == "marit"
    assert not answers["release"].typed


def test_what_a_person_typed_goes_first_and_an_empty_answer_goes_back() -> None:
    assert (
        state({"release": "8.0"})["release"].value,
        state({"release": "8.0"})["release"].typed,
    ) == ("8.0", True)
    assert state({"release": "  "})["release"].value == "7.4.2"


def test_the_next_source_serves_where_the_first_has_nothing() -> None:
    facts = {k: v for k, v in FACTS.items() if k != "login.person"}
    assert state({}, facts)["contact"].value == "ines"


def test_a_need_that_the_desk_has_no_word_for_is_left_open() -> None:
    facts = {**FACTS, "packet.need": Fact(value="return", source="x")}
    assert state({}, facts)["kind"].value is None


def test_questions_appear_and_become_required_by_earlier_answers() -> None:
    assert state({})["began_at"].required
    assert not state({"kind": "QUERY"})["began_at"].shown
    assert not state({"severity": "3"})["impact"].required
    assert state({"severity": "2"})["impact"].required


@pytest.mark.parametrize(
    ("template", "values", "expected"),
    [
        ({"a": {"take": "x"}}, {"x": "1"}, {"a": "1"}),
        ({"a": {"take": "x"}, "b": 2}, {}, {"b": 2}),
        ({"a": {"b": {"take": "x"}}}, {}, {}),
        ({"a": {"take": "x", "otherwise": "none"}}, {}, {"a": "none"}),
        ({"a": {"take": "x", "map": {"1": "one"}}}, {"x": "1"}, {"a": "one"}),
        ({"a": {"take": "x", "map": {"1": "one"}}}, {"x": "2"}, {}),
        ({"a": {"take": "x", "split": "/"}}, {"x": "p/q"}, {"a": ["p", "q"]}),
        ({"a": [{"take": "x"}, {"take": "y"}]}, {"y": False}, {"a": [False]}),
        ({"a": ["fixed", {"take": "x"}]}, {"x": "{take: y}"}, {"a": ["fixed", "{take: y}"]}),
        ({"a": {"take": "x", "otherwise": {"take": "y"}}}, {"y": "2"}, {"a": "2"}),
        ({"a": "no {x} of {y}"}, {"x": "1", "y": "2"}, {"a": "no 1 of 2"}),
        ({"a": "{x}, {y}"}, {}, {}),
        ({"a": "{{x}}"}, {"x": "1"}, {"a": "{x}"}),
        ({"a": {"when": {"fact": "x", "answered": True}, "value": "yes", "otherwise": "no"}}, {"x": "1"}, {"a": "yes"}),
        ({"a": {"when": {"fact": "x", "answered": True}, "value": "yes", "otherwise": "no"}}, {}, {"a": "no"}),
        ({"a": {"when": {"fact": "x", "answered": True}, "value": {"b": "c"}}}, {}, {}),
        ({"a": {"parts": ["{x}", "{y}", "z"], "join": " · "}}, {"y": "2"}, {"a": "2 · z"}),
        ({"a": {"take": "x", "items": "{item.p}={item.q}", "join": "; "}}, {"x": [{"p": "1", "q": "2"}]}, {"a": "1=2"}),
        ({"a": {"take": "x", "type": "number"}}, {"x": "3 kVA"}, {"a": 3}),
        ({"a": {"take": "x", "type": "whole"}}, {"x": "3.5 kVA"}, {}),
        ({"a": {"take": "x", "type": "boolean"}}, {"x": "yes"}, {"a": True}),
        ({"a": {"take": "x", "type": "list"}}, {"x": "volume/latency"}, {"a": ["volume", "latency"]}),
        ({"a": {"take": "x", "type": "datetime"}}, {"x": "2026-11-23T08:40+01:00"}, {"a": "2026-11-23T08:40:00+01:00"}),
        ({"a": {"take": "x", "type": "date"}}, {"x": "2026-11-23T08:40+01:00"}, {"a": "2026-11-23"}),
        ({"a": {"take": "x", "layout": "dd.MM.yyyy HH:mm"}}, {"x": "2026-11-23T08:40+01:00"}, {"a": "23.11.2026 08:40"}),
        ({"\\take": "x"}, {}, {"take": "x"}),
    ],
)  # fmt: skip
def test_writing_is_generic(template: Any, values: dict[str, Any], expected: Any) -> None:
    assert render(BODY.validate_python(template), values) == expected


def test_a_value_is_never_read_as_a_template() -> None:
    body = BODY.validate_python({"a": {"take": "x"}, "b": "{x}"})
    assert render(body, {"x": "{secret}", "secret": "s"}) == {"a": "{secret}", "b": "{secret}"}


def test_the_reference_is_read_or_its_lack_is_told() -> None:
    assert read_reference(small(), {"ref": 12}) == "12"
    for answer in ({}, {"ref": ""}, None, [], "text"):
        with pytest.raises(Invalid) as caught:
            read_reference(small(), answer)
        assert caught.value.code == "no-reference"


def test_refusals_are_read_with_their_cures() -> None:
    body = {"errors": [{"code": "late", "text": "Too late."}, {"code": "odd", "text": "Odd."}, {}]}
    reasons = read_refusals(small(), body)
    assert [(r.code, r.cure, r.act) for r in reasons][0] == ("late", "Be earlier.", "reopen")
    assert "mend the packet" in reasons[1].cure
    assert reasons[2].code == "unknown"
    assert read_refusals(small(), None) == ()


def test_a_case_is_read_with_its_messages() -> None:
    body = {
        "state": "done",
        "m": [{"id": 1, "text": "Which?", "at": "2026-11-23T08:00:00Z", "asks": True}],
    }
    news = read_case(small(), body)
    assert (news.life, news.turn, news.status) == ("settled", "vendor", "done")
    assert (news.messages[0].id, news.messages[0].asks) == ("1", True)


def test_an_unknown_status_word_makes_it_our_turn() -> None:
    news = read_case(small(), {"state": "PONDERING"})
    assert (news.life, news.turn, news.status, news.listed) == (
        "lodged",
        "ours",
        "PONDERING",
        False,
    )


def test_only_the_desks_own_messages_are_read() -> None:
    case = {"state": "OPEN", "messages": [
        {"id": "1", "from": "desk", "text": "a", "at": "", "asks": False},
        {"id": "2", "from": "customer", "text": "b", "at": "", "asks": False},
    ]}  # fmt: skip
    assert [m.id for m in read_case(TARNFELL, {"case": case}).messages] == ["1"]
