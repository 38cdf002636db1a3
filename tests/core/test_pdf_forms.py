"""PDF forms: what the preview says is what the file holds, for every kind of field and however a sheet says it."""

from __future__ import annotations

import base64
import io
from typing import Any

import pytest
from pypdf import PdfReader, PdfWriter
from pypdf.generic import (
    ArrayObject,
    DictionaryObject,
    FloatObject,
    NameObject,
    NumberObject,
    StreamObject,
    TextStringObject,
)

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets import (
    Fact,
    Sheet,
    answer_fault,
    answers_for,
    known_for,
    lint,
    sample_packet,
    write_case,
)
from sealpacket.core.sheets.writing.pdf import fill_form, form_values


def a_form() -> str:
    """A form with two tick boxes whose states differ, a choice, an open choice and a text."""
    writer = PdfWriter()
    page = writer.add_blank_page(300, 300)
    widgets = [
        _widget(writer, "Urgent", "/Btn", states=("Yes", "Off")),
        _widget(writer, "Dry", "/Btn", states=("Ja", "Off")),
        _widget(writer, "Kind", "/Ch", options=[("A", "Array"), ("S", "Switch")]),
        _widget(writer, "Colour", "/Ch", options=[("red", "red")], flags=1 << 17 | 1 << 18),
        _widget(writer, "Words", "/Tx"),
    ]
    page[NameObject("/Annots")] = ArrayObject(widgets)
    form = DictionaryObject({NameObject("/Fields"): ArrayObject(widgets)})
    writer.root_object[NameObject("/AcroForm")] = form
    out = io.BytesIO()
    writer.write(out)
    return base64.b64encode(out.getvalue()).decode()


def _widget(
    writer: PdfWriter,
    name: str,
    sort: str,
    *,
    states: tuple[str, ...] = (),
    options: list[tuple[str, str]] | None = None,
    flags: int = 0,
) -> Any:
    made = DictionaryObject(
        {
            NameObject("/Type"): NameObject("/Annot"),
            NameObject("/Subtype"): NameObject("/Widget"),
            NameObject("/FT"): NameObject(sort),
            NameObject("/T"): TextStringObject(name),
            NameObject("/Ff"): NumberObject(flags),
            NameObject("/DA"): TextStringObject("/Helv 10 Tf 0 g"),
            NameObject("/Rect"): ArrayObject([FloatObject(n) for n in (10, 10, 100, 30)]),
        }
    )
    if states:
        looks = DictionaryObject(
            {NameObject(f"/{state}"): writer._add_object(StreamObject()) for state in states}
        )
        made[NameObject("/AP")] = DictionaryObject({NameObject("/N"): looks})
        made[NameObject("/V")] = made[NameObject("/AS")] = NameObject("/Off")
    if options:
        made[NameObject("/Opt")] = ArrayObject(
            [ArrayObject([TextStringObject(one) for one in option]) for option in options]
        )
    return writer._add_object(made)


FORM = a_form()


@pytest.mark.parametrize(
    ("name", "value", "held"),
    [
        ("Urgent", "Yes", "Yes"), ("Urgent", "yes", "Yes"), ("Urgent", True, "Yes"), ("Urgent", "/Yes", "Yes"),
        ("Urgent", "Off", "Off"), ("Urgent", "no", "Off"), ("Urgent", False, "Off"), ("Urgent", "", "Off"),
        ("Dry", "yes", "Ja"), ("Dry", True, "Ja"), ("Dry", "ja", "Ja"), ("Dry", "off", "Off"),
        ("Kind", "A", "A"), ("Kind", "Switch", "S"), ("Kind", "", ""),
        ("Colour", "blue", "blue"), ("Words", "ä, ö & ß", "ä, ö & ß"), ("Words", True, "yes"),
    ],
)  # fmt: skip
def test_the_file_holds_what_the_preview_says(name: str, value: Any, held: str) -> None:
    assert form_values(FORM, {name: value}) == {name: held}
    fields = PdfReader(io.BytesIO(fill_form(FORM, {name: value}))).get_fields() or {}
    assert str(fields[name].get("/V", "")).removeprefix("/") == held


@pytest.mark.parametrize(
    ("name", "value"),
    [("Urgent", "perhaps"), ("Dry", "nein"), ("Kind", "Router"), ("Nothing", "x")],
)
def test_what_a_field_cannot_hold_is_refused(name: str, value: str) -> None:
    with pytest.raises(Invalid) as refused:
        fill_form(FORM, {name: value})
    assert name in refused.value.detail


SHEET = """
sheet: 2
desk: x-forms
vendor: x
name: Forms
kinds: [{{need: fault, routes: [support]}}]
questions:
  - id: urgent
    ask: Is it urgent?
    form: consent
    to: Dry
    wording: It is urgent.
    required: true
    {sends}
write: {{format: pdf, name: "{{packet.number}}.pdf", body: {{Words: "{{packet.title}}"}}, blank: {blank}}}
send: {{channel: sftp, drop: in, pick_up: out}}
replies: {{arrive: folder, read: pairs, match: [name], reference: $.ref, status: $.state, statuses: {{OK: settled}}}}
"""


def sheet_of(sends: str) -> tuple[Sheet | None, list[str]]:
    sheet, found = lint(SHEET.format(sends=sends, blank=FORM))
    return sheet, [one.code for one in found if one.level == "stop"]


@pytest.mark.parametrize(
    "sends", ["", "type: boolean", 'sends: {yes: "Ja", no: "Off"}', 'sends: {yes: "/Ja"}']
)
def test_a_tick_box_can_be_said_in_several_ways(sends: str) -> None:
    sheet, stops = sheet_of(sends)
    assert sheet is not None
    assert stops == []
    case = sample_packet(sheet, 1, {"packet.need": "fault"}).cases[0]
    ticked = case.model_copy(update={"body": {**case.body, "Dry": case.body["Dry"]}})
    assert "Dry: Ja" in write_case(sheet, ticked).text


def test_a_state_that_the_form_has_not_is_a_stop() -> None:
    assert sheet_of('sends: {yes: "On", no: "Off"}')[1] == []
    assert sheet_of('sends: {yes: "Yep", no: "Off"}')[1] == ["pdf-value"]


def test_a_moment_that_is_known_fills_a_date_with_its_day() -> None:
    text = SHEET.format(sends="", blank=FORM).replace(
        "questions:\n",
        "questions:\n  - {id: since, ask: Since which day?, form: date, to: Words, layout: dd/MM/yyyy, time: past,"
        " required: true, prefill: packet.began_at}\n",
    ).replace('body: {Words: "{packet.title}"}, ', "")  # fmt: skip
    sheet, found = lint(text)
    assert sheet is not None, found
    began = Fact(value="2026-11-20T23:40+01:00", source="when it began")
    (since, _) = answers_for(sheet, {}, {"packet.began_at": began})
    question = sheet.questions[0]
    assert since.value == "2026-11-20"
    assert answer_fault(question, since.value, known_for((since,), {}, {})) is None
