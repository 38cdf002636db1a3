"""Values as the desk reads them: numbers, dates, moments, lists."""

from __future__ import annotations

import re
from datetime import date, datetime
from typing import Annotated, Any, Literal

from pydantic import AfterValidator

ValueType = Literal[
    "text", "number", "whole", "boolean", "date", "time", "datetime", "label", "list"
]
"""The type in which a value is written. `datetime` is RFC 3339 with its offset; `label` the words of a choice;
`whole` a number without a fraction; `list` the parts of a tree's path, or the lines of a text."""

_FIELDS = {
    "yyyy": "%Y", "yy": "%y", "MM": "%m", "dd": "%d", "HH": "%H", "mm": "%M", "ss": "%S", "xxx": "offset",
}  # fmt: skip
_LETTERS = re.compile(r"([A-Za-z])\1*")


def layout_fault(layout: str) -> str:
    """The fault of a layout of dates or times (CLDR field symbols); empty if it is valid."""
    for match in _LETTERS.finditer(layout.replace("'T'", "")):
        if match[0] not in _FIELDS:
            return f"“{match[0]}” is not a part of a date; there are {', '.join(_FIELDS)}."
    return ""


def _checked(layout: str) -> str:
    fault = layout_fault(layout)
    if fault:
        raise ValueError(fault)
    return layout


Layout = Annotated[str, AfterValidator(_checked)]
"""How a desk writes dates and times, in CLDR field symbols: dd.MM.yyyy HH:mm."""


def written_as(value: Any, kind: ValueType | None, layout: str = "") -> Any:
    """The value as the desk reads it; None if it cannot be read as that."""
    if layout:
        return _laid_out(value, layout)
    match kind:
        case "number" | "whole":
            return _number(value, kind)
        case "boolean":
            return value if isinstance(value, bool) else {"yes": True, "no": False}.get(str(value))
        case "date" | "time" | "datetime":
            return _moment(value, kind)
        case "list":
            return value if isinstance(value, list) else _parts(str(value))
        case "text":
            return plain(value)
        case _:
            return value


def plain(value: Any) -> str:
    """A value as text: lists with commas, yes and no."""
    if value is None:
        return ""
    if isinstance(value, list | tuple):
        return ", ".join(plain(item) for item in value)
    if isinstance(value, dict):
        return " ".join(plain(part) for part in value.values())
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value)


def _number(value: Any, kind: str) -> int | float | None:
    if isinstance(value, bool):
        return None
    try:
        number = float(str(value).strip().split(" ", 1)[0])
    except ValueError:
        return None
    if number.is_integer():
        return int(number)
    return None if kind == "whole" else number


def _parts(text: str) -> list[str]:
    return [part.strip() for part in re.split(r"[/\n]", text) if part.strip()]


def _read(value: Any) -> datetime | date | None:
    text = str(value)
    try:
        return date.fromisoformat(text) if len(text) == 10 else datetime.fromisoformat(text)
    except ValueError:
        return None


def _moment(value: Any, kind: str) -> str | None:
    moment = _read(value)
    if moment is None:
        return None
    if not isinstance(moment, datetime):
        return moment.isoformat() if kind == "date" else None
    if kind == "date":
        return moment.date().isoformat()
    return moment.strftime("%H:%M:%S") if kind == "time" else moment.isoformat(timespec="seconds")


def _laid_out(value: Any, layout: str) -> str | None:
    moment = _read(value)
    if moment is None:
        return None

    def part(match: re.Match[str]) -> str:
        directive = _FIELDS.get(match[0], match[0])
        if directive == "offset":
            return moment.isoformat()[-6:] if getattr(moment, "tzinfo", None) else ""
        return moment.strftime(directive)

    return _LETTERS.sub(part, layout.replace("'T'", "\0")).replace("\0", "T")
