"""Boxes on pictures and pages: what is covered, and by what."""

from __future__ import annotations

from collections.abc import Iterable
from dataclasses import dataclass, field
from typing import NamedTuple

Pixels = tuple[int, int, int, int]
"""Left, top, right, bottom."""
DRAWN = "drawn"
"""The kind of a box that a person drew."""
CODE = "code"
"""The kind of a code in which no text could be read."""
_ROOM = (2, 0.6)
"""How far apart (heights of a line) words of one line may be; less in one that runs up or down, for lines do too."""


class Box(NamedTuple):
    """A stretch of a page, in parts of its width and height from the upper left corner."""

    left: float
    top: float
    right: float
    bottom: float

    def on(self, size: tuple[int, int]) -> Pixels:
        """The same on a picture of this width and height, in whole pixels, nothing of it left out."""
        width, height = size
        return (
            max(int(self.left * width), 0), max(int(self.top * height), 0),
            min(-int(-self.right * width // 1), width), min(-int(-self.bottom * height // 1), height),
        )  # fmt: skip


def part_of(pixels: Pixels, size: tuple[int, int]) -> Box:
    """A box in parts of a picture of this width and height."""
    width, height = max(size[0], 1), max(size[1], 1)
    left, top, right, bottom = pixels
    return Box(
        *(
            round(min(max(x, 0.0), 1.0), 5)
            for x in (left / width, top / height, right / width, bottom / height)
        )
    )


class Covered(NamedTuple):
    """One box (pixels) and the value beneath it: its kind, and its placeholder (empty if it has none)."""

    box: Pixels
    kind: str
    placeholder: str = ""
    sure: bool = True


@dataclass(frozen=True)
class Page:
    """A page as it goes out: its size in pixels, and all boxes on it."""

    width: int
    height: int
    covered: list[Covered] = field(default_factory=list)

    def as_rows(self) -> dict[str, object]:
        """For keeping as JSON: boxes in parts of the page, with kind, placeholder and whether it is certain."""
        rows = [
            [*part_of(one.box, (self.width, self.height)), one.kind, one.placeholder, one.sure]
            for one in self.covered
        ]
        return {"width": self.width, "height": self.height, "covered": rows}


def drawn_on(size: tuple[int, int], drawn: Iterable[Box]) -> list[Covered]:
    """The boxes that a person drew, on a picture of this size."""
    return [Covered(box.on(size), DRAWN) for box in drawn]


def side_by_side(boxes: Iterable[Pixels]) -> list[Pixels]:
    """Boxes with those that stand beside the one before, in one line whichever way it runs, put together."""
    joined: list[Pixels] = []
    for box in boxes:
        if joined and _in_line(joined[-1], box):
            last = joined[-1]
            joined[-1] = (
                min(last[0], box[0]), min(last[1], box[1]), max(last[2], box[2]), max(last[3], box[3])
            )  # fmt: skip
        else:
            joined.append(box)
    return joined


def _in_line(one: Pixels, other: Pixels) -> bool:
    for along in (0, 1):
        across = 1 - along
        thick = other[across + 2] - other[across]
        middle = (other[across] + other[across + 2]) / 2
        room = max(other[along] - one[along + 2], one[along] - other[along + 2])
        if one[across] <= middle <= one[across + 2] and room <= _ROOM[along] * thick:
            return True
    return False
