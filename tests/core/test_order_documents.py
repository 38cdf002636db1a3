"""Reading order confirmations: what is proposed, and from where on the page."""

from __future__ import annotations

import io
from datetime import date
from email.message import EmailMessage

import pytest
from PIL import Image
from reportlab.lib.pagesizes import A4
from reportlab.lib.pdfencrypt import StandardEncryption
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.order_documents import (
    DocumentFault,
    Known,
    Reading,
    draw_page,
    id_like,
    open_document,
    read_order_document,
)
from sealpacket.demo.order_documents import kiosk_renewal, stack_mail

DAY = date(2026, 11, 23)
KNOWN = Known(
    {"lumenlathe": "Lumenlathe", "ovenbird": "Ovenbird Networks"},
    frozenset({"OBT4-300118"}),
    frozenset({"OB-ST4"}),
)


def mail(text: str, kind: str = "plain") -> bytes:
    message = EmailMessage()
    message["From"], message["Subject"] = "orders@ovenbird.example", "Your order"
    message.set_content(text, subtype=kind)
    return message.as_bytes()


def reading(content: bytes) -> Reading:
    document = open_document(content)
    return read_order_document(document.pages, KNOWN, document.sender)


def values(found: Reading) -> dict[str, str]:
    return {proposal.field: proposal.value for proposal in reversed(found.proposals)}


def pdf(draw: object = None, turn: int = 0, lock: bool = False) -> bytes:
    target = io.BytesIO()
    canvas = Canvas(
        target, pagesize=A4, encrypt=StandardEncryption("heron", "heron-owner") if lock else None
    )
    if draw == "text":
        canvas.drawString(100, 400, "Contract number: T-2210")
        canvas.drawString(100, 380, "Access code: larch-4471")
    canvas.setPageRotation(turn)
    canvas.showPage()
    canvas.save()
    return target.getvalue()


def test_a_pdf_confirmation_is_read_whole() -> None:
    found = reading(kiosk_renewal(DAY))
    assert values(found) == {
        "contract": "88-3316", "reference": "FC-3316", "starts_on": "2026-11-25", "ends_on": "2027-11-24",
        "notice_on": "2027-09-25", "level": "Full cover", "hours": "9x5", "passcode": "60-7781", "cost": "123600 GBP",
        "vendor": "lumenlathe",
    }  # fmt: skip
    things = [
        (item.serial.value, item.product and item.product.value, item.site and item.site.read)
        for item in found.items
    ]
    assert things == [
        ("LK40-7731-0927", "LK-40", "Fennel Lane"),
        ("LK40-7731-0931", "LK-40", "St Aldith"),
        ("LK40-7731-0943", "LK-40", "Mill Green"),
    ]


def test_a_mail_confirmation_is_read_whole() -> None:
    found = reading(stack_mail(DAY))
    assert values(found) == {
        "contract": "4519", "reference": "OB-4519-1", "passcode": "quartz-5520", "level": "Care", "vendor": "ovenbird",
        "starts_on": "2026-11-28", "ends_on": "2028-11-27", "cost": "114000 GBP",
    }  # fmt: skip
    assert [(item.serial.value, item.product and item.product.value) for item in found.items] == [
        ("OBT4-300118", "OB-ST4")
    ]


def test_each_value_knows_its_place_on_the_page() -> None:
    found = reading(kiosk_renewal(DAY))
    number, code = found.best("contract"), found.best("passcode")
    assert number is not None and code is not None
    assert number.place.page == 0
    assert 0.3 < number.place.left < number.place.right < 0.5
    assert number.place.top < number.place.bottom < code.place.top


@pytest.mark.parametrize("turn", [0, 90, 180, 270])
def test_places_are_right_on_turned_pages(turn: int) -> None:
    """The covered place is black, and nothing else is: the place fits the page as it is drawn."""
    document = open_document(pdf("text", turn))
    found = read_order_document(document.pages)
    assert values(found)["passcode"] == "larch-4471"
    bare, covered = (
        Image.open(io.BytesIO(draw_page(pdf("text", turn), document.pages[0], places))).convert("L")
        for places in ([], found.covered)
    )
    place = found.covered[0]
    left, right = round(place.left * bare.width), round(place.right * bare.width)
    top, bottom = round(place.top * bare.height), round(place.bottom * bare.height)
    low, high = bare.crop((left, top, right, bottom)).getextrema()
    assert low < 100 < high
    assert covered.crop((left, top, right, bottom)).getextrema()[1] < 60
    bare.paste(255, (left - 3, top - 3, right + 3, bottom + 3))
    covered.paste(255, (left - 3, top - 3, right + 3, bottom + 3))
    assert bare.tobytes() == covered.tobytes()


