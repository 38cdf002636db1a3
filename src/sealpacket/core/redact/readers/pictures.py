"""Pictures: nothing but the pixels goes on, and over every word or code that tells something lies a box.

Words are found by tesseract (of Debian), codes by zxing-cpp. Without tesseract a picture is held.
"""

from __future__ import annotations

import csv
import io
import shutil
import subprocess
import warnings
from collections.abc import Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass
from typing import IO, Any, NamedTuple

import zxingcpp
from PIL import Image, ImageOps

from sealpacket.core.redact.boxes import CODE, Covered, Page, Pixels, drawn_on, side_by_side
from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.known import stretches, with_digits
from sealpacket.core.redact.readers.base import Work
from sealpacket.core.redact.readers.covering import cover
from sealpacket.core.redact.spans import Span

MOST_PIXELS = 60_000_000
_SECONDS = 120
_ROOM = 1.2
"""More room (heights of a word) between two words is that between two cells."""
_TURNS = (0, 90, 180, 270)
_CERTAIN = 60.0
"""How sure (percent) the reader must be of a word that is not upright: upside down, every letter looks like some."""
_FORMS: dict[str, dict[str, Any]] = {
    "PNG": {}, "JPEG": {"quality": 88}, "GIF": {}, "BMP": {}, "TIFF": {"compression": "tiff_deflate"},
    "WEBP": {"lossless": True},
}  # fmt: skip


@dataclass(frozen=True)
class Word:
    """A word on a picture: its text, its box, and by how much the picture had to be turned to read it (degrees)."""

    text: str
    box: Pixels
    turn: int = 0

    @property
    def upright(self) -> Pixels:
        """The box for comparing places: as it lies when the word is upright, whatever the whole's size."""
        left, top, right, bottom = self.box
        match self.turn:
            case 90:
                return top, -right, bottom, -left
            case 180:
                return -right, -bottom, -left, -top
            case 270:
                return -bottom, left, -top, right
            case _:
                return self.box


