"""Pictures and PDF pages: what is covered, whichever way up; boxes drawn by hand; what can be found as text."""

from __future__ import annotations

import io
import subprocess
from collections.abc import Mapping, Sequence

import pypdfium2
import pytest
import zxingcpp
from PIL import Image, ImageDraw, ImageFont
from pypdf import PdfReader, PdfWriter, Transformation
from pypdf.generic import RectangleObject
from reportlab.pdfgen.canvas import Canvas

from sealpacket.core.redact import Held, Legend, Placeholders, check_file
from sealpacket.core.redact.boxes import Box, part_of, side_by_side
from sealpacket.core.redact.readers import Work, copy_file
from sealpacket.core.redact.readers.pages import page_picture
from sealpacket.core.redact.readers.pictures import Word, over_words
from tests.core.seeds import CATALOGUE

LINES = "error E0417 on panel two\nclient 10.40.7.22 refused\nwrite to Ines Harrowgate now\n"
SECRETS = ("Harrowgate", "10.40.7.22")
PAGE = (595, 240)
"""Points: the longer a page, the longer it is read."""


def redacted(
    data: bytes,
    name: str,
    drawn: Mapping[int, Sequence[Box]] | None = None,
    *,
    searchable: bool = False,
) -> tuple[bytes, Work]:
    work = Work(CATALOGUE, Placeholders(b"k" * 32), drawn=drawn or {}, searchable=searchable)
    target = io.BytesIO()
    copy_file(io.BytesIO(data), target, work, name)
    return target.getvalue(), work


def picture_of(lines: str) -> Image.Image:
    picture = Image.new("RGB", (900, 60 + 44 * lines.count("\n")), "white")
    ImageDraw.Draw(picture).text(
        (20, 20), lines, fill="black", font=ImageFont.load_default(26), spacing=16
    )
    return picture


def saved(picture: Image.Image, form: str, **more: object) -> bytes:
    data = io.BytesIO()
    picture.save(data, form, **more)
    return data.getvalue()


def read(picture: Image.Image) -> str:
    """All that is read on it, the way up that it has."""
    larger = picture.convert("L").resize((picture.width * 2, picture.height * 2))
    return subprocess.run(
        ["tesseract", "stdin", "stdout", "--psm", "11"], input=saved(larger, "PNG"), check=True,
        capture_output=True, env={"OMP_THREAD_LIMIT": "1", "PATH": "/usr/bin:/bin"},
    ).stdout.decode()  # fmt: skip


def pdf(lines: str = LINES) -> bytes:
    """Two pages; the first has these lines, and an author."""
    data = io.BytesIO()
    canvas = Canvas(data, PAGE)
    canvas.setAuthor("Ines Harrowgate")
    canvas.setFont("Helvetica", 20)
    for number, line in enumerate(lines.splitlines()):
        canvas.drawString(60, 200 - 40 * number, line)
    canvas.showPage()
    canvas.drawString(60, 200, "second page E0417")
    canvas.save()
    return data.getvalue()


def page_of(copy: bytes, number: int = 1) -> Image.Image:
    return Image.open(io.BytesIO(page_picture(io.BytesIO(copy), number)))


@pytest.mark.parametrize("form", ["PNG", "JPEG", "GIF", "WEBP"])
def test_words_on_a_picture_are_covered_and_its_metadata_is_gone(form: str) -> None:
    exif = Image.Exif()
    exif[0x013B] = "Ines Harrowgate"
    more = {} if form in ("GIF", "BMP") else {"exif": exif}
    copy, work = redacted(saved(picture_of(LINES), form, **more), "a")
    goes = Image.open(io.BytesIO(copy))
    assert goes.format == form
    words = read(goes)
    assert [secret for secret in SECRETS if secret in words] == []
    assert "E0417" in words
    assert len(goes.getexif()) == 0 or form == "TIFF"  # the tags of a TIFF are its format
    assert b"Harrowgate" not in copy
    assert work.outcome.counts["ip"] == 1
    [page] = work.outcome.pages
    assert {one.kind for one in page.covered} == {"ip", "person"}


def test_a_box_says_what_it_stands_for() -> None:
    copy, work = redacted(saved(picture_of(LINES), "PNG"), "a.png")
    [ip] = [one for one in work.outcome.pages[0].covered if one.kind == "ip"]
    label = Image.open(io.BytesIO(copy)).crop(ip.box)
    larger = label.resize((label.width * 3, label.height * 3))
    assert "ip:q" in read(larger).replace(" ", "")


@pytest.mark.parametrize("turn", [90, 180])
def test_words_that_stand_on_their_side_are_covered(turn: int) -> None:
    turned = picture_of(LINES).rotate(turn, expand=True)
    copy, _ = redacted(saved(turned, "PNG"), "a.png")
    goes = Image.open(io.BytesIO(copy)).rotate(-turn, expand=True)
    words = read(goes)
    assert [secret for secret in SECRETS if secret in words] == []
    assert "E0417" in words


