"""Rows: one on a line, columns with a bar between, as in `north-1 | cores | 64`."""

from __future__ import annotations

from collections.abc import Mapping
from random import Random
from typing import Any

from sealpacket.core.sheets.asking import Column, Question
from sealpacket.core.sheets.forms.base import AnswerForm, Known


class Rows(AnswerForm):
    """A small table, such as what is asked for in each region, or what lies in the parcel."""

    words = True

    def fault(self, question: Question, value: str, known: Known) -> str | None:
        """See AnswerForm."""
        rows = split_rows(value)
        if len(rows) > question.max_items:
            return f"There are {len(rows)} rows; the desk takes {question.max_items}."
        for number, cells in enumerate(rows, 1):
            if len(cells) != len(question.columns):
                names = " | ".join(column.id for column in question.columns)
                return f"Row {number} has {len(cells)} columns; write {names}."
            row = dict(zip((column.id for column in question.columns), cells, strict=True))
            for column in question.columns:
                fault = _cell_fault(column, row[column.id]) or _number_fault(column, row, question)
                if fault:
                    return f"Row {number}, {column.ask}: {fault}"
        return None

    def taken(self, question: Question, value: str, known: Known) -> dict[str, Any]:
        """A list of {column: value}."""
        return {
            "": [
                {
                    column.id: _plain(column, cell)
                    for column, cell in zip(question.columns, cells, strict=False)
                }
                for cells in split_rows(value)
            ]
        }

    def cells(self, question: Question, value: str) -> list[tuple[int, int, str]]:
        """Each cell, with its column as its label."""
        found, at = [], 0
        for line in value.splitlines(keepends=True):
            start = at
            for column, cell in zip(question.columns, line.rstrip("\r\n").split("|"), strict=False):
                found.append((start, start + len(cell), column.id))
                start += len(cell) + 1
            at += len(line)
        return found

    def sample(self, question: Question, chance: Random, known: Known) -> str:
        """See AnswerForm."""
        rows = []
        for number in range(chance.randint(1, min(3, question.max_items))):
            row: dict[str, str] = {}
            for column in question.columns:
                if column.number:
                    row[column.id] = str(_some_number(column, row, chance))
                else:
                    row[column.id] = (
                        chance.choice(column.one_of)
                        if column.one_of
                        else f"{column.id} {number + 1}"
                    )
            rows.append(" | ".join(row.values()))
        return "\n".join(dict.fromkeys(rows))


def split_rows(value: str) -> list[list[str]]:
    """The cells of each line that is not empty."""
    return [
        [cell.strip() for cell in line.split("|")] for line in value.splitlines() if line.strip()
    ]


def _cell_fault(column: Column, cell: str) -> str:
    if not cell:
        return "this is empty."
    if column.number and not cell.isdigit():
        return f"“{cell}” is not a whole number."
    if column.one_of and cell not in column.one_of:
        return f"“{cell}” is none of {', '.join(column.one_of)}."
    return ""


def _highest(column: Column, row: Mapping[str, str]) -> int | None:
    limits = [column.maximum] if column.maximum is not None else []
    if column.maximum_by is not None:
        limits += [
            limit
            for limit in [column.maximum_by.limits.get(row.get(column.maximum_by.column, ""))]
            if limit
        ]
    return min(limits, default=None)


def _number_fault(column: Column, row: Mapping[str, str], question: Question) -> str:
    if not column.number:
        return ""
    number, highest, than = (
        int(row[column.id]),
        _highest(column, row),
        row.get(column.more_than, ""),
    )
    if number < column.minimum:
        return f"the desk takes {column.minimum} and more."
    if highest is not None and number > highest:
        return f"the desk takes {highest} at most."
    if than.isdigit() and number <= int(than):
        other = next(one.ask for one in question.columns if one.id == column.more_than)
        return f"{number} is not above “{other}”, {than}."
    return ""


def _some_number(column: Column, row: Mapping[str, str], chance: Random) -> int:
    low = max(column.minimum, int(row.get(column.more_than, "-1")) + 1)
    highest = _highest(column, row)
    return chance.randint(
        low, max(low, min(low + 40, highest if highest is not None else low + 40))
    )


def _plain(column: Column, cell: str) -> Any:
    return int(cell) if column.number and cell.isdigit() else cell
