"""Sheets begun from what vendors have: their questions are there, lint finds nothing but what is marked as open."""

from __future__ import annotations

import base64

import pytest
from hypothesis import given, settings
from hypothesis import strategies as st

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import Sheet, lint, load_sheet, sample_packet, write_case
from sealpacket.core.sheets.beginning import begin
from sealpacket.core.sheets.sending import AsPdf, AsXml
from sealpacket.demo.world import sheet_text

OPENAPI = """{"openapi": "3.1.0", "paths": {
 "/v1/notes": {"post": {"operationId": "note", "requestBody": {"content": {"application/json": {"schema": {
   "type": "object", "properties": {"words": {"type": "string"}}}}}}}},
 "/v1/tickets": {"post": {"operationId": "createTicket", "requestBody": {"content": {"application/json": {
   "schema": {"$ref": "#/components/schemas/Ticket"}}}}}},
 "/v1/tickets/{id}": {"get": {}}},
 "components": {"schemas": {"Ticket": {"type": "object", "required": ["title", "severity", "contact"], "properties": {
  "title": {"type": "string", "maxLength": 80, "description": "One line."},
  "severity": {"type": "string", "enum": ["S1", "S2"]},
  "started": {"type": "string", "format": "date-time"},
  "customerRef": {"type": "string"},
  "serialNumber": {"type": "string", "pattern": "^[A-Z]{2}[0-9]{6}$", "example": "AB123456"},
  "contact": {"type": "object", "required": ["name", "email"],
              "properties": {"name": {"type": "string"}, "email": {"type": "string", "format": "email"}}},
  "affected": {"type": "integer", "minimum": 1},
  "tags": {"type": "array", "items": {"enum": ["net", "disk"]}},
  "urgent": {"type": "boolean"}, "id": {"type": "string", "readOnly": true}}}}}}"""

HTML = """<form action="/support/new"><label for="n">Your name *</label><input id="n" name="contact_name" required>
<label>E-mail <input type="email" name="contact_email" required></label>
<label for="m">Model</label><select id="m" name="model"><option value="">Choose</option><option value="a1">Model A1</option>
<option>B2</option></select>
<label for="d">What is wrong?</label><textarea id="d" name="description" required maxlength="2000"></textarea>
<input type="radio" name="urgency" value="high"><input type="radio" name="urgency" value="low">
<input type="file" name="upload"><input type="hidden" name="csrf" value="x"><input type="submit" name="go"></form>"""

MAIL = """From: a@b.example
Subject: [SUP] SN-1 down

Dear desk,

== REQUEST ==
Customer ref: P-1
Serial: SN-12345
Since: 2026-11-23 08:40
What happens: It is down.
== END ==
"""


def begun(name: str, data: str | bytes, **options: str) -> Sheet:
    """The sheet, of which lint says nothing but what is open."""
    text = begin(name, data if isinstance(data, bytes) else data.encode(), **options)
    sheet, found = lint(text)
    assert {one.code for one in found} <= {"open", "no-example", "no-remedies"}, found
    assert any(one.code == "open" for one in found)
    assert sheet is not None
    assert write_case(sheet, sample_packet(sheet, 1).cases[0]).text
    return sheet


def asked(sheet: Sheet) -> dict[str, tuple[str, object]]:
    return {one.id: (one.form, one.to) for one in sheet.questions}


def test_an_operation_of_openapi() -> None:
    sheet = begun("api.json", OPENAPI, operation="createTicket")
    assert asked(sheet) == {
        "title": ("text", "title"), "severity": ("choice", "severity"), "started": ("moment", "started"),
        "number": ("text", "serialNumber"), "affected": ("number", "affected"), "tags": ("several", "tags"),
        "contact": ("person", {"name": "contact.name", "mail": "contact.email"}), "urgent": ("consent", "urgent"),
    }  # fmt: skip
    title, number = sheet.by_name["title"], sheet.by_name["number"]
    assert (title.max_length, title.guide, title.required) == (80, "One line.", True)
    assert (number.pattern, number.example, number.prefill[0].take) == (
        "[A-Z]{2}[0-9]{6}", "AB123456", "asset.serial"
    )  # fmt: skip
    assert sheet.write.body["customerRef"].take == "packet.number"  # type: ignore[union-attr, index]
    assert (sheet.send.lodge, sheet.send.follow) == ("/v1/tickets", "/v1/tickets/{reference}")  # type: ignore[union-attr]
    with pytest.raises(Invalid, match="no operation banana") as caught:
        begin("api.json", OPENAPI.encode(), operation="banana")
    assert "note, createTicket" in caught.value.remedy


