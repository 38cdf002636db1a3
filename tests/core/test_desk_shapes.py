"""Every sheet that ships: it can be used as it is, its samples can stand, and what is written is what its desk reads."""

from __future__ import annotations

import base64
import contextlib
import io
import re
import tempfile
from datetime import UTC, datetime
from pathlib import Path
from typing import Any

import pytest
import yaml
from cryptography.hazmat.primitives.asymmetric import rsa
from cryptography.hazmat.primitives.serialization.pkcs7 import pkcs7_decrypt_der
from jsonschema import Draft202012Validator
from pydantic import TypeAdapter
from pypdf import PdfReader

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import (
    Sheet,
    answer_fault,
    known_for,
    lint,
    load_sheet,
    names_of,
    read_reply,
    sample_packet,
    seal_to,
    sheet_schema,
    write_case,
)
from sealpacket.core.sheets.bodies import Group
from sealpacket.core.sheets.rendering import fill, render
from sealpacket.core.sheets.sampling import SAMPLE_PEOPLE, sample_facts
from sealpacket.core.sheets.writing.mail import read_labels
from sealpacket.core.sheets.writing.xml import parse_xml, schema_of, to_tree, to_xml, xsd_faults
from sealpacket.demo.world import DESKS, OTHER_DESKS, sheet_text

ROOT = Path(__file__).parent.parent.parent
ALL = [*DESKS, *OTHER_DESKS]
SERIALS = {"pellwick-intake": "PW-LIC-5520"}


def samples(sheet: Sheet, count: int) -> Any:
    """Samples of every kind that the desk takes."""
    for kind in sheet.kinds:
        known = {"packet.need": kind.need, "ruling.route": kind.routes[0]}
        known |= {"asset.serial": SERIALS[sheet.desk]} if sheet.desk in SERIALS else {}
        for seed in range(count):
            yield known, sample_packet(sheet, seed, known)


@pytest.mark.parametrize("desk", ALL)
def test_a_sheet_that_ships_has_nothing_to_mend_and_fits_the_schema(desk: str) -> None:
    text = sheet_text(desk)
    sheet, found = lint(text)
    assert found == []
    assert sheet is not None and sheet.desk == desk
    Draft202012Validator(sheet_schema()).validate(yaml.safe_load(text))
    assert Sheet.model_validate(sheet.model_dump(mode="json")) == sheet


@pytest.mark.parametrize("desk", ALL)
def test_samples_of_every_kind_can_stand_and_are_written(desk: str) -> None:
    sheet = load_sheet(sheet_text(desk))
    for known, sample in samples(sheet, 12):
        here = known_for(sample.answers, sample_facts(sheet, known), SAMPLE_PEOPLE)
        for answer in sample.answers:
            question = sheet.question(answer.question)
            assert question is not None
            assert not (answer.shown and answer.required and answer.value is None), (desk, answer)
            if answer.value is not None and not answer.fixed:
                assert answer_fault(question, answer.value, here) is None, (desk, answer)
        assert sample.cases
        for case in sample.cases:
            assert case.body
            written = write_case(sheet, case)
            assert written == write_case(sheet, case), "the same case gives the same bytes"
            if sheet.write.format == "xml":
                assert xsd_faults(sheet.write.xsd, written.documents["case.xml"]) == []


def test_the_sheets_use_every_form_and_channel_of_the_language() -> None:
    """Six of other shapes beside the six with a stand-in: the language is enough for all of them."""
    sheets = [load_sheet(sheet_text(desk)) for desk in ALL]
    assert len(sheets) == 12
    forms = {question.form for sheet in sheets for question in sheet.questions}
    assert forms == {
        "text", "long", "steps", "choice", "several", "tree", "number", "date", "moment", "zone", "version", "versions",
        "consent", "address", "country", "state", "phone", "language", "person", "people", "rows",
    }  # fmt: skip
    assert {sheet.send.channel for sheet in sheets} == {"http", "mail", "sftp"}
    assert {sheet.write.format for sheet in sheets} == {"json", "form", "xml", "mail", "pdf"}
    assert {sheet.replies.arrive for sheet in sheets} == {"polling", "webhook", "mail", "folder"}
    needs = {kind.need for sheet in sheets for kind in sheet.kinds}
    assert needs == {
        "fault",
        "question",
        "change",
        "capacity",
        "return",
        "help",
        "improvement",
        "tie",
    }
    assert {sheet.severity_set_by for sheet in sheets} == {"us", "desk", "computed"}