def test_a_photo_is_turned_as_its_camera_says() -> None:
    exif = Image.Exif()
    exif[0x0112] = 6  # it was held on its side: a quarter turn clockwise sets it right
    copy, _ = redacted(saved(picture_of(LINES).rotate(90, expand=True), "JPEG", exif=exif), "a.jpg")
    goes = Image.open(io.BytesIO(copy))
    assert goes.width > goes.height
    assert "Harrowgate" not in read(goes)


def test_what_is_transparent_is_seen_as_on_paper() -> None:
    picture = picture_of(LINES).convert("RGBA")
    picture.putalpha(Image.eval(picture.convert("L"), lambda level: 255 - level))
    copy, _ = redacted(saved(picture, "PNG"), "a.png")
    goes = Image.open(io.BytesIO(copy))
    assert goes.mode == "RGB"
    assert "Harrowgate" not in read(goes)
    assert "E0417" in read(goes)


def test_a_code_is_covered_if_it_says_something() -> None:
    picture = Image.new("RGB", (700, 300), "white")
    for place, text in ((20, "host br07-kiosk2.quillmere.example"), (350, "E0417")):
        code = Image.fromarray(
            zxingcpp.write_barcode_to_image(
                zxingcpp.create_barcode(text, zxingcpp.BarcodeFormat.QRCode), scale=7
            )
        )
        picture.paste(code.convert("RGB"), (place, 20))
    copy, work = redacted(saved(picture, "PNG"), "a.png")
    assert [code.text for code in zxingcpp.read_barcodes(Image.open(io.BytesIO(copy)))] == ["E0417"]
    assert [one.kind for one in work.outcome.pages[0].covered] == ["host"]


@pytest.mark.parametrize(
    "data", [b"\x89PNG\r\n\x1a\n" + b"0" * 40, b"RIFF\x10\0\0\0WEBPVP8 ", b"GIF89a", b"%PDF-1.7\n"]
)
def test_what_cannot_be_drawn_is_held_and_not_shown(data: bytes) -> None:
    with pytest.raises(Held):
        redacted(data, "a")
    with pytest.raises(Held):
        page_picture(io.BytesIO(data), 1)


def test_a_pdf_becomes_pictures_of_its_pages() -> None:
    copy, work = redacted(pdf(), "a.pdf")
    assert b"Harrowgate" not in copy
    document = pypdfium2.PdfDocument(copy)
    assert len(document) == 2
    assert document[0].get_textpage().get_text_bounded() == ""
    words = read(page_of(copy))
    assert [secret for secret in SECRETS if secret in words] == []
    assert "E0417" in words
    assert work.outcome.counts["person"] >= 1
    assert [len(page.covered) > 0 for page in work.outcome.pages] == [True, False]


@pytest.mark.parametrize(("turn", "moved"), [(0, True), (90, True), (270, False)])
def test_letters_are_covered_where_they_are_drawn(turn: int, moved: bool) -> None:
    """A page may be turned, and its corner may lie anywhere in its own space."""
    writer = PdfWriter()
    page = writer.add_page(PdfReader(io.BytesIO(pdf())).pages[0])
    if moved:
        page.add_transformation(Transformation().translate(300, -90))
        page.mediabox = page.cropbox = RectangleObject((300, -90, 300 + PAGE[0], -90 + PAGE[1]))
    page.rotate(turn)
    data = io.BytesIO()
    writer.write(data)
    _, work = redacted(data.getvalue(), "a.pdf")
    first = next(one for one in work.outcome.pages[0].covered if one.kind == "ip")
    shown = pypdfium2.PdfDocument(data.getvalue())[0].render(scale=2).to_pil()
    left, top, right, bottom = first.box
    beneath = shown.crop((left - 8, top - 8, right + 8, bottom + 8)).rotate(turn, expand=True)
    assert "10.40.7.22" in read(beneath)


@pytest.mark.parametrize(
    ("seen", "value"),
    [
        ("brO7-kiosk2", "br07-kiosk2"), ("br07-ki0sk2:8443", "br07-kiosk2"), ("lnes Harr0wgate", "ines harrowgate"),
        ("peer l0.4O.7.22", "10.40.7.22"), ("LK4O-773l-0931", "lk40-7731-0931"), ("E0417 at O8:40", None),
    ],
)  # fmt: skip
def test_what_is_easily_misread_is_known_all_the_same(seen: str, value: str | None) -> None:
    work = Work(CATALOGUE, Placeholders(b"k" * 32))
    words = [Word(text, (100 * n, 0, 100 * n + 95, 20)) for n, text in enumerate(seen.split())]
    covered = list(over_words(words, work))
    assert [original.lower().decode() for _, original in work.outcome.legend.originals()] == (
        [value] if value else []
    )
    assert len(covered) == (value is not None)


