"""Sheets of version 1 of the language, as they were kept: they are converted and mean the same."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import lint, load_sheet, sample_packet, write_case
from sealpacket.core.sheets.version_1 import convert, convert_text

OLD = (Path(__file__).parent / "version_1.yaml").read_text("utf-8")


def test_every_part_of_version_1_has_its_place_in_version_2() -> None:
    text = convert_text(OLD)
    sheet, found = lint(text)
    assert [(one.level, one.sentence) for one in found if one.level == "stop"] == []
    assert sheet is not None
    assert text.startswith("# A desk of version 1, with everything")
    assert (sheet.requirements[0].requirement, sheet.requirements[0].because) == (
        "mailbox_read",
        "They insist.",
    )
    load = sheet.by_name["load"]
    assert (load.minimum, load.maximum, load.type, load.to) == (1, 9, "text", "case.load")
    assert sheet.by_name["day"].time == "future"
    assert sheet.by_name["level"].sets == "severity"
    assert sheet.by_name["level"].choices[0].meaning == "Nothing works."
    assert sheet.by_name["area"].type == "list"
    assert sheet.by_name["goods"].columns[1].maximum == 20
    assert (sheet.attachments.max_size, sheet.attachments.naming.file) == (
        5_000_000,
        "{number}{ending}",
    )
    assert {w: (s.life, s.turn) for w, s in sheet.replies.statuses.items()} == {
        "NO": ("refused", "ours"), "sent": ("answered", "vendor"), "done": ("settled", "vendor"),
    }  # fmt: skip
    assert sheet.replies.refusals is not None
    assert sheet.replies.refusals.remedies["late"].remedy == "Be earlier."
    assert sheet.replies.facts[0].label == "RMA"
    assert sheet.severity is not None
    assert sheet.severity.escalation[0].trigger == "nobody answers"


def test_what_is_written_of_it_is_the_same() -> None:
    sheet = load_sheet(convert_text(OLD))
    case = json.loads(write_case(sheet, sample_packet(sheet, 3).cases[0]).text)["case"]
    assert case["kind"] == "H"
    assert case["braces"] == "{not filled}"
    assert case["when"] == "a field of that name"
    assert case["number"] == "P-0001"
    assert case["who"].endswith("+441632960199")
    assert case["goods"][0].keys() == {"what", "count"}
    assert "reason" not in case


def test_what_is_converted_once_is_left_alone() -> None:
    with pytest.raises(Invalid, match="not a sheet of version 1"):
        convert_text(convert_text(OLD))


def test_a_stored_tree_is_converted_like_its_text() -> None:
    stored = {"sheet": 1, "desk": "d", "questions": [{"id": "a", "ask": "A?", "form": "text", "at_least": 5}],
              "attachments": {"most": 0, "each": 1, "together": 1}}  # fmt: skip
    assert convert(stored) == {
        "sheet": 2, "desk": "d", "questions": [{"id": "a", "ask": "A?", "form": "text", "min_length": 5}],
    }  # fmt: skip
