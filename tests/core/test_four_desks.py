"""Four desks that could not be said: each is written in few lines, sends what its vendor asks, and is read rightly."""

from __future__ import annotations

import base64
import io
import json
from datetime import date
from pathlib import Path
from typing import Any

import pytest
from pypdf import PdfReader
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.sheets import (
    Sheet,
    answers_for,
    cases_of,
    lint,
    read_given,
    refused,
    sample_values,
)
from sealpacket.core.sheets.by_hand import fields_of
from sealpacket.core.sheets.checks.severity import check_severity
from sealpacket.core.sheets.explained import explain
from sealpacket.core.sheets.hours import working_days_later
from sealpacket.core.sheets.replies import word_in
from sealpacket.core.sheets.sampling import PERSON, sample_facts
from tests.core.writing import faultless, written

FOLDER = Path(__file__).parent / "four_desks"
MOST_LINES = {
    "json-with-acts": 100, "mail-in-words": 75, "form-and-papers": 60, "telephone-or-page": 45,
}  # fmt: skip


def a_form() -> str:
    """Marrowby's blank form, in base64."""
    out = io.BytesIO()
    canvas = Canvas(out)
    form: Any = canvas.acroForm
    for place, name in enumerate(("Customer", "Rack", "Shelf", "Fault", "Who", "Tel", "Date")):
        form.textfield(name=name, x=50, y=700 - 40 * place, width=300)
    form.checkbox(name="Urgent", x=50, y=300)
    canvas.showPage()
    canvas.save()
    return base64.b64encode(out.getvalue()).decode()


def text_of(name: str) -> str:
    text = (FOLDER / f"{name}.yaml").read_text("utf-8")
    return text.replace("blank: BLANK", f"blank: {a_form()}") if "BLANK" in text else text


def sheet_of(name: str) -> Sheet:
    return faultless(text_of(name))


@pytest.mark.parametrize("name", MOST_LINES)
def test_each_fits_in_few_lines(name: str) -> None:
    assert (FOLDER / f"{name}.yaml").read_text("utf-8").count("\n") <= MOST_LINES[name]
    assert sheet_of(name).name


CHILLER = {
    "since": "2026-11-23T08:40+01:00", "summary": "It is warm", "story": "It is warm at the outlet.",
    "first": "sample",
}  # fmt: skip


def test_json_is_written_with_its_types_and_contacts() -> None:
    sheet = sheet_of("json-with-acts")
    body = json.loads(
        written(sheet, "fault", priority="2", outlet="14.2 °C", alarm="no", **CHILLER).text
    )
    assert (body["priority"], body["outlet_temp"], body["refrigerant_alarm"]) == (2, 14.2, False)
    assert body["contacts"] == [{"name": "Sam Sample", "phone": "+441632960199", "lang": "en"}]
    question = json.loads(written(sheet, "question", priority="4", **CHILLER).text)
    assert {"outlet_temp", "refrigerant_alarm"} & {*question} == set()


def test_each_refusal_is_read_by_its_status() -> None:
    sheet = sheet_of("json-with-acts")
    wrong = {"errors": [{"field": "/unit/serial", "why": "unknown unit"}]}
    (one,) = refused(sheet, wrong, 422)
    assert (one.code, one.text, one.act) == ("/unit/serial", "unknown unit", "mend_asset")
    (open_already,) = refused(sheet, {"existing": "OC-2026-004699"}, 409)
    assert open_already.text == "A breakdown of the same unit is open as OC-2026-004699"
    assert open_already.cure == "Write a comment at that case instead."
    (sign_in,) = refused(sheet, None, 401)
    assert "does not accept our sign-in" in sign_in.text


def test_a_kept_answer_says_its_status_by_its_name() -> None:
    sheet = sheet_of("json-with-acts")
    read = read_given(sheet, "409-open.json", b'{"existing": "OC-2026-004699"}')
    assert (read.news.life, read.news.turn, read.not_understood) == ("refused", "ours", ())
    read = read_given(sheet, "409-open.json", b'{"other": 1}')
    assert read.not_understood == ("The answer 409 is none of the sheet's refusals.",)


def test_the_duty_is_that_of_the_contact_who_bears_it() -> None:
    sheet = sheet_of("json-with-acts")
    people = {
        "day": {**PERSON, "name": "Day and Night", "on_call": True},
        "desk": {**PERSON, "name": "Office Hours", "on_call": False},
    }

    def faults(first: str, second: str) -> list[str]:
        typed = {"priority": "1", "first": first, "second": second}
        answers = answers_for(sheet, typed, sample_facts(sheet, {"packet.need": "fault"}))
        return [
            one.sentence for one in check_severity(sheet, answers, people) if one.level == "stop"
        ]

    assert faults("day", "desk") == []
    assert faults("desk", "day") == [
        "“The plant stands still” needs a person reachable day and night, and Office Hours is not."
    ]


