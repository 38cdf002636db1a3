"""The record of a packet to be read without the service: as HTML, or as PDF."""

from __future__ import annotations

import io
from collections.abc import Iterable, Sequence
from dataclasses import dataclass
from datetime import datetime
from html import escape
from pathlib import Path


@dataclass(frozen=True)
class RecordEntry:
    """An entry of the thread: its sort, when, by whom, and its text."""

    sort: str
    at: datetime
    by: str
    text: str


@dataclass(frozen=True)
class Record:
    """A packet to be read: its title, a remark below it, facts by name, files that went out, and its thread."""

    title: str
    remark: str
    facts: Sequence[tuple[str, str]]
    texts: Sequence[tuple[str, str]]
    files: Sequence[str]
    thread: Sequence[RecordEntry]


_STYLE = (
    "body{font:15px/1.5 Georgia,serif;max-width:50em;margin:2em auto;padding:0 1em;color:#211f1b}"
    "h1{font-size:1.5em}h2{font-size:1.15em;border-bottom:1px solid #ded6c6}"
    "dl{display:grid;grid-template-columns:11em 1fr}dt{color:#665f55}"
    "dd{margin:0 0 .5em 0;white-space:pre-wrap}article{margin:1em 0}"
    "article.theirs{border-left:3px solid #a3312a;padding-left:1em}"
    "article.ours{border-left:3px solid #2f5273;padding-left:1em}"
    "header{color:#665f55}p{white-space:pre-wrap;margin:.2em 0}"
)
_SORTS = {"theirs": "From the vendor", "ours": "From us"}


def to_html(record: Record) -> bytes:
    """A page of its own in HTML, without script; nothing of it is fetched from elsewhere."""
    body = [f"<h1>{escape(record.title)}</h1>", f"<p>{escape(record.remark)}</p>", "<dl>"]
    for name, value in record.facts:
        body.append(f"<dt>{escape(name)}</dt><dd>{escape(value)}</dd>")
    body.append("</dl>")
    for name, value in record.texts:
        body.append(f"<h2>{escape(name)}</h2><p>{escape(value)}</p>")
    if record.files:
        listed = "".join(f"<li>{escape(one)}</li>" for one in record.files)
        body.append(f"<h2>Files that went out</h2><ul>{listed}</ul>")
    body.append("<h2>Thread</h2>")
    for one in record.thread:
        kind = one.sort if one.sort in _SORTS else "other"
        body.append(
            f'<article class="{kind}"><header>{escape(_head(one))}</header><p>{escape(one.text)}</p></article>'
        )
    return (
        f'<!DOCTYPE html><html lang="en"><head><meta charset="utf-8"><title>{escape(record.title)}</title>'
        f"<meta http-equiv=\"Content-Security-Policy\" content=\"default-src 'none'; style-src 'unsafe-inline'\">"
        f"<style>{_STYLE}</style></head><body>{''.join(body)}</body></html>\n"
    ).encode()


def _head(one: RecordEntry) -> str:
    known = [_SORTS.get(one.sort, one.sort), one.by, f"{one.at:%d %b %Y %H:%M} UTC"]
    return ", ".join(filter(None, known))


def to_pdf(record: Record) -> bytes:
    """The same as a PDF of A4 pages, each with its number. What the typeface lacks is drawn as a box."""
    from reportlab.lib.colors import HexColor
    from reportlab.lib.enums import TA_LEFT
    from reportlab.lib.pagesizes import A4
    from reportlab.lib.styles import ParagraphStyle
    from reportlab.lib.units import mm
    from reportlab.pdfgen.canvas import Canvas
    from reportlab.platypus import Paragraph, SimpleDocTemplate, Spacer

    regular, bold = _typefaces()
    plain = ParagraphStyle(
        "plain", fontName=regular, fontSize=9, leading=12.5, alignment=TA_LEFT, splitLongWords=1
    )
    soft = ParagraphStyle("soft", plain, textColor=HexColor("#665f55"), fontSize=8, spaceBefore=6)
    first = ParagraphStyle("first", plain, fontName=bold, fontSize=15, leading=19, spaceAfter=4)
    second = ParagraphStyle(
        "second", plain, fontName=bold, fontSize=10.5, leading=14, spaceBefore=10
    )

    def text(words: str, style: ParagraphStyle = plain) -> Iterable[Paragraph]:
        for part in words.split("\n"):
            yield Paragraph(escape(part) or "&nbsp;", style)

    story = [*text(record.title, first), *text(record.remark, soft), Spacer(1, 4 * mm)]
    for name, value in record.facts:
        story += [Paragraph(f'<font color="#665f55">{escape(name)}:</font> {escape(value)}', plain)]
    for name, value in record.texts:
        story += [*text(name, second), *text(value)]
    if record.files:
        story += [*text("Files that went out", second)]
        for name in record.files:
            story += [*text(name)]
    story += [*text("Thread", second)]
    for one in record.thread:
        story += [*text(_head(one), soft), *text(one.text)]

    def foot(canvas: Canvas, document: SimpleDocTemplate) -> None:
        canvas.setFont(regular, 7.5)
        canvas.drawString(20 * mm, 12 * mm, record.title[:90])
        canvas.drawRightString(A4[0] - 20 * mm, 12 * mm, str(document.page))

    target = io.BytesIO()
    document = SimpleDocTemplate(
        target, pagesize=A4, title=record.title, author="Seal Packet", invariant=1,
        leftMargin=20 * mm, rightMargin=20 * mm, topMargin=18 * mm, bottomMargin=20 * mm,
    )  # fmt: skip
    document.build(story, onFirstPage=foot, onLaterPages=foot)
    return target.getvalue()


def _typefaces() -> tuple[str, str]:
    """A typeface with the letters of Western languages, and its bold one; it comes with reportlab."""
    import reportlab
    from reportlab.pdfbase import pdfmetrics
    from reportlab.pdfbase.ttfonts import TTFont

    folder = Path(reportlab.__file__).parent / "fonts"
    for name, file in (("Vera", "Vera.ttf"), ("VeraBold", "VeraBd.ttf")):
        if name not in pdfmetrics.getRegisteredFontNames():
            pdfmetrics.registerFont(TTFont(name, str(folder / file)))
    return "Vera", "VeraBold"
