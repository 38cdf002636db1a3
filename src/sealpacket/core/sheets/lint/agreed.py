"""Linting which answers draw on prepaid units and ask for limits: their columns, words and facts."""

from __future__ import annotations

from collections.abc import Iterator, Sequence

from sealpacket.core.sheets.lint.findings import Fault, is_it, nearest, stop
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.reading import Place

_COLUMNS = ("region", "resource", "now", "wanted")


def lint_agreed(sheet: Sheet) -> Iterator[Fault]:
    """Names that the sheet does not have."""
    statuses = sorted(sheet.replies.statuses)
    if sheet.units:
        for field in ("used_when", "freed_when"):
            yield from _known(("units", field), getattr(sheet.units, field), statuses, "`statuses`")
    if sheet.limits is None:
        return
    for field in ("granted_when", "declined_when"):
        yield from _known(("limits", field), getattr(sheet.limits, field), statuses, "`statuses`")
    facts = [one.label for one in sheet.replies.facts]
    yield from _known(("limits", "granted"), (sheet.limits.granted,), facts, "the desk’s facts")
    question = sheet.question(sheet.limits.rows)
    columns = [one.id for one in question.columns] if question else []
    for field in _COLUMNS:
        where = f"the columns of {sheet.limits.rows}"
        yield from _known(("limits", field), (getattr(sheet.limits, field),), columns, where)


def _known(place: Place, words: Sequence[str], known: Sequence[str], where: str) -> Iterator[Fault]:
    for word in words:
        if word and word not in known:
            near = nearest(word, known)
            yield stop(
                "no-name", place, f"{word} is none of {where}.",
                is_it(near, f"There are {', '.join(known)}." if known else "There are none."), word=word, near=near,
            )  # fmt: skip
