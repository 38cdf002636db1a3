"""What a program tells: title and note from it; and formats of ours are published as they are."""

from __future__ import annotations

import json
from typing import Any

import jsonschema
import pytest
import yaml

from sealpacket.core.context import ProgramContext
from sealpacket.demo import world
from tests.conftest import ROOT

REFERENCE = ROOT / "docs/reference"


def schema(name: str) -> dict[str, Any]:
    found: dict[str, Any] = json.loads((REFERENCE / f"{name}.schema.json").read_text())
    return found


@pytest.mark.parametrize(
    ("told", "title"),
    [
        ({"message": {"code": "LN-0417", "text": "The loan\nwas not kept"}}, "LN-0417 The loan was not kept"),
        ({"message": {"text": "Not kept"}}, "Not kept"),
        ({"screen": "Loans"}, "Something went wrong in Loans"),
        ({"program": "Loans desk"}, "Something went wrong in Loans desk"),
        ({}, "Something went wrong in a program"),
        ({"message": {"text": "x" * 4000}}, "x" * 200),
    ],
)  # fmt: skip
def test_the_title_is_the_message_or_where_it_was(told: dict[str, Any], title: str) -> None:
    assert ProgramContext(context=1, **told).title() == title


def test_the_note_says_what_the_user_said_and_where_it_was() -> None:
    told = ProgramContext(
        context=1, note="Every second card.", program="Loans desk 4.2", screen="Loans", user="ines"
    )
    assert told.words() == "Every second card.\n\nProgram: Loans desk 4.2\nScreen: Loans"
    assert ProgramContext(context=1).words() == ""


def test_control_characters_do_not_come_through() -> None:
    told = ProgramContext(context=1, note="a\x1b[31mb", message={"text": "c\x07d"})  # type: ignore[arg-type]
    assert "\x1b" not in told.words()
    assert "\x07" not in told.words()


def test_shipped_kits_and_known_issues_fit_the_published_formats() -> None:
    for name in world.KITS:
        jsonschema.validate(yaml.safe_load(world.kit_text(name)), schema("kit"))
    issues = yaml.safe_load(
        (ROOT / "src/sealpacket/demo/know-how/known-issues.yaml").read_text("utf-8")
    )
    for issue in issues:
        jsonschema.validate(issue, schema("known-issue"))


@pytest.mark.parametrize(
    ("told", "fits"),
    [
        ({"context": 1}, True),
        ({"context": 1, "at": "2026-11-28T09:12:00Z", "rights": ["x"]}, True),
        ({}, False),
        ({"context": 2}, False),
        ({"context": 1, "more": 1}, False),
        ({"context": 1, "message": "x"}, False),
    ],
)
def test_the_published_format_of_contexts_takes_what_the_service_takes(
    told: dict[str, Any], fits: bool
) -> None:
    published = jsonschema.Draft202012Validator(schema("program-context"))
    assert published.is_valid(told) is fits
    if fits:
        ProgramContext.model_validate(told)
    else:
        with pytest.raises(ValueError, match="validation error"):
            ProgramContext.model_validate(told)