@pytest.mark.parametrize(
    ("text", "field", "value"),
    [
        ("Contract number: T-2210", "contract", "T-2210"),
        ("Contract No. T-2210", "contract", "T-2210"),
        ("Contract no      T-2210", "contract", "T-2210"),
        ("CONTRACT NUMBER\n4471/B", "contract", "4471/B"),
        ("your contract 88-4107 has been renewed.", "contract", "88-4107"),
        ("Vertragsnummer: 2026.118", "contract", "2026.118"),
        ("Support ID: TSE-301877", "reference", "TSE-301877"),
        ("The passcode is heron-22.", "passcode", "heron-22"),
        ("Telephone PIN: 0042", "passcode", "0042"),
        ("Start date: 1st December 2026", "starts_on", "2026-12-01"),
        ("Valid until: 2027-11-30", "ends_on", "2027-11-30"),
        ("Cancel by: 31.08.2027", "notice_on", "2027-08-31"),
        ("from 1 December 2026 to 30 November 2027", "ends_on", "2027-11-30"),
        ("Term: 36 months from 31 January 2027", "ends_on", "2030-01-30"),
        ("Laufzeit: 01.12.2026 bis 30.11.2027", "starts_on", "2026-12-01"),
        ("Term: one year from 29 February 2028", "ends_on", "2029-02-27"),
        ("Total price: EUR 1.236,50", "cost", "123650 EUR"),
        ("Total price: £ 412", "cost", "41200 GBP"),
        ("Total: JPY 98,000", "cost", "98000 JPY"),
        ("Level of service: Priority, day and night", "level", "Priority, day and night"),
    ],
)  # fmt: skip
def test_labels_and_values_as_order_documents_write_them(text: str, field: str, value: str) -> None:
    assert values(reading(mail(text))).get(field) == value


@pytest.mark.parametrize(
    "text",
    [
        "Please read the contract before you sign it.",
        "The contract runs out on 31 December 2026 unless you cancel.",
        "Give your PIN whenever you call. It is not to be passed on.",
        "Our service hours have changed.",
        "Contract number: to follow",
        "In total we are 12 people.",
    ],
)
def test_prose_proposes_nothing(text: str) -> None:
    assert set(values(reading(mail(text)))) <= {"starts_on", "ends_on"}
    assert reading(mail(text)).items == []


def test_a_date_that_reads_two_ways_is_not_sure() -> None:
    found = [
        proposal
        for proposal in reading(mail("Start date: 03/04/2026")).proposals
        if proposal.field == "starts_on"
    ]
    assert [(one.value, one.sure) for one in found] == [
        ("2026-04-03", False),
        ("2026-03-04", False),
    ]
    assert reading(mail("Start date: 23/04/2026")).proposals[0].sure


def test_two_contract_numbers_are_both_proposed_the_labelled_one_first() -> None:
    found = reading(mail("This takes the place of contract 88-3316.\nContract number: 88-4600"))
    assert [(one.value, one.sure) for one in found.proposals if one.field == "contract"] == [
        ("88-4600", True),
        ("88-3316", False),
    ]


def test_html_mails_are_read_by_row_and_cell() -> None:
    table = "<tr><th>Part no</th><th>Serial number</th></tr><tr><td>OB-ST4</td><td>OBT4-300118</td></tr>"
    found = reading(
        mail(
            f"<style>p {{x: 1}}</style><p>Contract no:&nbsp;<b>4519</b></p><table>{table}</table>",
            "html",
        )
    )
    assert values(found)["contract"] == "4519"
    assert [(item.serial.value, item.product and item.product.value) for item in found.items] == [
        ("OBT4-300118", "OB-ST4")
    ]


def test_a_pdf_that_came_with_a_mail_is_read_and_drawn() -> None:
    message = EmailMessage()
    message["From"], message["Subject"] = "contracts@lumenlathe.example", "Order confirmation"
    message.set_content("Please find it attached.")
    message.add_attachment(
        kiosk_renewal(DAY), maintype="application", subtype="pdf", filename="confirmation.pdf"
    )
    message.add_attachment(
        b"%PDF-1.4 broken", maintype="application", subtype="pdf", filename="terms.pdf"
    )
    document = open_document(message.as_bytes())
    found = read_order_document(document.pages, KNOWN, document.sender)
    assert [(page.kind, page.source) for page in document.pages] == [
        ("text", ""),
        ("picture", "confirmation.pdf"),
    ]
    assert values(found)["contract"] == "88-3316"
    assert {place.page for place in found.covered} == {1}
    picture = draw_page(message.as_bytes(), document.pages[1], found.covered)
    assert Image.open(io.BytesIO(picture)).width == 1100


def test_serials_outside_of_tables_are_found_by_label_or_because_we_know_them() -> None:
    found = reading(
        mail(
            "Serial numbers: OBF2-118804, OBF2-118805 and OBF2-118806\nFor OBT4-300118 nothing changes. See ABC-1234."
        )
    )
    assert [(item.serial.value, item.serial.sure) for item in found.items] == [
        ("OBF2-118804", True), ("OBF2-118805", True), ("OBF2-118806", True), ("OBT4-300118", False),
    ]  # fmt: skip
    assert id_like(open_document(mail("OB-ST4 (12), twelve")).pages) == {"OB-ST4"}


def test_every_occurrence_of_a_passcode_is_covered() -> None:
    found = reading(mail("Access code: heron-22x\n\nWhen you call, say heron-22x first."))
    assert len(found.covered) == 2


@pytest.mark.parametrize(
    ("content", "words"),
    [
        (b"", "neither"),
        (b"\0\1\2", "neither"),
        (b"just words", "not a mail message"),
        (b"%PDF-1.7 nonsense", "damaged"),
        (pdf(), "no text"),
        (pdf("text", lock=True), "locked"),
    ],
)
def test_what_cannot_be_read_is_told_with_a_remedy(content: bytes, words: str) -> None:
    with pytest.raises(DocumentFault, match=words) as fault:
        open_document(content)
    assert fault.value.remedy
