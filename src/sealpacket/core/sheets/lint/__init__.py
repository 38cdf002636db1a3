"""Linting a desk sheet: everything that is wrong or unwise in it, each with its place in the text."""

from __future__ import annotations

import itertools
import re
from collections.abc import Iterator, Sequence

from pydantic import ValidationError

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.lint.agreed import lint_agreed
from sealpacket.core.sheets.lint.channel import lint_sent
from sealpacket.core.sheets.lint.findings import MOST, Fault, Finding, by_line, has_stops, placed
from sealpacket.core.sheets.lint.questions import lint_asked
from sealpacket.core.sheets.lint.reachable import Scope
from sealpacket.core.sheets.lint.replied import lint_replied
from sealpacket.core.sheets.lint.shape import doubled, shape_faults
from sealpacket.core.sheets.lint.writing import lint_writing
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import SheetText

__all__ = ["Finding", "has_stops", "lint"]


def lint(text: str) -> tuple[Sheet | None, list[Finding]]:
    """The sheet, if it can be read as one, and everything found in it, in the order of the text."""
    try:
        read = SheetText(text)
    except Invalid as fault:
        line = int(fault.facts.get("line", 1))
        end = len(text.splitlines()[line - 1]) + 1 if text.splitlines()[line - 1 : line] else 1
        return None, [
            Finding(
                level="stop", code=fault.code, place="", line=line, column=1, end_line=line, end_column=end,
                sentence=fault.detail, remedy=fault.remedy,
                question="",
                fix=None,
            )
        ]  # fmt: skip
    lines = text.splitlines()
    faults = [*doubled(read.doubled)]
    sheet: Sheet | None = None
    try:
        sheet = Sheet.model_validate(read.tree)
        faults += itertools.islice(_all(sheet), MOST)
    except ValidationError as error:
        faults += shape_faults(error, read.tree)
    found = {*_open(lines)} | {placed(one, read, lines, read.tree) for one in faults[:MOST]}
    return sheet, sorted(found, key=by_line)


_MARK = re.compile(r"(?:^|\s)# \?(.*)$")


def _open(lines: Sequence[str]) -> Iterator[Finding]:
    """Marks of places still to be filled in. Within a block of text a mark is ordinary text."""
    for number, line in enumerate(lines, 1):
        match = _MARK.search(line)
        if match and number > 1:
            yield Finding(
                level="warn",
                code="open",
                place="",
                line=number,
                column=match.start() + 1,
                end_line=number,
                end_column=len(line) + 1,
                sentence=f"Still to be confirmed:{match[1]}.".replace(":.", "."),
                remedy="Fill it in, and take the mark “# ?” out.",
                question="",
                fix=None,
            )


def _all(sheet: Sheet) -> Iterator[Fault]:
    scope = Scope(tuple(kind.need for kind in sheet.kinds))
    yield from lint_asked(sheet, scope)
    yield from lint_writing(sheet, scope)
    yield from lint_sent(sheet, scope)
    yield from lint_replied(sheet)
    yield from lint_agreed(sheet)
