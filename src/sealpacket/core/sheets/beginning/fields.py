"""A field of a vendor's form, from whatever description."""

from __future__ import annotations

import re
from dataclasses import dataclass, field
from typing import Any

Kind = str
"""text, long, number, whole, boolean, date, datetime, choice, several, mail or phone."""


@dataclass
class Field:
    """One field: where it is written, and its allowed values."""

    path: str
    label: str = ""
    kind: Kind = "text"
    required: bool = False
    choices: list[tuple[str, str]] = field(default_factory=list)
    min_length: int | None = None
    max_length: int | None = None
    minimum: float | None = None
    maximum: float | None = None
    pattern: str = ""
    example: str = ""
    guide: str = ""


@dataclass
class Begun:
    """All that could be read of a desk: its fields, how a case is written, and how it is sent."""

    format: str
    fields: list[Field]
    write: dict[str, Any] = field(default_factory=dict)
    send: dict[str, Any] = field(default_factory=dict)
    files: bool = False
    notes: dict[tuple[str | int, ...], str] = field(default_factory=dict)


def words_of(name: str) -> list[str]:
    """The words of a field's name: serialNo, serial_no and Serial-No are serial and no."""
    spaced = re.sub(r"(?<=[a-z0-9])(?=[A-Z])", " ", name)
    return [word for word in re.split(r"[^A-Za-z0-9]+", spaced.lower()) if word]


def kind_of_value(value: Any) -> Kind:
    """The kind of field that a sample value comes from."""
    if isinstance(value, bool):
        return "boolean"
    if isinstance(value, int):
        return "whole"
    if isinstance(value, float):
        return "number"
    text = str(value)
    for kind, pattern in _LOOKS.items():
        if re.fullmatch(pattern, text):
            return kind
    return "long" if len(text) > 80 or "\n" in text else "text"


_LOOKS = {
    "date": r"\d{4}-\d{2}-\d{2}",
    "datetime": r"\d{4}-\d{2}-\d{2}[T ]\d{2}:\d{2}(:\d{2})?(\.\d+)?(Z|[+-]\d{2}:?\d{2})?",
    "mail": r"[^@\s]+@[^@\s]+\.[^@\s]+",
    "phone": r"\+[0-9][0-9 ()/-]{6,20}",
    "boolean": r"(?i)true|false",
}
