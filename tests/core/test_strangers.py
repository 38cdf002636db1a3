"""Three desks as a stranger met them: what they need can be said, in few lines, and is sent as it should be."""

from __future__ import annotations

import json
from pathlib import Path

import pytest

from sealpacket.core.sheets import (
    Sheet,
    find_number,
    load_sheet,
    read_given,
    read_reply,
)
from sealpacket.core.sheets.mails import read_mail
from sealpacket.core.sheets.replying import Saying, reply_for
from sealpacket.core.sheets.sending import AsPdf
from sealpacket.demo.world import sheet_text
from tests.core.writing import faultless, written

FOLDER = Path(__file__).parent / "strangers"
MOST_LINES = {"json-eleven-fields": 60, "mail-seven-labels": 50, "pdf-with-list": 70}


def text_of(name: str) -> str:
    text = (FOLDER / f"{name}.yaml").read_text("utf-8")
    claims = load_sheet(sheet_text("saddlewick-claims"))
    assert isinstance(claims.write, AsPdf)
    return text.replace("blank: BLANK", f"blank: {''.join(claims.write.blank.split())}")


def sheet_of(name: str) -> Sheet:
    return faultless(text_of(name))


@pytest.mark.parametrize("name", MOST_LINES)
def test_each_fits_in_few_lines(name: str) -> None:
    assert (FOLDER / f"{name}.yaml").read_text("utf-8").count("\n") <= MOST_LINES[name]
    assert sheet_of(name).name


def test_json_has_types_conditions_and_words_of_the_desk() -> None:
    sheet = sheet_of("json-eleven-fields")
    given = {"at": "2026-11-23T08:40+01:00", "text": "It is cold.", "who": "sample"}
    fault = json.loads(
        written(sheet, "fault", urgency="now", alarm="H07", access="yes", **given).text
    )["req"]
    assert fault == {
        "type": "DEFECT", "meter": "SAMPLE-0001", "customerRef": "P-0001", "place": "Sample site, 1 Sample Street",
        "urgency": "1", "alarm": "H07", "observedAt": "2026-11-23T08:40:00+01:00", "description": "It is cold.",
        "access": True, "contact": {"name": "Sam Sample", "phone": "+441632960199"},
    }  # fmt: skip
    reading = json.loads(written(sheet, "reading", reading="4711 kWh", **given).text)["req"]
    assert reading["reading"] == 4711
    assert {"place", "urgency", "alarm", "access"} & set(reading) == set()


def test_a_remedy_serves_every_path_below_it() -> None:
    sheet = sheet_of("json-eleven-fields")
    for code, act in (
        ("req.contact.phone", "reopen"),
        ("req.meter", "mend_asset"),
        ("req.text", ""),
    ):
        reply = reply_for(sheet, Saying(refused_as=code, refused_words="no"))
        assert [one.act for one in read_given(sheet, "", reply).refusals] == [act]


def test_a_mail_has_seven_labels_some_of_them_under_conditions() -> None:
    sheet = sheet_of("mail-seven-labels")
    given = {
        "counter": "100 pages",
        "since": "2026-11-23T08:40+01:00",
        "text": "It jams often.",
        "who": "sample",
    }
    mail = written(sheet, "fault", parts="drum, fuser", **given)
    assert mail.subject == "[fault] SAMPLE-0001"
    assert mail.text.splitlines()[2:] == [
        "### TICKET ###", "SERIAL: SAMPLE-0001", "PARTS: drum + fuser", "CONTACT: Sam Sample / +441632960199 / Sample site",
        "MODEL: SAMPLE", "COUNTER: 100", "SINCE: 23.11.2026 08:40", "TEXT: It jams often.", "### END ###",
    ]  # fmt: skip
    question = written(sheet, "question", **given).text
    assert "COUNTER" not in question
    assert "PARTS" not in question


MAIL = "From: desk@sorrelgate.example\nSubject: {subject}\nMessage-ID: <9@x>\n{heads}\n\nTicket: SG-1\nState: your turn\n\nWhich?\n"


@pytest.mark.parametrize(
    ("subject", "heads", "number"),
    [
        ("Re: x", "In-Reply-To: <P-0012@sealpacket.invalid>", "P-0012"),
        ("Re: x", "References: <1@x> <P-0012-1@sealpacket.invalid>", "P-0012"),
        ("Re: (ref P-0013) x", "X-A: b", "P-0013"),
        ("Re: P-0013 x", "X-A: b", ""),
        ("Re: x", "In-Reply-To: <P-0012@elsewhere.example>", ""),
    ],
)
def test_a_mail_finds_its_packet_without_our_number(subject: str, heads: str, number: str) -> None:
    sheet = sheet_of("mail-seven-labels")
    data = MAIL.format(subject=subject, heads=heads).encode()
    assert find_number(sheet, read_mail(data)) == number
    read = read_given(sheet, "a.eml", data)
    assert (read.reference, read.news.turn, read.our_number) == ("SG-1", "ours", number)
    assert bool(read.not_understood) == (number == "")


def test_a_form_has_a_body_for_each_kind_and_a_list_for_one() -> None:
    sheet = sheet_of("pdf-with-list")
    given = {"what": "battery", "fault": "It is swollen.", "since": "2026-11-22", "load": "300 W", "who": "sample",
             "safe": "yes", "goods": "Cell | 4"}  # fmt: skip
    back = written(sheet, "return", **given)
    assert set(back.documents) == {"P-0001.pdf", "P-0001.csv"}
    assert back.documents["P-0001.csv"] == b"Line,Part,Quantity,Serial\r\n1,Cell,4,SAMPLE-0001\r\n"
    assert "Collect: 1 Sample Street, QM1 1AA, GB\n" in back.text
    assert {"Return: BAT", "Since: 22/11/2026", "Load: 300 W", "Safe: Yes"} <= set(
        back.text.splitlines()
    )
    fault = written(sheet, "fault", **given)
    assert set(fault.documents) == {"P-0001.pdf"}
    assert "Collect" not in fault.text


def test_papers_of_key_and_value_find_their_packet_by_name() -> None:
    sheet = sheet_of("pdf-with-list")
    paper = b'# from Tansy\nRMA=TB-7\nSTATE=ASK\nTEXT="Which cell?"\n'
    tree = read_reply(sheet, paper)
    assert find_number(sheet, tree, "answer_P-0021.txt") == "P-0021"
    read = read_given(sheet, "answer_P-0021.txt", paper)
    assert (read.reference, read.our_number, read.news.turn) == ("TB-7", "P-0021", "ours")
    assert read.news.messages[0].text == "Which cell?"
    assert read.news.messages[0].asks


def test_rows_of_csv_are_read_whatever_parts_them() -> None:
    text = (
        text_of("pdf-with-list")
        .replace("read: pairs", "read: csv")
        .replace("$.rma", "$.rows[0].rma_no")
    )
    sheet = load_sheet(text.replace("status: $.state", "status: $.rows[0].state"))
    for paper in (b"RMA no,State\nTB-7,SENT\n", b"\xef\xbb\xbfRMA no;State\r\nTB-7;SENT\r\n"):
        read = read_given(sheet, "P-0021.csv", paper)
        assert (read.reference, read.news.life, read.our_number) == ("TB-7", "answered", "P-0021")