def test_a_mails_block_is_read_as_it_was_written() -> None:
    sheet = load_sheet(sheet_text("lumenlathe-care"))
    sample = sample_packet(sheet, 3)
    text = write_case(sheet, sample.cases[0]).documents["case.txt"].decode()
    block = text.split("== CARE CASE ==\n")[1].split("== END ==")[0]
    read = read_labels(block)
    assert read["customer_reference"] == "P-0001"
    assert read["address"] == str(sample.body["Address"])


@pytest.mark.parametrize(
    ("text", "expected"),
    [
        ("Case: LL-1\nStatus: OPEN\n\nThank you.\n", {"case": "LL-1", "status": "OPEN", "text": "Thank you."}),
        ("Case: LL-1\r\nNote: a\r\n  b\r\n", {"case": "LL-1", "note": "a\nb", "text": ""}),
        ("Reason: late - It came too late.\n", {"reason": "late - It came too late.", "reason_code": "late",
                                                "reason_words": "It came too late.", "text": ""}),
        ("> Case: LL-9\nCase: LL-1\n\n> Status: OPEN\nYours", {"case": "LL-1", "text": "Yours"}),
        ("Hello there\nCase: LL-1", {"text": "Hello there\nCase: LL-1"}),
        ("Case: LL-1\nCase: LL-2\n", {"case": "LL-1", "text": ""}),
        ("", {"text": ""}),
    ],
)  # fmt: skip
def test_labelled_lines_are_read(text: str, expected: dict[str, str]) -> None:
    assert read_labels(text) == expected


def test_a_form_is_filled_and_cannot_be_changed() -> None:
    sheet = load_sheet(sheet_text("saddlewick-claims"))
    case = sample_packet(sheet, 5, {"asset.serial": "SW3K-70455", "packet.number": "P-0042"}).cases[
        0
    ]
    documents = write_case(sheet, case).documents
    assert list(documents) == ["P-0042.pdf", "P-0042.csv"]
    fields = PdfReader(io.BytesIO(documents["P-0042.pdf"])).get_fields() or {}
    assert fields["Serial"]["/V"] == "SW3K-70455"
    assert fields["Safe"]["/V"] == "/Yes"
    assert all(int(field.get("/Ff", 0)) & 1 for field in fields.values()), "read only"
    assert documents["P-0042.csv"].startswith(b"Line,Part,Serial,Quantity,Weight kg\r\n1,")


def test_what_a_spreadsheet_would_run_is_only_text() -> None:
    from sealpacket.core.sheets.writing import csv_of

    assert (
        csv_of(["a"], [{"a": "=1+1"}, {"a": "-5"}, {"a": "@x"}]) == b"a\r\n'=1+1\r\n-5\r\n'@x\r\n"
    )


def test_an_envelope_opens_for_its_owner_alone() -> None:
    from sealpacket.standins.pellwick import _own_key

    with tempfile.TemporaryDirectory() as folder:
        key, certificate = _own_key(Path(folder))
        pem = (Path(folder) / "certificate.pem").read_text()
    sealed = seal_to(pem, b"queue depth\n" * 1000)
    assert b"queue depth" not in sealed
    assert pkcs7_decrypt_der(sealed, certificate, key, []) == b"queue depth\n" * 1000
    other = rsa.generate_private_key(public_exponent=65537, key_size=2048)
    opened = b""
    with contextlib.suppress(
        ValueError
    ):  # once in some hundred times a wrong key gives what looks well padded
        opened = pkcs7_decrypt_der(sealed, certificate, other, [])
    assert b"queue" not in opened


