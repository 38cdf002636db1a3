"""The paths that can be taken at a place of a sheet: facts, answers and their parts, rows, items, files."""

from __future__ import annotations

from collections.abc import Iterable, Iterator
from typing import Any

from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.bodies import Take, walk
from sealpacket.core.sheets.facts import FACTS, FILE, MESSAGE, TOLD
from sealpacket.core.sheets.forms import FORMS
from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop
from sealpacket.core.sheets.lint.questions import part_fault
from sealpacket.core.sheets.lint.reachable import Scope
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import Place
from sealpacket.core.sheets.sending import AsMail, AsPdf


def bodies_of(sheet: Sheet) -> Iterator[tuple[Place, Any]]:
    """Every body of a sheet with its place."""
    yield ("write", "body"), sheet.write.body
    for need, body in sheet.write.bodies.items():
        yield ("write", "bodies", need), body
    if isinstance(sheet.write, AsPdf) and sheet.write.table:
        yield ("write", "table", "columns"), sheet.write.table.columns
    if isinstance(sheet.write, AsMail) and not isinstance(sheet.write.subject, str):
        yield ("write", "subject"), sheet.write.subject


_ALL_FACTS = "docs/reference/desk-sheet.md lists all facts."
_OF_A_FILE = ("name", "stem", "ending", "number")


class Known:
    """The paths that can be taken at a place of a sheet."""

    def __init__(self, sheet: Sheet, place: Place, scope: Scope) -> None:
        self._sheet, self._place = sheet, place
        self.asked = sheet.by_name
        self.scope = scope

    def question_of(self, path: str) -> tuple[Question | None, str]:
        """The question whose answer a path takes, and the part of it."""
        parts = path.split(".", 2)
        if parts[0] != "answers" or len(parts) < 2:
            return None, ""
        return self._sheet.question(parts[1]), parts[2] if len(parts) > 2 else ""

    def fault(self, path: str, place: Place) -> Iterator[Fault]:
        """A stop if there is no such thing."""
        head, _, rest = path.partition(".")
        if head == "answers":
            yield from self._answer(path, place)
        elif head == "item" and "items" in place:
            yield from self._item(rest, path, place)
        elif head == "row":
            yield from self._row(rest, place)
        elif path not in self._names():
            yield self._unknown(path, place, self._names())

    def _names(self) -> Iterable[str]:
        """The facts that there are at this place."""
        if self._place[0] == "acts":
            return (*MESSAGE, *TOLD)
        if self._place[0] == "send" and self._place[-1] != "opening":
            return FILE if "entry" in self._place else MESSAGE
        if "naming" in self._place:
            return (*FACTS, *_OF_A_FILE)
        level = ("severity.level",) if self._sheet.severity_set_by != "desk" else ()
        return (*FACTS, *level)

    @staticmethod
    def _unknown(path: str, place: Place, known: Any) -> Fault:
        near = nearest(path, known)
        few = [*known] if len([*known]) < 10 else []
        return stop(
            "unknown-fact",
            place,
            f"There is no fact {path} here.",
            is_it(near, f"There are {', '.join(few)}." if few else _ALL_FACTS),
            word=path,
            near=near,
        )

    def _answer(self, path: str, place: Place) -> Iterator[Fault]:
        question, part = self.question_of(path)
        if question is None:
            name = path.split(".")[1] if "." in path else ""
            near = nearest(name, self.asked)
            yield stop(
                "unknown-question",
                place,
                f"{path} takes an answer that the sheet does not ask for.",
                is_it(f"answers.{near}" if near else "", "Ask the question, or take another."),
                word=name,
                near=near,
            )
            return
        yield from part_fault(question, part, place, f"{path}: {question.id}")
        if not part and question.form == "person":
            yield stop(
                "unknown-part",
                place,
                f"{path} is a person: it is not said what of them is written.",
                "Add .name, .mail or .phone.",
                word=path,
                near=f"{path}.name",
            )

    def _item(self, part: str, path: str, place: Place) -> Iterator[Fault]:
        """A part of an item: a column of rows, a component or version, or something of a person."""
        owner = _list_above(self._body(), place[len(self._place) :])
        question, taken = self.question_of(owner.take) if owner else (None, "")
        if question is None or taken:
            return
        names = _items_of(question)
        if names is not None and part not in names:
            near = nearest(part, names)
            there = (
                f"There are {', '.join(sorted(names))}."
                if names
                else f"Take {path.split('.', maxsplit=1)[0]} alone."
            )
            yield stop(
                "unknown-part",
                place,
                f"An item of {question.id} has no {part or 'whole'}.",
                is_it(near, there),
                word=path,
                near=f"item.{near}" if near else "",
            )

    def _body(self) -> Any:
        for place, body in bodies_of(self._sheet):
            if place == self._place:
                return body
        return {}

    def _row(self, column: str, place: Place) -> Iterator[Fault]:
        write = self._sheet.write
        table = write.table if isinstance(write, AsPdf) and "table" in self._place else None
        split = self._sheet.split
        question = self._sheet.question(table.rows if table else split.question if split else "")
        if question is None:
            yield stop(
                "unknown-fact",
                place,
                f"row.{column}: the sheet is not split by rows.",
                "Say in `split` which question makes a case of each row.",
            )
            return
        columns = {one.id for one in question.columns} | {"number"}
        columns |= {"value"} if not question.columns else set()
        if column not in columns:
            near = nearest(column, columns)
            yield stop(
                "no-column",
                place,
                f"{question.id} has no column {column}.",
                is_it(near, f"There are {', '.join(sorted(columns))}."),
                word=f"row.{column}",
                near=f"row.{near}" if near else "",
            )


def _list_above(body: Any, place: Place) -> Take | None:
    """The nearest `take` with `items` above a place of a body."""
    found = None
    for here, node in walk(body, ()):
        if isinstance(node, Take) and node.items is not None and place[: len(here)] == here:
            found = node
    return found


def _items_of(question: Question) -> set[str] | None:
    match question.form:
        case "rows":
            return {column.id for column in question.columns}
        case "versions":
            return {"component", "version"}
        case "people":
            return set(FORMS["person"].parts)
        case "steps" | "several":
            return {""}
        case _:
            return None