def read_picture(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """The picture with boxes burnt in, without any of its metadata, in the format that it had."""
    bare, form = pixels_of(source)
    covered = [*boxes_on(bare, work), *drawn_on(bare.size, work.drawn.get(1, ()))]
    cover(bare, covered)
    work.note_page(Page(bare.width, bare.height, covered))
    clean = Image.frombytes("RGB", bare.size, bare.tobytes())
    clean.save(target, form, **_FORMS[form])


def pixels_of(source: IO[bytes]) -> tuple[Image.Image, str]:
    """What is seen of a picture, the right way up, and the format it came in. Raises Held for broken or huge ones."""
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            picture = Image.open(source, formats=tuple(_FORMS))
            if picture.width * picture.height > MOST_PIXELS:
                raise Held(f"The picture has more than {MOST_PIXELS // 1_000_000} million pixels.")
            if getattr(picture, "n_frames", 1) > 1:
                raise Held("The picture has several frames, of which only one can be looked at.")
            form = str(picture.format)
            return _on_white(ImageOps.exif_transpose(picture)), form
        except (
            OSError,
            ValueError,
            SyntaxError,
            Image.DecompressionBombError,
            Image.DecompressionBombWarning,
        ) as error:
            raise Held(f"The picture is broken ({type(error).__name__}).") from error


def _on_white(picture: Image.Image) -> Image.Image:
    """As it is seen on white paper: what is transparent hides nothing, and nothing is hidden in it."""
    if "A" not in picture.getbands() and "transparency" not in picture.info:
        return picture.convert("RGB")
    shown = picture.convert("RGBA")
    return Image.alpha_composite(Image.new("RGBA", shown.size, "white"), shown).convert("RGB")


def boxes_on(picture: Image.Image, work: Work) -> list[Covered]:
    """The boxes over all that tells something."""
    return [*over_words(words_on(picture), work), *over_codes(picture, work)]


def over(span: Span, text: bytes, box: Pixels) -> Covered:
    """A box over what was found in a text."""
    kind, placeholder, _ = span.findings(text)[0]
    return Covered(box, kind, placeholder.decode("ascii", "replace"), span.sure)


def words_on(picture: Image.Image) -> list[Word]:
    """Every word that tesseract reads, whichever way up it stands. Raises Held if it is not there or cannot."""
    program = shutil.which("tesseract")
    if program is None:
        raise Held("Words in pictures cannot be read here: tesseract is not installed.")
    scale = 2 if picture.width * picture.height < 4_000_000 else 1
    larger = (
        picture.resize((picture.width * scale, picture.height * scale)) if scale > 1 else picture
    )
    grey = larger.convert("L")
    with ThreadPoolExecutor(len(_TURNS)) as readers:
        tables = readers.map(lambda turn: _table(program, grey, turn), _TURNS)
        return [
            word
            for turn, table in zip(_TURNS, tables, strict=True)
            for word in _words(table, turn, picture, scale)
        ]


def _table(program: str, picture: Image.Image, turn: int) -> str:
    """What tesseract reads on a picture that is turned so far counter-clockwise (degrees), as a table."""
    data = io.BytesIO()
    picture.rotate(turn, expand=True).save(data, "PNG", compress_level=1)
    try:
        done = subprocess.run(
            [program, "stdin", "stdout", "--psm", "11", "tsv"], input=data.getvalue(), capture_output=True,
            timeout=_SECONDS, check=True, env={"OMP_THREAD_LIMIT": "1", "PATH": "/usr/bin:/bin"},
        )  # fmt: skip
    except (subprocess.SubprocessError, OSError) as error:
        raise Held(
            f"The words of the picture could not be read ({type(error).__name__})."
        ) from error
    return done.stdout.decode("utf-8", "replace")


def _words(table: str, turn: int, picture: Image.Image, scale: int) -> Iterator[Word]:
    for row in csv.DictReader(io.StringIO(table), delimiter="\t", quoting=csv.QUOTE_NONE):
        text = (row.get("text") or "").strip()
        if not text or (turn and float(row["conf"]) < _CERTAIN):
            continue
        left, top, width, height = (
            int(row[name]) // scale for name in ("left", "top", "width", "height")
        )
        yield Word(
            text, _turned_back((left, top, left + width, top + height), turn, picture.size), turn
        )


def _turned_back(box: Pixels, turn: int, size: tuple[int, int]) -> Pixels:
    """Where a box of a picture that was turned counter-clockwise lies on the picture as it is."""
    left, top, right, bottom = box
    width, height = size
    match turn:
        case 90:
            return width - bottom, left, width - top, right
        case 180:
            return width - right, height - bottom, width - left, height - top
        case 270:
            return top, height - right, bottom, height - left
        case _:
            return box


def over_words(words: list[Word], work: Work) -> Iterator[Covered]:
    """Lines of words as texts, and all of them as one; a word that a value touches is covered whole."""
    yield from _over_pieces(words, work)
    for line in lines_of(words):
        parts = _as_meant(line, work)
        touched: set[int] = set()
        yield from _over_parts(parts, touched, work)
        left = [
            part._replace(said=b"-" if place in touched else with_digits(part.said))
            for place, part in enumerate(parts)
        ]
        if any(one.said not in (b"-", other.said) for one, other in zip(left, parts, strict=True)):
            yield from _over_parts(left, touched, work)


def _over_pieces(words: list[Word], work: Work) -> Iterator[Covered]:
    """What leaked before and stands there in pieces: in two cells, over the end of a line."""
    ordered = [word for line in lines_of(words) for word in line]
    text, places = b"", []
    for word in ordered:
        places.append((len(text), word))
        text += word.text.encode() + b" "
    for span in work.run.in_pieces(text):
        for start, word in places:
            if start < span.end and span.start < start + len(word.text.encode()):
                yield over(span, text, word.box)


class _Part(NamedTuple):
    """One word of a line, or several that are one known value, and what they say."""

    said: bytes
    words: list[Word]


def _as_meant(line: list[Word], work: Work) -> list[_Part]:
    """A line's words; where some look like a known value but were read otherwise, they say that."""
    parts: dict[int, _Part] = {}
    gone: set[int] = set()
    for first, behind, looks in stretches([word.text.casefold().encode() for word in line]):
        known = work.catalogue.looking_like(looks)
        if known not in (None, looks) and gone.isdisjoint(range(first, behind)):
            parts[first] = _Part(known or b"", line[first:behind])
            gone.update(range(first, behind))
    return [
        parts.get(place) or _Part(word.text.encode(), [word])
        for place, word in enumerate(line)
        if place in parts or place not in gone
    ]


def _over_parts(parts: list[_Part], touched: set[int], work: Work) -> Iterator[Covered]:
    """What stands on a line. On a form more room stands where a colon would: between a label and its value."""
    text, places = b"", []
    for part, last in zip(parts, [None, *parts], strict=False):
        if last is not None:
            text += (
                b": "
                if _room_between(last.words[-1], part.words[0]) and text[-1:] not in b":="
                else b" "
            )
        places.append((len(text), len(text) + len(part.said)))
        text += part.said
    for span in work.run.spans(text):
        under = [
            n for n, (start, end) in enumerate(places) if start < span.end and end > span.start
        ]
        boxes = side_by_side(word.box for n in under if n not in touched for word in parts[n].words)
        touched.update(under)
        yield from (over(span, text, box) for box in boxes)


def _room_between(one: Word, other: Word) -> bool:
    left, top, _, bottom = other.upright
    return left - one.upright[2] > _ROOM * (bottom - top)


def lines_of(words: list[Word]) -> list[list[Word]]:
    """Words that stand on one height, from left to right; the reader's own lines are too short on forms."""
    rows: list[list[Word]] = []
    for word in sorted(
        words, key=lambda one: (one.turn, one.upright[1] + one.upright[3], one.upright[0])
    ):
        middle = (word.upright[1] + word.upright[3]) / 2
        last = rows[-1][-1] if rows else None
        if (
            last is not None
            and last.turn == word.turn
            and last.upright[1] <= middle <= last.upright[3]
        ):
            rows[-1].append(word)
        else:
            rows.append([word])
    return [sorted(row, key=lambda one: one.upright[0]) for row in rows]


def over_codes(picture: Image.Image, work: Work) -> Iterator[Covered]:
    """A code is covered if what it says holds anything sensitive, or cannot be read as text."""
    for code in zxingcpp.read_barcodes(picture):
        text = code.text.encode()
        spans = work.run.spans(text)
        if spans:
            yield over(spans[0], text, _around(code.position))
        elif not text:
            yield Covered(_around(code.position), CODE)


def _around(position: Any) -> Pixels:
    corners = (position.top_left, position.top_right, position.bottom_left, position.bottom_right)
    xs, ys = [point.x for point in corners], [point.y for point in corners]
    return min(xs), min(ys), max(xs), max(ys)