def test_a_kept_value_that_was_misread_stays() -> None:
    work = Work(CATALOGUE.with_values([("asset", b"LK40-7731-0929")]), Placeholders(b"k" * 32))
    assert list(over_words([Word("LK4O-7731-O929", (0, 0, 100, 20))], work)) == []


def test_where_a_form_has_room_a_log_has_a_colon() -> None:
    work = Work(CATALOGUE, Placeholders(b"k" * 32))
    words = [Word("Last", (0, 0, 40, 20)), Word("reader", (46, 0, 99, 20)), Word("Odile", (180, 0, 220, 20)),
             Word("Marchmont,", (226, 0, 300, 20)), Word("E0417", (306, 0, 360, 20))]  # fmt: skip
    assert [one.box for one in over_words(words, work)] == [(180, 0, 300, 20)]


def test_boxes_that_a_person_drew_are_burnt_in() -> None:
    drawn = {1: [Box(0, 0.05, 1, 0.3)], 2: [Box(0.05, 0.1, 0.9, 0.3)]}
    copy, work = redacted(saved(picture_of(LINES), "PNG"), "a.png", drawn)
    assert "E0417" not in read(Image.open(io.BytesIO(copy)))
    assert [one.kind for one in work.outcome.pages[0].covered][-1] == "drawn"
    copy, work = redacted(pdf(), "a.pdf", drawn, searchable=True)
    assert "E0417" not in read(page_of(copy, 2))
    text = pypdfium2.PdfDocument(copy)[1].get_textpage().get_text_range()
    assert "E0417" not in text
    assert [one.kind for one in work.outcome.pages[1].covered] == ["drawn"]


def test_a_copy_can_be_searched_for_what_can_be_seen_and_for_nothing_else() -> None:
    """A box that somebody drew over a text in the PDF covers it for the eye only."""
    data = io.BytesIO()
    canvas = Canvas(data, PAGE)
    canvas.setFont("Helvetica", 20)
    canvas.drawString(60, 200, "client 10.40.7.22 refused: E0417")
    canvas.drawString(60, 160, "Heron is what nobody sees")
    canvas.rect(55, 150, 300, 30, fill=1)
    canvas.save()
    copy, work = redacted(data.getvalue(), "a.pdf", searchable=True)
    text = pypdfium2.PdfDocument(copy)[0].get_textpage().get_text_range()
    [ip] = [one.placeholder for one in work.outcome.pages[0].covered if one.kind == "ip"]
    assert f"client {ip} refused: E0417" in " ".join(text.split())
    assert "Heron" not in text
    assert check_file(io.BytesIO(copy), work.outcome.legend).clean


def test_the_leak_check_reads_what_can_be_seen_and_what_can_be_found() -> None:
    legend = Legend()
    legend.add(b"[person:aaaaaaaaaa]", b"Ines Harrowgate")
    legend.add(b"[host:bbbbbbbbbb]", b"br07-kiosk2.quillmere.example")
    code = Image.fromarray(
        zxingcpp.write_barcode_to_image(
            zxingcpp.create_barcode("br07-kiosk2.quillmere.example", zxingcpp.BarcodeFormat.QRCode),
            scale=6,
        )
    )
    for data, kinds in (
        (saved(picture_of(LINES), "PNG"), ["person"]), (saved(code, "PNG"), ["host"]), (pdf(), ["person"]),
        (saved(picture_of("error E0417\n"), "PNG"), []),
    ):  # fmt: skip
        report = check_file(io.BytesIO(data), legend)
        assert [leak.kind for leak in report.leaks] == kinds


def test_a_page_is_shown_and_a_large_one_smaller() -> None:
    assert page_of(pdf(), 2).size == (1190, 480)
    large = saved(Image.new("RGB", (6000, 4000), "white"), "PNG")
    assert page_of(large).size == (2449, 1632)
    for number in (0, 3):
        with pytest.raises(IndexError):
            page_picture(io.BytesIO(pdf()), number)
    with pytest.raises(IndexError):
        page_picture(io.BytesIO(large), 2)


def test_boxes_in_parts_of_a_page_lose_nothing() -> None:
    assert Box(0.101, 0.5, 0.2, 0.7001).on((1000, 10)) == (101, 5, 200, 8)
    assert part_of((0, 5, 1000, 20), (1000, 10)) == Box(0, 0.5, 1, 1)
    letters = [(0, 0, 9, 20), (10, 2, 19, 20), (50, 0, 70, 20), (60, 30, 70, 50)]
    assert side_by_side(letters) == [(0, 0, 70, 20), (60, 30, 70, 50)]
