"""Reading codes from photos, what they say, and printing labels."""

from __future__ import annotations

import io

import pypdfium2
import pytest
import zxingcpp
from PIL import Image, ImageFilter

from sealpacket.core.label_sheet import PER_SHEET, Label, label_sheet
from sealpacket.core.labels import PhotoFault, Said, gs1_elements, meaning, read_codes

IDENT = "3f0a1c52-77aa-4be0-9a55-0d6c2a5f9e11"


def photo(
    text: str, symbology: str = "QRCode", *, turn: int = 0, blur: float = 0, kind: str = "PNG"
) -> bytes:
    """A code on a grey sheet, as a camera may see it."""
    code = zxingcpp.create_barcode(text, getattr(zxingcpp.BarcodeFormat, symbology))
    picture = Image.fromarray(zxingcpp.write_barcode_to_image(code, scale=5)).convert("L")
    sheet = Image.new("L", (picture.width + 300, picture.height + 300), 200)
    sheet.paste(picture, (150, 150))
    sheet = sheet.rotate(turn, expand=True, fillcolor=200).filter(ImageFilter.GaussianBlur(blur))
    target = io.BytesIO()
    sheet.save(target, kind)
    return target.getvalue()


@pytest.mark.parametrize(("symbology", "turn", "blur", "kind"), [
    ("QRCode", 0, 0, "PNG"), ("QRCode", 17, 1.5, "JPEG"), ("DataMatrix", 90, 0.5, "WEBP"), ("Code128", 180, 0, "JPEG"), ("Code39", 0, 0, "TIFF"),
])  # fmt: skip
def test_codes_are_read_turned_blurred_and_of_any_symbology(
    symbology: str, turn: int, blur: float, kind: str
) -> None:
    [code] = read_codes(photo("LK40-7731-0926", symbology, turn=turn, blur=blur, kind=kind))
    assert code.text == "LK40-7731-0926"
    assert all(0 <= x <= 1 and 0 <= y <= 1 for x, y in code.corners)


def test_all_codes_of_a_photo_are_read_from_above() -> None:
    upper, lower = (Image.open(io.BytesIO(photo(text))) for text in ("UPPER-1", "LOWER-2"))
    sheet = Image.new("L", (upper.width, upper.height * 2), 200)
    sheet.paste(lower, (0, upper.height))
    sheet.paste(upper, (0, 0))
    target = io.BytesIO()
    sheet.save(target, "PNG")
    assert [code.text for code in read_codes(target.getvalue())] == ["UPPER-1", "LOWER-2"]


def test_a_photo_without_a_code_has_none() -> None:
    target = io.BytesIO()
    Image.new("L", (400, 300), 120).save(target, "JPEG")
    assert read_codes(target.getvalue()) == []


def bomb() -> bytes:
    target = io.BytesIO()
    Image.new("1", (12_000, 12_000)).save(target, "PNG")
    return target.getvalue()


@pytest.mark.parametrize(
    "content",
    [
        b"",
        b"not a readable picture",
        photo("X")[:200],
        b"<svg xmlns='http://www.w3.org/2000/svg'/>",
    ],
)
def test_what_is_no_picture_is_told(content: bytes) -> None:
    with pytest.raises(PhotoFault, match="not a readable picture"):
        read_codes(content)


def test_a_picture_that_would_unfold_too_far_is_refused() -> None:
    with pytest.raises(PhotoFault, match="too large"):
        read_codes(bomb())


@pytest.mark.parametrize(
    ("text", "said"),
    [
        ("LK40-7731-0926", Said(("LK40-7731-0926",))),
        (" LK40-7731-0926\n", Said(("LK40-7731-0926",))),
        ("tarnfell:TN9-44120-A", Said(("tarnfell:TN9-44120-A", "TN9-44120-A"))),
        ("S/N: TN9-44120-A P/N: TN9", Said(("TN9-44120-A",), ("TN9",))),
        ("Model=TN9;Serial No.=TN9-44120-A", Said(("TN9-44120-A",), ("TN9",))),
        ("(01)09501101530003(21)TN9-44120-A", Said(("TN9-44120-A",))),
        ("010950110153000321TN9-44120-A\x1d240TN9", Said(("TN9-44120-A",), ("TN9",))),
        (f"https://seal.quillmere.example/assets/{IDENT}", Said((), (), (IDENT,))),
        ("https://id.example/01/09501101530003/21/TN9-44120-A", Said(("TN9-44120-A",))),
        (
            "https://tarnfell.example/support?sn=TN9-44120-A&model=TN9",
            Said(("TN9-44120-A",), ("TN9",)),
        ),
        ("https://tarnfell.example/u/TN9-44120-A", Said(("TN9-44120-A",))),
        ("line one\nline two", Said(())),
    ],
)
def test_what_a_code_says(text: str, said: Said) -> None:
    assert meaning(text) == said


def test_gs1_elements_of_fixed_length_need_no_separator() -> None:
    assert list(gs1_elements("\x1d01095011015300031726112521AB-1")) == [
        ("01", "09501101530003"),
        ("17", "261125"),
        ("21", "AB-1"),
    ]


def test_a_printed_sheet_reads_back_code_by_code() -> None:
    labels = [
        Label(
            f"https://house.example/assets/{number}",
            (f"SERIAL-{number}", "a name that is far too long for its label " * 3),
        )
        for number in range(5)
    ]
    document = pypdfium2.PdfDocument(label_sheet(labels, skip=PER_SHEET - 3))
    assert len(document) == 2
    found = []
    for page in document:
        target = io.BytesIO()
        page.render(scale=2).to_pil().save(target, "PNG")
        found += [code.text for code in read_codes(target.getvalue())]
    assert found == [label.code for label in labels]
    assert "SERIAL-0" in document[0].get_textpage().get_text_range()
    assert label_sheet(labels) == label_sheet(labels), "the same labels are the same bytes"
