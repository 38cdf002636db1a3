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
from dataclasses import dataclass
from typing import IO, Any

import zxingcpp
from PIL import Image, ImageDraw

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import Work

MOST_PIXELS = 60_000_000
_SECONDS = 120
_GROWN = 2


@dataclass(frozen=True)
class Word:
    """A word on a picture: its text, line and box (left, top, right, bottom in pixels)."""

    text: str
    line: tuple[int, ...]
    box: tuple[int, int, int, int]


def read_picture(source: IO[bytes], target: IO[bytes], work: Work) -> None:
    """The picture with boxes burnt in, without any of its metadata, in the format that it had."""
    with warnings.catch_warnings():
        warnings.simplefilter("error", Image.DecompressionBombWarning)
        try:
            picture = Image.open(source)
            if picture.width * picture.height > MOST_PIXELS:
                raise Held(f"The picture has more than {MOST_PIXELS // 1_000_000} million pixels.")
            if getattr(picture, "n_frames", 1) > 1:
                raise Held("The picture has several frames, of which only one can be looked at.")
            form = "JPEG" if picture.format == "JPEG" else "PNG"
            bare = picture.convert("RGB")
        except (
            OSError,
            ValueError,
            SyntaxError,
            Image.DecompressionBombError,
            Image.DecompressionBombWarning,
        ) as error:
            raise Held(f"The picture is broken ({type(error).__name__}).") from error
    cover(bare, boxes_on(bare, work))
    clean = Image.frombytes("RGB", bare.size, bare.tobytes())
    clean.save(target, form, **({"quality": 88} if form == "JPEG" else {"optimize": False}))


def cover(picture: Image.Image, boxes: Iterator[tuple[int, int, int, int]] | list[tuple[int, int, int, int]]) -> None:
    """Burn black boxes in."""
    pen = ImageDraw.Draw(picture)
    for left, top, right, bottom in boxes:
        pen.rectangle((left - _GROWN, top - _GROWN, right + _GROWN, bottom + _GROWN), fill="black")


def boxes_on(picture: Image.Image, work: Work) -> list[tuple[int, int, int, int]]:
    """The boxes over all that tells something."""
    return [*_over_words(words_on(picture), work), *_over_codes(picture, work)]


def words_on(picture: Image.Image) -> list[Word]:
    """Every word that tesseract reads. Raises Held if it is not there or cannot."""
    program = shutil.which("tesseract")
    if program is None:
        raise Held("Words in pictures cannot be read here: tesseract is not installed.")
    scale = 2 if picture.width * picture.height < 4_000_000 else 1
    larger = picture.resize((picture.width * scale, picture.height * scale)) if scale > 1 else picture
    data = io.BytesIO()
    larger.convert("L").save(data, "PNG")
    try:
        done = subprocess.run(
            [program, "stdin", "stdout", "--psm", "11", "tsv"], input=data.getvalue(), capture_output=True,
            timeout=_SECONDS, check=True, env={"OMP_THREAD_LIMIT": "1", "PATH": "/usr/bin:/bin"},
        )  # fmt: skip
    except (subprocess.SubprocessError, OSError) as error:
        raise Held(f"The words of the picture could not be read ({type(error).__name__}).") from error
    return list(_words(done.stdout.decode("utf-8", "replace"), scale))


def _words(table: str, scale: int) -> Iterator[Word]:
    for row in csv.DictReader(io.StringIO(table), delimiter="\t", quoting=csv.QUOTE_NONE):
        text = (row.get("text") or "").strip()
        if not text:
            continue
        left, top, width, height = (int(row[name]) // scale for name in ("left", "top", "width", "height"))
        line = tuple(int(row[name]) for name in ("block_num", "par_num", "line_num"))
        yield Word(text, line, (left, top, left + width, top + height))


def _over_words(words: list[Word], work: Work) -> Iterator[tuple[int, int, int, int]]:
    """Lines of words as texts; a word that a value touches is covered whole."""
    for line in _lines_of(words):
        text, places = b"", []
        for word in line:
            raw = word.text.encode()
            places.append((len(text), len(text) + len(raw), word.box))
            text += raw + b" "
        for span in work.run.spans(text.rstrip(b" ")):
            yield from (box for start, end, box in places if start < span.end and end > span.start)


def _lines_of(words: list[Word]) -> list[list[Word]]:
    """Words that stand on one height, from left to right; the reader's own lines are too short on forms."""
    rows: list[list[Word]] = []
    for word in sorted(words, key=lambda one: (one.box[1] + one.box[3], one.box[0])):
        middle = (word.box[1] + word.box[3]) / 2
        row = rows[-1] if rows else None
        if row is not None and row[-1].box[1] <= middle <= row[-1].box[3]:
            row.append(word)
        else:
            rows.append([word])
    return [sorted(row, key=lambda one: one.box[0]) for row in rows]


def _over_codes(picture: Image.Image, work: Work) -> Iterator[tuple[int, int, int, int]]:
    """A code is covered if what it says holds anything sensitive, or cannot be read as text."""
    for code in zxingcpp.read_barcodes(picture):
        if not code.text or work.run.spans(code.text.encode()):
            yield _around(code.position)


def _around(position: Any) -> tuple[int, int, int, int]:
    corners = (position.top_left, position.top_right, position.bottom_left, position.bottom_right)
    xs, ys = [point.x for point in corners], [point.y for point in corners]
    return min(xs), min(ys), max(xs), max(ys)
