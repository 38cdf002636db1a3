"""Understanding a cell: dates in every spelling, numbers kept as text, lists in one cell, yes and no."""

from __future__ import annotations

import json
import re
from collections.abc import Iterable
from dataclasses import dataclass
from datetime import date, datetime, timedelta
from typing import Any, Literal

from sealpacket.core.controls import CONTROL

DateOrder = Literal["day", "month"]
FieldKind = Literal[
    "text", "date", "whole", "money", "yes", "choice", "list", "choices", "listings"
]

_DAY_ZERO = date(1899, 12, 30)
"""Day 0 of spreadsheet serial dates, such that 1 is 31 December 1899 and all days after February 1900 are right."""
_FIRST_SERIAL, _LAST_SERIAL = 15_000, 75_000
_MONTHS = {
    name: number
    for number, names in enumerate(
        ("jan january januar janvier enero", "feb february februar février febrero", "mar march märz mars marzo mär",
         "apr april avril abril", "may mai mayo", "jun june juni juin junio", "jul july juli juillet julio",
         "aug august août agosto", "sep sept september septembre septiembre", "oct october oktober octobre octubre okt",
         "nov november novembre noviembre", "dec december dezember décembre diciembre dez"), 1)
    for name in names.split()
}  # fmt: skip
_YES = {"yes", "y", "true", "1", "x", "ja", "oui", "si", "sí", "on", "✓"}
_NO = {"no", "n", "false", "0", "", "nein", "non", "off", "-"}
_NOTHING = {"", "-", "–", "n/a", "none", "null"}
_THREE = re.compile(
    r"(\d{1,4})[./\- ](\d{1,2})[./\- ](\d{1,4})(?:[ T]\d{1,2}:\d{2}(?::\d{2}(?:\.\d+)?)?(?:Z|[+-]\d\d:?\d\d)?)?"
)
_NAMED = re.compile(
    r"(\d{1,2})(?:st|nd|rd|th|\.)?[ \-]([^\W\d]+)\.?,?[ \-](\d{2,4})|([^\W\d]+)\.? (\d{1,2})(?:st|nd|rd|th)?,? (\d{4})"
)


class CellFault(Exception):
    """A cell cannot be understood; the message says why."""


@dataclass(frozen=True)
class Field:
    """A field of a record as a column may fill it. `choices` are the words that it takes."""

    name: str
    kind: FieldKind
    required: bool = False
    choices: tuple[str, ...] = ()


_ERRORS = frozenset(("#N/A", "#REF!", "#VALUE!", "#NAME?", "#DIV/0!", "#NULL!", "#NUM!"))


def understand(cell: Any, field: Field, order: DateOrder) -> Any:
    """The value of a cell for a field, as JSON holds it; None for an empty cell. Raises CellFault."""
    if isinstance(cell, str):
        cell = cell.strip()
        if cell in _ERRORS:
            raise CellFault(f"holds the spreadsheet error {cell}")
    if cell is None or cell in ("", []):
        return None
    match field.kind:
        case "date":
            found = to_date(cell, order)
            return found.isoformat() if found else None
        case "choice":
            return _choice(cell, field)
        case "choices":
            return [_choice(item, field) for item in _list(cell)]
        case "listings":
            return [_listing(item, order) for item in _list(cell)]
        case kind:
            return {"whole": _whole, "money": _amount, "yes": _yes, "list": _list}.get(kind, _text)(
                cell
            )


def to_date(cell: Any, order: DateOrder) -> date | None:
    """A date from a date cell, a serial number, or a text in a usual spelling. Raises CellFault."""
    if isinstance(cell, datetime):
        return cell.date()
    if isinstance(cell, date):
        return cell
    if isinstance(cell, int | float) and not isinstance(cell, bool):
        return _from_serial(float(cell))
    text = str(cell).strip()
    if text.casefold() in _NOTHING:
        return None
    if re.fullmatch(r"\d{5}([.,]\d+)?", text):
        return _from_serial(float(text.replace(",", ".")))
    if re.fullmatch(r"\d{8}", text):
        text = f"{text[:4]}-{text[4:6]}-{text[6:]}"
    if match := _THREE.fullmatch(text):
        return _from_three(text, match[1], match[2], match[3], order)
    if match := _NAMED.fullmatch(text):
        day, name, year = (
            (match[1], match[2], match[3]) if match[1] else (match[5], match[4], match[6])
        )
        month = _MONTHS.get(name.casefold())
        if month:
            return _make(text, _century(year), month, int(day))
    raise CellFault(f"“{text[:40]}” is not a date; write it as 2027-03-31")


def _from_three(text: str, first: str, second: str, third: str, order: DateOrder) -> date:
    if len(first) == 4:
        return _make(text, int(first), int(second), int(third))
    one, two, year = int(first), int(second), _century(third)
    if one > 12 or (order == "day" and two <= 12):
        return _make(text, year, two, one)
    return _make(text, year, one, two)


