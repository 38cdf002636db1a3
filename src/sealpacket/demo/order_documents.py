"""Order documents of the demo world: order confirmations as vendors send them. Everything in them is invented."""

from __future__ import annotations

import io
from datetime import date, timedelta
from email.message import EmailMessage
from pathlib import Path

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle, getSampleStyleSheet
from reportlab.lib.units import mm
from reportlab.platypus import Flowable, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

_LINE = TableStyle(
    [("LINEBELOW", (0, 0), (-1, 0), 0.6, colors.black), ("LINEBELOW", (0, 1), (-1, -1), 0.2, colors.grey),
     ("FONTSIZE", (0, 0), (-1, -1), 9), ("FONTNAME", (0, 0), (-1, 0), "Helvetica-Bold")]
)  # fmt: skip
_PLAIN = TableStyle([("FONTSIZE", (0, 0), (-1, -1), 9.5)])


def _day(day: date) -> str:
    return f"{day.day} {day:%B} {day.year}"


def kiosk_renewal(today: date, new: str = "LK40-7731-0943") -> bytes:
    """Lumenlathe's confirmation that cover of the second lot of kiosks is renewed, with one `new` kiosk more."""
    starts = today + timedelta(days=2)
    ends = date(starts.year + 1, starts.month, min(starts.day, 28)) - timedelta(days=1)
    styles = getSampleStyleSheet()
    text = ParagraphStyle("text", parent=styles["Normal"], fontSize=9.5, leading=14)
    facts = [
        ["Contract number:", "88-3316"],
        ["Entitlement number:", "FC-3316"],
        ["Contract period:", f"{_day(starts)} to {_day(ends)}"],
        ["Notice by:", _day(ends - timedelta(days=60))],
        ["Service level:", "Full cover"],
        ["Service hours:", "9x5"],
        ["Telephone PIN:", "60-7781"],
    ]
    rows = [
        ["Pos", "Part no.", "Description", "Serial number", "Site", "Net"],
        [
            "1",
            "LK-40",
            "Lending kiosk LK-40, full cover",
            "LK40-7731-0927",
            "Fennel Lane",
            "412.00",
        ],
        ["2", "LK-40", "Lending kiosk LK-40, full cover", "LK40-7731-0931", "St Aldith", "412.00"],
        ["3", "LK-40", "Lending kiosk LK-40, full cover", new, "Mill Green", "412.00"],
        ["", "", "", "", "Total net:", "GBP 1,236.00"],
    ]
    story: list[Flowable] = [
        Paragraph("<b>Lumenlathe</b> · Contracts desk · contracts@lumenlathe.example", text),
        Spacer(1, 10 * mm),
        Paragraph("Quillmere County Libraries<br/>Unit 4, Tannery Yard<br/>QM2 8LT", text),
        Spacer(1, 8 * mm),
        Paragraph("Order confirmation 2026-30518", styles["Heading2"]),
        Paragraph(
            f"Dear Ms Oswin, thank you for your order of {_day(today)}. We confirm the renewal of your contract for "
            "lending kiosks as follows.",
            text,
        ),
        Spacer(1, 5 * mm),
        Table(facts, colWidths=[45 * mm, 80 * mm], hAlign="LEFT", style=_PLAIN),
        Spacer(1, 6 * mm),
        Table(
            rows,
            colWidths=[12 * mm, 20 * mm, 56 * mm, 36 * mm, 26 * mm, 26 * mm],
            hAlign="LEFT",
            style=_LINE,
        ),
        Spacer(1, 8 * mm),
        Paragraph("Please give your PIN whenever you call. It is not to be passed on.", text),
    ]
    target = io.BytesIO()
    document = SimpleDocTemplate(
        target,
        pagesize=A4,
        leftMargin=20 * mm,
        rightMargin=20 * mm,
        title="Order confirmation",
        invariant=1,
    )
    document.build(story)
    return target.getvalue()


def stack_mail(today: date) -> bytes:
    """Ovenbird's mail that the core stack is covered from now on."""
    starts = today + timedelta(days=5)
    message = EmailMessage()
    message["From"] = "Ovenbird Networks contracts <contracts@ovenbird.example>"
    message["To"] = "marit.oswin@quillmere.example"
    message["Subject"] = "Your order: cover for one switch stack"
    message["Date"] = f"{today:%a, %d %b %Y} 09:12:00 +0000"
    message["Message-ID"] = "<order-88120@ovenbird.example>"
    message.set_content(
        "Good morning Marit,\n\n"
        "your order is through. This is what you need to keep:\n\n"
        "Contract no.    4519\n"
        "Entitlement     OB-4519-1\n"
        "Access code     quartz-5520\n"
        "Service level   Care\n"
        f"Cover is for 24 months from {_day(starts)}.\n"
        "Price per year  GBP 1,140.00\n\n"
        "Part no.   Description             Serial\n"
        "OB-ST4     ST4 switch stack        OBT4-300118\n\n"
        "Kind regards\nOvenbird Networks, contracts desk\n"
    )
    return message.as_bytes()


def kiosk_statement(today: date) -> bytes:
    """Lumenlathe's own list of what it covers: most of it right, some of it not."""

    def row(serial: str, agreement: str, plan: str, first: int, last: int, place: str) -> str:
        begins, ends = today + timedelta(days=first), today + timedelta(days=last)
        return f"{serial};{agreement};{plan};{begins:%d.%m.%Y};{ends:%d.%m.%Y};{place}"

    full, parts = "Full cover", "Parts only"
    rows = [
        "Machine number;Agreement;Plan;Valid from;Valid until;Location",
        row("LK40-7731-0926", "88-4107", full, -237, 128, "Fennel Lane"),
        row("LK40-7731-O928", "88-4107", full, -237, 128, "Harrow Road"),
        row("LK40-7731-0929", "88-4107", full, -237, 98, "Harrow Road"),
        row("LK40-7731-0931", "88-4107", full, -60, 128, "St Aldith"),
        row("LK40-7731-0926", "88-2950", parts, -295, 70, "Fennel Lane"),
        row("LK40-7731-0928", "88-2950", parts, -295, 70, "Quay Street"),
        row("BS8-2204-01", "88-4512", parts, -284, 81, "Book store"),
        row("LK40-5502-0117", "88-4512", full, -284, 81, "Book store"),
    ]
    return "\r\n".join(rows).encode("cp1252")


def write(folder: Path, today: date) -> list[Path]:
    """Write all order documents into a folder."""
    order_documents = {
        "lumenlathe-88-3316.pdf": kiosk_renewal(today),
        "ovenbird-4519.eml": stack_mail(today),
    }
    for name, content in order_documents.items():
        (folder / name).write_bytes(content)
    return [folder / name for name in order_documents]
