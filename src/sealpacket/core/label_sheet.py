"""Labels of our own, to be printed."""

from __future__ import annotations

import io
from collections.abc import Iterable
from dataclasses import dataclass

from reportlab.graphics import renderPDF
from reportlab.graphics.barcode.qr import QrCodeWidget
from reportlab.graphics.shapes import Drawing
from reportlab.lib.pagesizes import A4
from reportlab.lib.units import mm
from reportlab.pdfbase.pdfmetrics import stringWidth
from reportlab.pdfgen.canvas import Canvas


@dataclass(frozen=True)
class Label:
    """One label to print: what its code holds, and lines to read beside it, the first one large."""

    code: str
    lines: tuple[str, ...]


_ACROSS, _DOWN = 3, 8
_WIDTH, _HEIGHT = 70 * mm, 37 * mm
PER_SHEET = _ACROSS * _DOWN


def label_sheet(labels: Iterable[Label], *, skip: int = 0, title: str = "Labels") -> bytes:
    """A PDF of A4 sheets with 3 × 8 labels of 70 × 37 mm; `skip` is the number left empty on the first sheet."""
    target = io.BytesIO()
    canvas = Canvas(target, pagesize=A4, invariant=1)
    canvas.setTitle(title)
    edge = (A4[1] - _DOWN * _HEIGHT) / 2
    for place, label in enumerate(labels, skip):
        spot = place % PER_SHEET
        if place > skip and spot == 0:
            canvas.showPage()
        row, column = divmod(spot, _ACROSS)
        _draw(canvas, label, column * _WIDTH, A4[1] - edge - (row + 1) * _HEIGHT)
    canvas.showPage()
    canvas.save()
    return target.getvalue()


def _draw(canvas: Canvas, label: Label, left: float, low: float) -> None:
    side = 26 * mm
    widget = QrCodeWidget(label.code, barLevel="M")
    x0, y0, x1, y1 = widget.getBounds()
    drawing = Drawing(side, side, transform=[side / (x1 - x0), 0, 0, side / (y1 - y0), 0, 0])
    drawing.add(widget)
    renderPDF.draw(drawing, canvas, left + 4 * mm, low + (_HEIGHT - side) / 2)
    room = _WIDTH - side - 9 * mm
    y = low + _HEIGHT - 11 * mm
    for place, line in enumerate(label.lines[:5]):
        font, size = ("Courier-Bold", 10.0) if place == 0 else ("Helvetica", 7.5)
        while stringWidth(line, font, size) > room and size > 5:
            size -= 0.5
        canvas.setFont(font, size)
        canvas.drawString(left + side + 6 * mm, y, _fitting(line, font, size, room))
        y -= 5 * mm if place == 0 else 3.6 * mm


def _fitting(text: str, font: str, size: float, room: float) -> str:
    while text and stringWidth(text, font, size) > room:
        text = text[:-2] + "…" if len(text) > 2 else ""
    return text