def test_a_json_schema_and_a_sample() -> None:
    schema = begun(
        "s.json",
        '{"type": "object", "properties": {"a": {"type": "number", "maximum": 3}, "b": {"enum": ["x"]}}}',
    )
    assert asked(schema) == {"a": ("number", "a"), "b": ("choice", "b")}
    sample = begun(
        "one.json",
        '{"ticket": {"count": 3, "day": "2026-11-23", "sure": true, "what": "It fails", "none": null}}',
    )
    assert {form for form, _ in asked(sample).values()} == {"number", "date", "consent", "text"}
    assert sample.by_name["what"].to == "ticket.what"


def test_a_web_form() -> None:
    sheet = begun("form.html", HTML)
    assert asked(sheet) == {
        "contact": ("person", {"name": "contact_name", "mail": "contact_email"}),
        "model": ("choice", "model"), "description": ("long", "description"), "urgency": ("choice", "urgency"),
    }  # fmt: skip
    model = sheet.by_name["model"]
    assert [(one.value, one.label) for one in model.choices] == [("a1", "Model A1"), ("B2", "B2")]
    assert sheet.by_name["description"].ask == "What is wrong?"
    assert sheet.send.lodge == "/support/new"  # type: ignore[union-attr]
    assert sheet.send.files.field == "upload"  # type: ignore[union-attr]


def test_a_sample_mail() -> None:
    sheet = begun("sample.eml", MAIL)
    assert asked(sheet) == {
        "serial": ("text", "Serial"),
        "since": ("moment", "Since"),
        "happens": ("text", "What happens"),
    }
    assert (sheet.write.first_line, sheet.write.last_line) == ("== REQUEST ==", "== END ==")  # type: ignore[union-attr]


def test_the_forms_and_schemas_of_the_demo() -> None:
    claims = load_sheet(sheet_text("saddlewick-claims"))
    assert isinstance(claims.write, AsPdf)
    form = begun("claim.pdf", base64.b64decode("".join(claims.write.blank.split())))
    assert len(form.questions) == 12
    assert form.by_name["safe"].form == "consent"
    intake = load_sheet(sheet_text("pellwick-intake"))
    assert isinstance(intake.write, AsXml)
    xml = begun("intake.xsd", intake.write.xsd)
    assert {"licence", "contract", "contact", "impact"} <= set(xml.by_name)
    assert [one.value for one in xml.by_name["impact"].choices] == [
        "stopped",
        "endangered",
        "hindered",
        "none",
    ]
    assert xml.by_name["impact"].required is False, "it is within a choice"


@pytest.mark.parametrize(
    ("name", "data", "words"),
    [
        ("a.json", b"[1, 2]", "holds no object"),
        ("a.json", b"{", "not valid JSON"),
        ("a.pdf", b"%PDF-1.4 nothing", "not a readable PDF"),
        ("a.xsd", b"<xs:schema xmlns:xs='http://www.w3.org/2001/XMLSchema'/>", "no outermost element"),
        ("a.xsd", b"<!DOCTYPE x [<!ENTITY e SYSTEM 'file:///etc/passwd'>]><xs:schema>&e;</xs:schema>", "document type"),
        ("a.html", b"<html><p>nothing</p></html>", "no fields"),
        ("a.txt", b"just words", "no fields"),
        ("a.bin", b"x" * (5 << 20), "larger than 4 MB"),
    ],
)  # fmt: skip
def test_what_is_none_of_these_is_told(name: str, data: bytes, words: str) -> None:
    with pytest.raises(Invalid) as caught:
        begin(name, data)
    assert words in caught.value.detail
    assert caught.value.remedy


@settings(max_examples=60)
@given(st.sampled_from(["a.json", "a.html", "a.xsd", "a.eml", "a.pdf"]), st.binary(max_size=200))
def test_no_file_makes_it_stumble(name: str, data: bytes) -> None:
    try:
        begin(name, data)
    except Invalid as fault:
        assert fault.remedy
