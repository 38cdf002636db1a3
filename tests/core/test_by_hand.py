"""Desks that a person reaches: fields in their order, labels, spelling; names of what vendors send."""

from __future__ import annotations

import pytest

from sealpacket.core.inbound import inspect, safe_name
from sealpacket.core.sheets import TELLS, lint, load_sheet, sample_packet, words_of
from sealpacket.core.sheets.by_hand import any_vendor_sheet, fields_of, spell
from sealpacket.core.sheets.explained import explain
from sealpacket.core.sheets.facts import MESSAGE, TOLD
from sealpacket.demo.world import BY_HAND, sheet_text


@pytest.mark.parametrize("desk", BY_HAND)
def test_fields_stand_in_the_order_of_the_desk(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    for seed in range(10):
        (case,) = sample_packet(sheet, seed).cases
        labels = [one.label for one in fields_of(sheet, case)]
        assert labels == sorted(labels, key=sheet.write.order.index)  # type: ignore[union-attr]
        assert all(one.value for one in fields_of(sheet, case))


def test_choices_are_read_by_their_labels() -> None:
    sheet = load_sheet(sheet_text("thornbeck-service"))
    labels = {choice.label for choice in sheet.by_name["state"].choices}
    found = {
        one.value
        for seed in range(20)
        for one in fields_of(sheet, sample_packet(sheet, seed).cases[0])
        if one.label == "Condition"
    }
    assert found
    assert found <= labels


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("TN9-44120-A", "Tango November nine dash four four one two zero dash Alfa"),
        ("a/1.b", "Alfa slash one dot Bravo"),
        ("Nobody can be called", ""),
        ("quay", ""),
        ("+441632960113", ""),
    ],
)
def test_what_is_easily_misheard_is_spelled(text: str, said: str) -> None:
    assert spell(text) == said


def test_any_vendor_has_a_sheet_that_takes_every_need() -> None:
    text = any_vendor_sheet("wickham-by-hand", "wickham", 'Wickham "Blinds": by hand')
    sheet, found = lint(text)
    assert sheet is not None
    assert [one for one in found if one.level == "stop"] == []
    assert (sheet.desk, sheet.vendor, sheet.name) == (
        "wickham-by-hand", "wickham", 'Wickham "Blinds": by hand',
    )  # fmt: skip
    assert len(sheet.kinds) >= 8
    assert any("Entered by a person" in line for line in explain(sheet))


@pytest.mark.parametrize("act", TELLS)
def test_every_act_has_words_that_say_what_it_is(act: str) -> None:
    values = {**dict.fromkeys(MESSAGE, "because"), **dict.fromkeys(TOLD, "42")}
    said = words_of({}, act, values)  # type: ignore[arg-type]
    assert "because" in said
    assert "{" not in said


@pytest.mark.parametrize(
    ("name", "safe"),
    [
        ("how to.pdf", "how to.pdf"),
        ("../../etc/passwd", "passwd"),
        ("C:\\temp\\run.exe", "run.exe"),
        ("a\u202efdp.exe", "afdp.exe"),
        ("con\x00trol.txt", "con-trol.txt"),
        ("...", "file"),
        ("x" * 400 + ".log", "x" * 100 + ".log"),
    ],
)
def test_a_name_that_came_from_outside_is_safe(name: str, safe: str) -> None:
    assert safe_name(name) == safe


@pytest.mark.parametrize(
    ("name", "head", "kind", "warned"),
    [
        ("a.pdf", b"%PDF-1.7", "PDF", False),
        ("a.txt", b"all is well\n", "text", False),
        ("a.txt", b"\x7fELF\x02", "program", True),
        ("patch.ps1", b"Write-Host", "text", True),
        ("logs.zip", b"PK\x03\x04", "archive", True),
        ("a.bin", b"\x00\x01\x02", "data", False),
    ],
)
def test_what_a_file_is_is_told_by_its_content(
    name: str, head: bytes, kind: str, warned: bool
) -> None:
    seen = inspect(name, head)
    assert (seen.kind, bool(seen.warning)) == (kind, warned)
