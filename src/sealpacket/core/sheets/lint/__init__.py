"""Linting a desk sheet: everything that is wrong or unwise in it, each with its place in the text."""

from __future__ import annotations

from collections.abc import Iterator

from pydantic import ValidationError

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml
from sealpacket.core.sheets.asking import Question
from sealpacket.core.sheets.lint.asked import (
    lint_evidence,
    lint_kinds,
    lint_question,
    lint_severity,
)
from sealpacket.core.sheets.lint.findings import (
    MOST,
    Finding,
    Level,
    Place,
    Told,
    by_line,
    has_stops,
    line_of,
    lines_of,
)
from sealpacket.core.sheets.lint.sent import lint_limits, lint_opening, lint_replies, lint_sending
from sealpacket.core.sheets.lint.written import lint_writing
from sealpacket.core.sheets.model import MOST_VALUES, Sheet, place_of

__all__ = ["Finding", "has_stops", "lint"]


def lint(text: str) -> tuple[Sheet | None, list[Finding]]:
    """The sheet, if it can be read as one, and everything found in it, in the order of the text."""
    try:
        body = read_yaml(text, "sheet", MOST_VALUES)
    except Invalid as fault:
        line = int(fault.facts.get("line", 1))
        return None, [
            Finding(
                level="stop",
                code=fault.code,
                place="",
                line=line,
                sentence=f"{fault} {fault.remedy}",
            )
        ]
    lines = lines_of(text)

    def finding(level: Level, code: str, place: Place, sentence: str) -> Finding:
        return Finding(
            level=level,
            code=code,
            place=".".join(map(str, place)),
            line=line_of(lines, place),
            sentence=sentence,
        )

    try:
        sheet = Sheet.model_validate(body)
    except ValidationError as error:
        found = []
        for item in error.errors()[:MOST]:
            place = place_of(item["loc"])
            found.append(finding("stop", "shape", place, f"{item['msg']}."))
        return None, sorted(found, key=by_line)
    told = [finding(*item) for item in _all(sheet)][:MOST]
    return sheet, sorted(told, key=by_line)


def _all(sheet: Sheet) -> Iterator[Told]:
    asked: dict[str, Question] = {}
    for number, question in enumerate(sheet.questions):
        yield from lint_question(question, ("questions", number), asked)
        asked[question.id] = question
    yield from lint_kinds(sheet)
    yield from lint_severity(sheet, asked)
    yield from lint_evidence(sheet, asked)
    yield from lint_writing(sheet)
    yield from lint_sending(sheet)
    yield from lint_replies(sheet)
    yield from lint_limits(sheet)
    yield from lint_opening(sheet)