def _century(year: str) -> int:
    return int(year) if len(year) > 2 else 2000 + int(year) if int(year) < 70 else 1900 + int(year)


def _make(text: str, year: int, month: int, day: int) -> date:
    try:
        return date(year, month, day)
    except ValueError as error:
        raise CellFault(f"“{text[:40]}” is not a calendar day") from error


def _from_serial(value: float) -> date:
    if not _FIRST_SERIAL <= value <= _LAST_SERIAL:
        raise CellFault(f"{value:g} is not a date; write it as 2027-03-31")
    return _DAY_ZERO + timedelta(days=int(value))


def date_order_of(cells: Iterable[Any]) -> DateOrder | None:
    """Whether dates such as 03/04/2026 put the day or the month first, from those that leave no doubt."""
    for cell in cells:
        match = _THREE.fullmatch(cell.strip()) if isinstance(cell, str) else None
        if match and len(match[1]) <= 2:
            if int(match[1]) > 12:
                return "day"
            if int(match[2]) > 12:
                return "month"
    return None


def _number(cell: Any) -> float:
    if isinstance(cell, bool):
        raise CellFault("is yes or no, not a number")
    if isinstance(cell, int | float):
        return float(cell)
    text = re.sub(r"[\s\u00a0\u202f'’]|[^\d.,\-+()]", "", str(cell))
    sign = -1 if text.startswith("(") and text.endswith(")") else 1
    text = text.strip("()")
    comma, point = text.rfind(","), text.rfind(".")
    if comma >= 0 and point >= 0:
        text = text.replace(",", "") if point > comma else text.replace(".", "").replace(",", ".")
    elif comma >= 0 or point >= 0:
        mark = "," if comma >= 0 else "."
        thousands = text.count(mark) > 1 or bool(
            re.fullmatch(rf"[+-]?[1-9]\d{{0,2}}\{mark}\d{{3}}", text)
        )
        text = text.replace(mark, "" if thousands else ".")
    try:
        return sign * float(text)
    except ValueError as error:
        raise CellFault(f"“{str(cell)[:40]}” is not a number") from error


def _whole(cell: Any) -> int:
    value = _number(cell)
    if value != int(value):
        raise CellFault(f"{value:g} is not a whole number")
    return int(value)


def _amount(cell: Any) -> float:
    return _number(cell)


def _yes(cell: Any) -> bool:
    if isinstance(cell, bool):
        return cell
    text = _text(cell).casefold()
    if text in _YES:
        return True
    if text in _NO:
        return False
    raise CellFault(f"“{text[:40]}” is neither yes nor no")


def _choice(cell: Any, field: Field) -> str:
    text = _text(cell)
    plain = re.sub(r"[\s_-]+", "_", text.casefold())
    for choice in field.choices:
        if plain == choice.casefold():
            return choice
    raise CellFault(f"“{text[:40]}” is not one of {', '.join(field.choices)}")


def _list(cell: Any) -> list[Any]:
    if isinstance(cell, list):
        return [item if isinstance(item, dict) else _text(item) for item in cell]
    text = _text(cell)
    if text.startswith("["):
        try:
            return _list(json.loads(text))
        except (ValueError, RecursionError) as error:
            raise CellFault("begins like a JSON list, but is none") from error
    mark = next((mark for mark in ("\n", ";", "|", ",") if mark in text), ";")
    return [part.strip() for part in text.split(mark) if part.strip()]


def _listing(item: Any, order: DateOrder) -> dict[str, Any]:
    """A serial with the days for which it is listed: SERIAL@2026-03-01/2026-05-31, an open end as `..`."""
    if isinstance(item, dict):
        return item
    serial, at, days = item.partition("@")
    first, slash, last = days.partition("/")
    if not at or not slash:
        raise CellFault(f"“{item[:40]}” is not a listing; write it as SERIAL@2026-03-01/2026-05-31")
    days_of = {"from_on": first, "until_on": last}
    dates = {
        name: None if day in ("", "..") else str(to_date(day, order))
        for name, day in days_of.items()
    }
    return {"serial": serial, **dates}


def _text(cell: Any) -> str:
    text = _plain(cell)
    if found := CONTROL.search(text):
        raise CellFault(f"holds a control character (U+{ord(found[0]):04X}); take it out")
    return text


def _plain(cell: Any) -> str:
    if isinstance(cell, datetime):
        return cell.date().isoformat() if cell.time() == cell.time().min else cell.isoformat(" ")
    if isinstance(cell, date):
        return cell.isoformat()
    if isinstance(cell, float) and cell.is_integer():
        return str(int(cell))
    if isinstance(cell, bool):
        return "yes" if cell else "no"
    return str(cell).strip()