def test_a_certificate_out_of_its_time_is_told() -> None:
    from sealpacket.core.sheets.writing.envelope import read_certificate

    pem = load_sheet(sheet_text("pellwick-intake")).attachments.encrypt_to
    with pytest.raises(Invalid, match="is valid until"):
        read_certificate(pem, datetime(2099, 1, 1, tzinfo=UTC))
    with pytest.raises(Invalid, match="not a PEM certificate"):
        read_certificate("-----BEGIN CERTIFICATE-----\nAAAA\n-----END CERTIFICATE-----\n")


@pytest.mark.parametrize(
    ("names", "pattern", "expected"),
    [
        (["a.log", "b.txt"], "{packet.number}_{number}{ending}", ["P-1_1.log", "P-1_2.txt"]),
        (["a.log", "b.log"], "{packet.number}.log", ["P-1.log", "P-1-2.log"]),
        (["a b.log"], "{stem}", ["a b"]),
        (["a.log"], "../{name}", ["-a.log"]),
        (["a.log"], "{nothing}", ["a.log"]),
    ],
)
def test_files_are_called_as_the_desk_wants(
    names: list[str], pattern: str, expected: list[str]
) -> None:
    assert names_of(pattern, names, {"packet.number": "P-1"}) == expected


@pytest.mark.parametrize(
    "template",
    [
        "{answers.__class__}",
        "{0}",
        "{packet.number!r}",
        "{packet.number:>99999999}",
        "{{x}}",
        "{x[0]}",
    ],
)
def test_braces_reach_nothing_but_paths(template: str) -> None:
    assert "P-1" not in fill(template, {"packet.number": "P-1", "x": "y"}) or template == "{{x}}"


def test_a_value_with_braces_stays_as_it_is() -> None:
    assert fill("{a}", {"a": "{b}", "b": "secret"}) == "{b}"


@pytest.mark.parametrize(
    ("template", "values", "expected"),
    [
        ({"a": {"take": "x", "items": {"n": {"take": "item.name"}}}}, {"x": [{"name": "1"}, {"name": "2"}]},
         {"a": [{"n": "1"}, {"n": "2"}]}),
        ({"a": {"take": "x", "items": {"take": "item"}}}, {"x": ["p"]}, {"a": ["p"]}),
        ({"a": {"take": "x", "join": "; "}}, {"x": ["p", "q"]}, {"a": "p; q"}),
        ({"a": "{x} and {y}"}, {"x": "1", "y": True}, {"a": "1 and yes"}),
        ({"a": "{x}"}, {}, {}),
        ({"a": {"when": {"fact": "x", "one_of": ["1"]}, "value": {"b": "c"}}}, {"x": "1"}, {"a": {"b": "c"}}),
        ({"a": {"when": {"fact": "x", "one_of": ["1"]}, "value": {"b": "c"}}}, {"x": "2"}, {}),
        ({"a": {"take": "x", "map": {"yes": "Y"}}}, {"x": True}, {"a": "Y"}),
    ],
)  # fmt: skip
def test_parts_are_written_each_joined_or_under_a_condition(
    template: Any, values: dict[str, Any], expected: Any
) -> None:
    assert render(TypeAdapter(Group).validate_python(template), values) == expected


BOMB = b"""<?xml version="1.0"?><!DOCTYPE a [<!ENTITY b "bbbbbbbbbb"><!ENTITY c "&b;&b;&b;&b;&b;&b;">]><a>&c;</a>"""
OUTSIDE = b"""<!DOCTYPE a [<!ENTITY x SYSTEM "file:///etc/hostname">]><a>&x;</a>"""


