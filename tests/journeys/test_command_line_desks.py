"""Sheets on the command line: begun, linted, looked at, tried and read back."""

from __future__ import annotations

from pathlib import Path

import pytest

from sealpacket.demo.world import sheet_text
from tests.journeys.terminal import Terminal


@pytest.fixture
def sheet(tmp_path: Path) -> Path:
    """A sheet in a file."""
    path = tmp_path / "care.yaml"
    path.write_text(sheet_text("lumenlathe-care"), "utf-8")
    return path


def test_a_sheet_is_begun_with_a_file_and_says_what_is_open(
    shell: Terminal, tmp_path: Path
) -> None:
    sample, out = tmp_path / "one.json", tmp_path / "one.yaml"
    sample.write_text('{"ticket": {"serial": "AB-1", "what": "It fails"}}')
    said = shell.run("desk", "begin", str(sample), "--out", str(out))
    assert "has 2 questions" in said
    said = shell.run("desk", "lint", str(out))
    assert "Still to be confirmed: its vendor's short name in the register." in said
    said = shell.run("desk", "begin", str(sample), "--out", str(out), code=1)
    assert "is there already" in said
    assert "form: text" in shell.run("desk", "begin", str(sample))
    said = shell.run("desk", "put", str(out), code=1)
    assert "Still to be confirmed" in said


def test_a_fault_is_told_with_line_column_question_and_the_right_word(
    shell: Terminal, sheet: Path
) -> None:
    sheet.write_text(sheet.read_text().replace("prefill: site.mailing", "prefill: site.mialing"))
    said = shell.run("desk", "lint", str(sheet), code=3)
    assert "stop address: There is no fact site.mialing. Is it site.mailing?" in " ".join(
        said.split()
    )
    assert "cannot be used as it is" in shell.run("desk", "preview", str(sheet), code=1)


def test_a_preview_takes_only_kinds_that_the_desk_takes(shell: Terminal, sheet: Path) -> None:
    said = shell.run("desk", "preview", str(sheet), "--need", "return")
    assert "Request: exchange" in said
    assert "Sent as a mail from the vendor login" in said
    said = shell.run("desk", "preview", str(sheet), "--need", "banana", code=1)
    assert "takes no banana" in said
    assert "fault, return, question" in said


def test_replies_are_read_from_files(shell: Terminal, sheet: Path, tmp_path: Path) -> None:
    asks = "Case: LL-1\nYour reference: P-0004\nStatus: OVER TO YOU\nAnswer wanted: yes\n\nWhich code?\n"
    free = "From: a@b.example\nSubject: x\nMessage-ID: <1@b.example>\n\nHello, which firmware?\n"
    (tmp_path / "asks.txt").write_text(asks)
    (tmp_path / "free.eml").write_text(free)
    said = shell.run("desk", "read", str(sheet), str(tmp_path / "asks.txt"))
    assert "OVER TO YOU: lodged, our turn" in said
    assert "asks: Which code?" in said
    said = shell.run("desk", "read", str(sheet), str(tmp_path / "free.eml"), code=3)
    assert "Nothing in it says which of our packets it is about." in said


def test_a_sheet_plays_a_whole_life(shell: Terminal, sheet: Path) -> None:
    said = shell.run("desk", "try", str(sheet))
    assert "It plays to its end." in said
    assert "Our answer arrived with its words." in said
    sheet.write_text(sheet.read_text().replace("SOLVED: answered", "SOLVED: lodged"))
    said = shell.run("desk", "try", str(sheet))
    assert "not there" in said