def test_a_note_beside_a_solution_is_no_question() -> None:
    sheet = sheet_of("json-with-acts")
    notes = [{"n": 1, "from": "desk", "body": "The pump runs again."}]
    for phase, asks in (("SOLVED", False), ("OVER_TO_YOU", True)):
        case = json.dumps({"ticket": {"no": "OC-2026-004711"}, "phase": phase, "notes": notes})
        read = read_given(sheet, "a.json", case.encode())
        assert [one.asks for one in read.news.messages] == [asks]
        assert read.news.turn == "ours"


def test_the_preview_shows_what_an_act_sends() -> None:
    lines = explain(sheet_of("json-with-acts"))
    assert any(
        'PATCH /v3/tickets/{reference} with {"priority": 1, "because": "TEXT"}' in one
        for one in lines
    )
    assert any("DELETE /v3/tickets/{reference}?why={message.text}" in one for one in lines)
    assert any("the header X-Customer-Key" in one for one in lines)


MAIL = """From: service@pellworm.example
Subject: {subject}
Message-ID: <1@pellworm.example>
In-Reply-To: <P-0012@sealpacket.invalid>
Content-Type: text/plain; charset=utf-8

{text}
"""


@pytest.mark.parametrize(
    ("subject", "text", "reference", "status", "life", "turn", "visit"),
    [
        ("Re: [PW-88123] Störung LB-2207", "Danke.", "PW-88123", "", "lodged", "vendor", ""),
        ("Re: Störung LB-2207", "Danke.", "", "", "lodged", "vendor", ""),
        ("[PW-88123] Rückfrage zur Störung", "Bitte.", "PW-88123", "Rückfrage", "lodged", "ours", ""),
        ("[PW-88123] x", "Der Techniker kommt am 03.12.2026.", "PW-88123", "Techniker kommt",
         "lodged", "vendor", "03.12.2026"),
        ("[PW-88123] x", "Es ist ERLEDIGT, danke.", "PW-88123", "erledigt", "answered", "ours", ""),
        ("[PW-88123] x", "Das ist unerledigt.", "PW-88123", "", "lodged", "vendor", ""),
    ],
)  # fmt: skip
def test_a_mail_is_read_by_its_words(
    subject: str, text: str, reference: str, status: str, life: str, turn: str, visit: str
) -> None:
    read = read_given(
        sheet_of("mail-in-words"), "a.eml", MAIL.format(subject=subject, text=text).encode()
    )
    assert (read.reference, read.our_number) == (reference, "P-0012")
    assert (read.news.status, read.news.life, read.news.turn) == (status, life, turn)
    assert read.news.facts.get("Visit", "") == visit


def test_a_mail_is_written_as_the_desk_wants_it() -> None:
    sheet = sheet_of("mail-in-words")
    mail = written(
        sheet, "fault", words="Es druckt nicht.", urgent="yes", metres="120", back="+441632960100"
    )
    assert mail.subject == "Störung SAMPLE-0001"
    assert mail.text.splitlines()[2:] == [
        "Es druckt nicht.", "", "Gerät: SAMPLE-0001", "Kunde: C-100", "Standort: Sample site, Quillmere, GB",
        "Dringend: ja", "Druckkopf-Meter: 120", "Rückruf: +441632960100",
    ]  # fmt: skip
    assert written(sheet, "question", words="Es druckt nicht.").subject == "Frage SAMPLE-0001"


def test_a_form_and_its_list_have_names_and_dates_of_their_own() -> None:
    sheet = sheet_of("form-and-papers")
    given = {"shelf": "12", "what": "bent", "since": "2026-11-28", "who": "sample", "urgent": "yes",
             "goods": 'rail "A" | 2 | bent, twice'}  # fmt: skip
    back = written(sheet, "return", **given)
    assert back.documents["P-0001.csv"] == b'part,qty,reason\r\n"rail ""A""",2,"bent, twice"\r\n'
    fields = PdfReader(io.BytesIO(back.documents["P-0001.pdf"])).get_fields() or {}
    assert (fields["Date"]["/V"], fields["Urgent"]["/V"]) == ("28/11/2026", "/Yes")
    assert {*written(sheet, "fault", **given).documents} == {"P-0001.pdf"}


