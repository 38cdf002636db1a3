"""What the leak check finds in a document is masked, however the document cuts it into pieces; or it is said where it is."""

from __future__ import annotations

import json
import zipfile
from pathlib import Path

import pytest
from reportlab.pdfgen.canvas import Canvas
from typer.testing import CliRunner

from sealpacket.cli.program import build
from sealpacket.core.redact.encodings.pieces import in_pieces
from sealpacket.core.redact.known.terms import read_terms
from sealpacket.core.redact.verify import mending
from sealpacket.core.redact.verify.leaks import Leak, LeakReport, still_there
from sealpacket.core.sheets import ExhibitState
from tests.core.test_checks import check

WHO = "Heron!Lake7-quill"
LOG = f"2026-11-20 login user=torrock password={WHO}\n"
_NAMES = 'xmlns:w="http://schemas.openxmlformats.org/wordprocessingml/2006/main"'
_TYPES = """<Types xmlns="http://schemas.openxmlformats.org/package/2006/content-types"><Default Extension="xml"
ContentType="application/xml"/></Types>"""


def run(text: str) -> str:
    return f"<w:r><w:t>{text}</w:t></w:r>"


def paragraph(*runs: str) -> str:
    return f"<w:p>{''.join(runs)}</w:p>"


def cell(text: str) -> str:
    return f"<w:tc>{paragraph(run(text))}</w:tc>"


BODIES = {
    "runs": paragraph(run("it is Heron!La"), run("ke7-quill"), run(" now")),
    "letters": paragraph(*map(run, WHO)),
    "a line break": paragraph(run("it is Heron!La"), "<w:r><w:br/></w:r>", run("ke7-quill")),
    "paragraphs": paragraph(run("it is Heron!La")) + paragraph(run("ke7-quill now")),
    "cells": f"<w:tbl><w:tr>{cell('Heron!La')}{cell('ke7-quill')}</w:tr></w:tbl>",
    "a field": paragraph('<w:r><w:instrText>HYPERLINK "Heron!La</w:instrText></w:r>',
                         '<w:r><w:instrText>ke7-quill"</w:instrText></w:r>'),
}  # fmt: skip


def redact(folder_: Path) -> tuple[int, str]:
    done = CliRunner().invoke(
        build("redact"),
        ["redact", str(folder_), "--out", str(folder_.parent / "out"), "--workers", "1"],
    )
    return done.exit_code, done.output


def folder_with(place: Path, body: str) -> Path:
    """A folder with the log that gives the value away, and a document with it in pieces."""
    source = place / "in"
    source.mkdir()
    (source / "a.log").write_text(LOG)
    if body:
        with zipfile.ZipFile(source / "b.docx", "w") as document:
            document.writestr("[Content_Types].xml", _TYPES)
            document.writestr(
                "word/document.xml",
                f"<w:document {_NAMES}><w:body>{BODIES[body]}</w:body></w:document>",
            )
    return source


@pytest.mark.parametrize("body", BODIES)
def test_a_value_that_an_office_document_cuts_is_masked(tmp_path: Path, body: str) -> None:
    source = folder_with(tmp_path, body)
    code, said = redact(source)
    assert code == 0, said
    with zipfile.ZipFile(tmp_path / "out/in/b.docx") as copy:
        text = copy.read("word/document.xml").decode()
    assert "Heron!La" not in text
    assert "ke7-quill" not in text
    assert "[secret:" in text


def test_a_value_over_two_lines_of_a_page_is_covered(tmp_path: Path) -> None:
    source = folder_with(tmp_path, "")
    canvas = Canvas(str(source / "b.pdf"))
    canvas.setFont("Helvetica", 18)
    canvas.drawString(72, 700, "The word is Heron!Lake7-")
    canvas.drawString(72, 670, "quill since Monday.")
    canvas.save()
    code, said = redact(source)
    assert code == 0, said
    assert "b.pdf" in said
    assert "none of the originals" in said


def test_what_cannot_be_masked_is_named_with_its_place(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    """Where no mend is left to try, the user is told which value, which file, where in it, and what to do."""
    monkeypatch.setattr(mending, "MENDS", 0)
    source = folder_with(tmp_path, "runs")
    report = tmp_path / "report.json"
    done = CliRunner().invoke(build("redact"), ["redact", str(source), "--out", str(tmp_path / "out"), "--workers", "1",
                                    "--report", str(report)])  # fmt: skip
    assert done.exit_code == 4
    said = " ".join(done.output.split())
    assert "b.docx: the original of [secret:" in said
    assert "word/document.xml, at byte" in said
    assert "Take it out of the file by hand" in said
    assert WHO not in said
    told = next(
        one for one in json.loads(report.read_text())["by_file"] if one["copy"].endswith("b.docx")
    )
    assert told["leak_check"]["still"][0]["where"].startswith("word/document.xml")


def test_the_check_of_a_packet_names_it_too() -> None:
    leak = Leak(b"[secret:abcdefghij]", b"x", 12, 2, "page 3")
    [told] = still_there(LeakReport(1, 0, (leak,)))
    exhibit = ExhibitState(
        name="b.pdf",
        state="ready",
        size=10,
        leaks=1,
        still=(f"{told['placeholder']} ({told['where']})",),
    )
    stop = check(exhibits=(exhibit,))["leak"]
    assert stop.sentence == "An original is still in b.pdf: [secret:abcdefghij] (page 3)."
    assert "legend" in stop.remedy


@pytest.mark.parametrize(
    ("text", "found"),
    [
        ("say HERON! lake7-\nquill", ["HERON! lake7-\nquill"]),
        ("Heron!Lake7", []),
        ("éHeron!Lake7-quillé", [WHO]),
    ],
)
def test_blanks_and_case_hide_nothing(text: str, found: list[str]) -> None:
    data = text.encode()
    assert [
        data[one.start : one.end].decode() for one in in_pieces(data, [("secret", WHO.encode())])
    ] == found
    assert list(in_pieces(b"a b c", [("secret", b"abc")])) == []


def test_known_values_may_be_a_plain_list() -> None:
    assert [
        (one.kind, one.spelling) for one in read_terms(["Project Heron\n", "\n", "tarn-nas-02\n"])
    ] == [
        ("custom", "Project Heron"),
        ("custom", "tarn-nas-02"),
    ]
    assert [one.kind for one in read_terms(["kind,value\n", "asset,LK40-1\n"])] == ["asset"]
    turned = ['"Value","Site","Kind"\n', "\n", '"LK40-1","x","asset"\n']
    assert [one.spelling for one in read_terms(turned)] == ["LK40-1"]
    with pytest.raises(ValueError, match=r"line 3: there is no kind without a name"):
        list(read_terms(["value,kind\n", "LK40-1,asset\n", "LK40-2\n"]))
    with pytest.raises(ValueError, match=r"line 2 is longer than 100,000 characters"):
        list(read_terms(["kind,value\n", f"asset,{'x' * 200_000}\n"]))
    with pytest.raises(ValueError, match="columns kind and value"):
        list(read_terms(["kind,what\n", "asset,LK40-1\n"]))
