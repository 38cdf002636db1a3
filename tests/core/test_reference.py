"""The reference of the sheet language: every word has an example, and every example can be used."""

from __future__ import annotations

import sys
from pathlib import Path
from typing import Any, get_args

import pytest

from sealpacket.core.sheets import has_stops, lint, sample_packet, sheet_schema, write_case
from sealpacket.core.sheets.conversion import ValueType
from sealpacket.core.sheets.facts import FACTS
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.yaml_text import sheet_yaml

sys.path.insert(0, str(Path(__file__).parent.parent.parent / "tools"))
try:
    from sheet_examples import EXAMPLES, within
finally:
    sys.path.pop(0)


@pytest.mark.parametrize("category", EXAMPLES)
def test_each_example_of_the_reference_can_be_used(category: str) -> None:
    for name, example in EXAMPLES[category].items():
        sheet, found = lint(sheet_yaml(within(category, example)))
        assert not has_stops(found), (name, found)
        assert sheet is not None, name
        for seed in range(3):
            assert write_case(sheet, sample_packet(sheet, seed).cases[0]).text, name


def test_every_word_has_its_example() -> None:
    assert set(EXAMPLES["forms"]) == set(FORMS)
    assert set(EXAMPLES["types"]) == set(get_args(ValueType))
    assert set(EXAMPLES["facts"]) == set(FACTS)
    assert {
        "take",
        "when",
        "parts",
        "items",
        "map",
        "split",
        "join",
        "layout",
        "otherwise",
        "type",
    } <= set(EXAMPLES["operators"])


def properties(node: Any, place: str = "") -> list[str]:
    """Every property of the schema that has no description."""
    if isinstance(node, list):
        return [found for one in node for found in properties(one, place)]
    if not isinstance(node, dict):
        return []
    bare = [
        f"{place}.{name}"
        for name, one in node.get("properties", {}).items()
        if isinstance(one, dict) and not one.get("description") and "title" in one
    ]
    return bare + [
        found for name, one in node.items() for found in properties(one, f"{place}.{name}")
    ]


def test_every_property_of_the_schema_is_described() -> None:
    assert properties(sheet_schema()) == []