@pytest.mark.parametrize(
    "data", [BOMB, OUTSIDE, b"<a", b"", b"<a>" + b"x" * (9 << 20) + b"</a>", b"<a>\x00</a>"]
)
def test_hostile_xml_does_no_harm(data: bytes) -> None:
    with pytest.raises(Invalid):
        parse_xml(data)
    sheet = load_sheet(sheet_text("pellwick-intake"))
    assert read_reply(sheet, data) is None


def test_a_reply_with_control_characters_is_read_without_them() -> None:
    sheet = load_sheet(sheet_text("tarnfell-support"))
    assert read_reply(sheet, rb'{"a\u0007": ["b\u0000c", {"d": "e\ud800\n"}]}') == {
        "a\ufffd": ["b\ufffdc", {"d": "e\ufffd\n"}]
    }


def test_a_deeply_nested_reply_is_no_reply() -> None:
    sheet = load_sheet(sheet_text("pellwick-intake"))
    assert read_reply(sheet, b"<a>" * 200 + b"</a>" * 200) is None
    assert read_reply(load_sheet(sheet_text("tarnfell-support")), b"[" * 100_000) is None


@pytest.mark.parametrize(
    "xsd",
    [
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'><xs:include schemaLocation='/etc/hostname'/></xs:schema>",
        "<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'><xs:import schemaLocation='http://x.example/'/></xs:schema>",
        "<not-a-schema/>",
        "no xml",
    ],
)
def test_a_hostile_schema_is_refused(xsd: str) -> None:
    with pytest.raises(Invalid):
        schema_of(xsd)


def test_text_cannot_become_markup() -> None:
    document = to_xml("a", "", {"@b": '"<x>"', "c": "</a><evil/>\x01", "d": True})
    assert to_tree(document) == {"a": {"@b": '"<x>"', "c": ["</a><evil/>\ufffd"], "d": ["true"]}}


@pytest.mark.parametrize(
    "blank", ["", "AAAA", base64.b64encode(b"%PDF-1.4 nothing").decode(), "not base64!"]
)
def test_a_blank_that_is_no_form_is_told_with_its_line(blank: str) -> None:
    text = sheet_text("saddlewick-claims")
    head, _, tail = text.partition("  blank: |\n")
    rest = tail[tail.index("\nsend:") :]
    found = lint(f"{head}  blank: '{blank}'\n{rest}")[1]
    assert [one.code for one in found if one.level == "stop"] == ["pdf-blank"]


def test_the_sheet_that_the_guide_writes_in_ten_minutes_can_be_used() -> None:
    """The parts of docs/desk-sheets.md, put together as a reader would."""
    guide = (ROOT / "docs/desk-sheets.md").read_text("utf-8")
    steps = guide.partition("## One in ten minutes")[2].partition("\n## ")[0]
    sheet, found = lint("\n".join(FENCED.findall(steps)))
    assert found == []
    assert sheet is not None
    for kind in sheet.kinds:
        sample = sample_packet(sheet, 2, {"packet.need": kind.need})
        assert write_case(sheet, sample.cases[0]).subject == f"{kind.need} SAMPLE-0001"


FENCED = re.compile(r"```yaml\n(.*?)```", re.S)
EXAMPLES = [
    text
    for text in FENCED.findall(
        (ROOT / "docs/desk-sheets.md").read_text("utf-8").partition("## One example")[2]
    )
    if text.startswith("sheet: 2")
]


@pytest.mark.parametrize("text", EXAMPLES, ids=[text.split()[3] for text in EXAMPLES])
def test_the_examples_of_the_guide_can_be_used(text: str) -> None:
    sheet, found = lint(text)
    assert [one for one in found if one.level != "hint"] == []
    assert sheet is not None
    for kind in sheet.kinds:
        for case in sample_packet(sheet, 1, {"packet.need": kind.need}).cases:
            assert write_case(sheet, case).text


def test_the_sheet_that_the_console_begins_with_can_be_used() -> None:
    source = (ROOT / "console/src/pages/desks/template.ts").read_text("utf-8")
    found = lint(source.split("`", 1)[1].rsplit("`", 1)[0])[1]
    assert found == []
