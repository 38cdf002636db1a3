"""Read the text of a sheet: its tree, as its author meant it, and the position of each part.

YAML would read `NO` as false, `08:30` as 510 and `1.10` as 1.1. Every scalar stays the text that was written; the
model then reads numbers and yes or no where it expects them, and nowhere else.
"""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

import yaml
from pydantic import BaseModel, ConfigDict

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import yaml_events

MOST_VALUES = 60_000
"""Names, values and list items that a sheet may hold."""

Place = tuple[str | int, ...]


class Plain(str):
    """A scalar that was written without quotes."""

    __slots__ = ()


class Range(BaseModel):
    """The position of a part in the text; lines and columns count from 1, the end is after the last character."""

    model_config = ConfigDict(frozen=True)

    line: int
    column: int
    end_line: int
    end_column: int


class SheetText:
    """The tree of a text, the positions of its parts, and names that are written twice in one place."""

    def __init__(self, text: str) -> None:
        self.doubled: list[Place] = []
        self._values: dict[Place, tuple[Any, Any]] = {}
        self._names: dict[Place, tuple[Any, Any]] = {}
        self._events = yaml_events(text, "sheet", MOST_VALUES)
        self.tree: Any = None
        for event in self._events:
            if isinstance(event, yaml.NodeEvent) and () in self._values:
                raise _refused(event, "The file holds two sheets.", "Keep one in each file.")
            if isinstance(event, yaml.NodeEvent):
                self.tree = self._node(event, ())

    @property
    def places(self) -> list[Place]:
        """The place of every name, in the order of the text."""
        return [*self._names]

    def range_of(self, place: Place, *, name: bool = False, within: bool = False) -> Range:
        """The position of a place (of its name, if that is meant), or of the nearest part around it: its name, or all
        of it (`within`)."""
        while place:
            for found in (self._names, self._values) if name else (self._values, self._names):
                if place in found:
                    return _range(*found[place])
            place, name = place[:-1], not within
        return Range(line=1, column=1, end_line=1, end_column=1)

    def _node(self, event: Any, place: Place) -> Any:
        """The part that begins with an event. The text is nested only so deep, so that this may call itself."""
        tag = getattr(event, "tag", None)
        if tag not in (None, "!"):
            raise _refused(event, f"The sheet uses the YAML tag {tag}.", "Take it out.")
        match event:
            case yaml.MappingStartEvent():
                found: tuple[Any, Any] = self._mapping(place)
            case yaml.SequenceStartEvent():
                found = self._sequence(place)
            case _:
                self._values[place] = event.start_mark, event.end_mark
                return _scalar(event)
        node, end = found
        self._values[place] = event.start_mark, end
        return node

    def _sequence(self, place: Place) -> tuple[list[Any], Any]:
        items: list[Any] = []
        for event in self._events:
            if isinstance(event, yaml.SequenceEndEvent):
                return items, event.end_mark
            items.append(self._node(event, (*place, len(items))))
        raise AssertionError("a list ends")

    def _mapping(self, place: Place) -> tuple[dict[str, Any], Any]:
        found: dict[str, Any] = {}
        for event in self._events:
            if isinstance(event, yaml.MappingEndEvent):
                return found, event.end_mark
            if not isinstance(event, yaml.ScalarEvent):
                raise _refused(event, "A name in the sheet is a list or a group.", "Quote it.")
            here = (*place, event.value)
            self._names[here] = event.start_mark, event.end_mark
            value = self._node(next(self._events), here)
            if event.value in found:
                self.doubled.append(here)
            else:
                found[event.value] = value
        raise AssertionError("a group ends")


def _range(begin: Any, end: Any) -> Range:
    return Range(
        line=begin.line + 1,
        column=begin.column + 1,
        end_line=end.line + 1,
        end_column=end.column + 1,
    )


def _refused(event: Any, sentence: str, remedy: str) -> Invalid:
    return Invalid(sentence, remedy, code="sheet-yaml", line=event.start_mark.line + 1)


def _scalar(event: Any) -> str | None:
    if event.style in ("'", '"', "|", ">"):
        return str(event.value)
    return None if event.value in ("", "~", "null") else Plain(event.value)


_WHOLE = re.compile(r"-?(0|[1-9][0-9]{0,14})")
_DECIMAL = re.compile(r"-?(0|[1-9][0-9]{0,14})\.[0-9]{1,12}")


def constant(value: Any) -> Any:
    """The value of a scalar in a body: unquoted `5` is a number and `true` is true; everything else is text."""
    if not isinstance(value, Plain):
        return value
    if value in ("true", "false"):
        return value == "true"
    if _WHOLE.fullmatch(value):
        return int(value)
    return float(value) if _DECIMAL.fullmatch(value) else str(value)


def plain_tree(node: Any) -> Any:
    """A tree without the marks of what was unquoted, its scalars as they are in a body."""
    if isinstance(node, Mapping):
        return {name: plain_tree(inner) for name, inner in node.items()}
    if isinstance(node, list | tuple):
        return [plain_tree(inner) for inner in node]
    return constant(node)
