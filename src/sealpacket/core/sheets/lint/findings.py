"""What linting finds, and where it stands in the text of a sheet."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import Literal

import yaml
from pydantic import BaseModel, ConfigDict

Level = Literal["stop", "warn", "hint"]


Place = tuple[str | int, ...]


MOST = 200


class Finding(BaseModel):
    """One thing to mend: `place` is the path in the sheet, `line` where it stands in the text (from 1)."""

    model_config = ConfigDict(frozen=True)

    level: Level
    code: str
    place: str
    line: int
    sentence: str


def has_stops(found: Sequence[Finding]) -> bool:
    """Whether something found keeps the sheet from being used."""
    return any(finding.level == "stop" for finding in found)


def by_line(finding: Finding) -> tuple[int, str]:
    return finding.line, finding.place


def lines_of(text: str) -> dict[Place, int]:
    """By path, the line on which each part of the sheet begins."""
    found: dict[Place, int] = {}

    def walk(node: yaml.Node, place: Place) -> None:
        found[place] = node.start_mark.line + 1
        if isinstance(node, yaml.MappingNode):
            for key, value in node.value:
                walk(value, (*place, str(key.value)))
                found[(*place, str(key.value))] = key.start_mark.line + 1
        elif isinstance(node, yaml.SequenceNode):
            for number, item in enumerate(node.value):
                walk(item, (*place, number))

    whole = yaml.compose(text, Loader=getattr(yaml, "CSafeLoader", yaml.SafeLoader))
    if whole is not None:
        walk(whole, ())
    return found


def line_of(lines: Mapping[Place, int], place: Place) -> int:
    """The line of a place, or of the nearest part around it."""
    while place and place not in lines:
        place = place[:-1]
    return lines.get(place, 1)


Told = tuple[Level, str, Place, str]
