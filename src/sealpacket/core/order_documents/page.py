"""A page as text with places: lines of words, wherever they were drawn."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass
from typing import Literal

from pydantic import BaseModel, ConfigDict

CELL_BREAK = "  "
"""The separator between two cells in a line's text: wider than between two words."""


class DocumentFault(Exception):
    """The order document cannot be read; the message says why, `remedy` what to do."""

    def __init__(self, sentence: str, remedy: str) -> None:
        super().__init__(sentence)
        self.remedy = remedy


class Place(BaseModel):
    """A box on a page (the first is 0), in parts of its width and height from the upper left corner."""

    model_config = ConfigDict(frozen=True)
    page: int
    left: float
    top: float
    right: float
    bottom: float


@dataclass(frozen=True)
class Word:
    """One word and its box, in the page's own units from the upper left corner."""

    text: str
    left: float
    top: float
    right: float
    bottom: float

    @property
    def middle(self) -> float:
        """How far down the middle of the word is."""
        return (self.top + self.bottom) / 2

    @property
    def height(self) -> float:
        """How high it is."""
        return self.bottom - self.top


@dataclass(frozen=True)
class Line:
    """Words beside one another; `starts` says where each begins in `text`."""

    text: str
    words: tuple[Word, ...]
    starts: tuple[int, ...]

    def within(self, start: int, end: int) -> list[Word]:
        """The words in a part of the text."""
        found = zip(self.words, self.starts, strict=True)
        return [word for word, begins in found if begins < end and begins + len(word.text) > start]


@dataclass(frozen=True)
class Page:
    """One page: a picture that can be drawn, or plain text. `source` is the attachment it comes from, if any.

    Lines, width and height are as its text reads; shown, it is turned clockwise by `turn` degrees.
    """

    number: int
    kind: Literal["picture", "text"]
    width: float
    height: float
    lines: tuple[Line, ...]
    source: str = ""
    source_page: int = 0
    turn: int = 0

    def place(self, words: Iterable[Word]) -> Place:
        """The box around words of this page, as it is shown."""
        boxes = list(words)
        left, right = (
            min(word.left for word in boxes) / self.width,
            max(word.right for word in boxes) / self.width,
        )
        top, bottom = (
            min(word.top for word in boxes) / self.height,
            max(word.bottom for word in boxes) / self.height,
        )
        left, top, right, bottom = turned(self.turn, left, top, right, bottom)
        return Place(
            page=self.number,
            left=_part(left),
            top=_part(top),
            right=_part(right),
            bottom=_part(bottom),
        )


def _part(value: float) -> float:
    return round(min(max(value, 0.0), 1.0), 5)


def turned(
    turn: int, left: float, top: float, right: float, bottom: float
) -> tuple[float, float, float, float]:
    """A box in parts of a page after the page was turned clockwise by 0, 90, 180 or 270 degrees."""
    match turn % 360:
        case 90:
            return 1 - bottom, left, 1 - top, right
        case 180:
            return 1 - right, 1 - bottom, 1 - left, 1 - top
        case 270:
            return top, 1 - right, bottom, 1 - left
        case _:
            return left, top, right, bottom


def lines_of(words: Iterable[Word], gap: float) -> tuple[Line, ...]:
    """Words put into lines from above, each from the left.

    `gap` is the room, in heights of a word, from which on two neighbours are in different cells.
    """
    rows: list[list[Word]] = []
    for word in sorted(words, key=lambda word: (word.middle, word.left)):
        row = rows[-1] if rows else None
        if row and abs(word.middle - row[0].middle) <= 0.5 * max(word.height, row[0].height):
            row.append(word)
        else:
            rows.append([word])
    return tuple(line_of(sorted(row, key=lambda word: word.left), gap) for row in rows)


def line_of(row: list[Word], gap: float) -> Line:
    """One line of words that are in order."""
    text, starts = "", []
    for place, word in enumerate(row):
        if place:
            room = word.left - row[place - 1].right
            text += CELL_BREAK if room > gap * max(word.height, row[place - 1].height) else " "
        starts.append(len(text))
        text += word.text
    return Line(text, tuple(row), tuple(starts))