def test_a_day_is_filled_in_from_a_moment() -> None:
    sheet = sheet_of("form-and-papers")
    answers = answers_for(sheet, {}, sample_facts(sheet, {"packet.need": "fault"}))
    assert next(one.value for one in answers if one.question == "since") == "2026-11-23"


def test_a_paper_of_a_desk_that_never_closes_says_when_we_do() -> None:
    sheet = sheet_of("form-and-papers")
    paper = b"REF=MR/2026/0815\nSTATE=SENT\nTEXT=It is on its way.\nTRACK=QX 77\n"
    read = read_given(sheet, "P-0021.ans", paper)
    assert (read.reference, read.our_number) == ("MR/2026/0815", "P-0021")
    assert (read.news.life, read.news.turn, read.news.settle_after_days) == (
        "answered",
        "vendor",
        5,
    )
    assert working_days_later(sheet.hours, date(2026, 11, 27), 5) == date(2026, 12, 4)


def test_a_lift_is_told_by_telephone_or_on_a_page() -> None:
    sheet = sheet_of("telephone-or-page")
    facts = sample_facts(sheet, {"packet.need": "fault"})
    typed = {"floor": "3", "inside": "no", "what": "It stands.", "back": "+441632960100"}
    answers = answers_for(sheet, typed, facts)
    (case,) = cases_of(sheet, sample_values(sheet, answers, facts))
    spoken = fields_of(sheet, case)
    assert [one.label for one in spoken] == [
        "Contract", "Lift", "Floor", "People inside", "What happened", "Call back",
    ]  # fmt: skip
    assert spoken[1].spelled
    on_page = fields_of(sheet, case, "form")
    assert [one.label for one in on_page] == [one.label for one in spoken][:-1]
    assert not any(one.spelled for one in on_page)


@pytest.mark.parametrize(
    ("said", "word"),
    [("They say: repaired.", "repaired"), ("It needs part 7", "needs part"), ("no news", "")],
)
def test_the_words_of_a_call_tell_how_it_stands(said: str, word: str) -> None:
    assert word_in(sheet_of("telephone-or-page"), said) == word


WRONG = {
    "json-with-acts": [
        ("header: X-Customer-Key", "header: Host"),
        ("reference_example: OC-2026-004711", "reference_example: OC-26-004711"),
        ("{reference}?why={message.text}", "{reference}?why={message.txt}"),
    ],
    "mail-in-words": [
        ("$.mail.date", "$.mail.dat"),
        ("$.mail.id", "$.mail.uid"),
        ("$.parts.paper", "$.parts.papier"),
        ("(?P<paper>", "("),
        ("[PW-88123] Störung", "PW-88123 Störung"),
        ("match: [in_reply_to, references]", "match: [name]"),
    ],
    "form-and-papers": [
        ("layout: dd/MM/yyyy", "layout: dd/mm/yyyy"),
        ("$.ref\n", "$.REF\n"),
        ("match: [name]", "match: [subject]"),
        ("{packet.number}-{number}.txt", "{packet.number}.txt"),
        ("{packet.number}.csv", "{packet.number}.pdf"),
        (".re{count}", ".re"),
        ("reference_form: MR/", "reference_form: MX/"),
    ],
    "telephone-or-page": [
        ("by: form", "by: telephone"),
        ("Floor, People inside, What happened]}", "Flor, People inside, What happened]}"),
    ],
}  # fmt: skip


@pytest.mark.parametrize(
    ("name", "old", "new"), [(name, *change) for name, many in WRONG.items() for change in many]
)
def test_what_the_sheet_alone_shows_to_be_wrong_is_a_stop(name: str, old: str, new: str) -> None:
    text = text_of(name)
    assert old in text
    assert any(one.level == "stop" for one in lint(text.replace(old, new))[1])


def test_a_choice_filled_in_for_a_need_that_it_does_not_fit_is_a_stop() -> None:
    text = (
        text_of("telephone-or-page")
        .replace(
            "  - {id: floor,",
            "  - id: sort\n    ask: What is it?\n    form: choice\n    to: Sort\n"
            "    prefill: {take: packet.need, map: {fault: b}}\n"
            "    choices: [{value: a, label: A}, {value: b, label: B, needs: [question]}]\n  - {id: floor,",
        )
        .replace("kinds: [", "kinds: [{need: question, routes: [support]}, ")
    )
    assert [one.sentence for one in lint(text)[1] if one.level == "stop"] == [
        "b is filled in for fault, and is only for question."
    ]
