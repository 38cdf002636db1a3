"""Control characters: no text of a record has any, and what comes from outside may hold them in any place."""

from __future__ import annotations

import re
from typing import Any

CONTROL = re.compile(r"[\x00-\x08\x0b\x0c\x0e-\x1f\x7f-\x9f\ud800-\udfff]")
"""Controls of C0 and C1 but tab and line ends, and halves of characters: databases, workbooks and XML hold none."""

_BREAK = re.compile(r"\s*[\r\n\u2028\u2029]+\s*")


def control_in(value: Any, at: str = "") -> tuple[str, str] | None:
    """The place and the name of the first control character in a text, or in a tree of lists and mappings."""
    if isinstance(value, str):
        letter = CONTROL.search(value)
        return (at, f"U+{ord(letter[0]):04X}") if letter else None
    if isinstance(value, dict):
        for key, inner in value.items():
            if found := control_in(key, at) or control_in(inner, f"{at}.{key}" if at else str(key)):
                return found
    if isinstance(value, list):
        for place, inner in enumerate(value):
            if found := control_in(inner, f"{at}.{place}" if at else str(place)):
                return found
    return None


def one_line(text: str) -> str:
    """The text with a space for each line break: for texts of one line, such as titles."""
    return _BREAK.sub(" ", text)


def without_controls(value: Any) -> Any:
    """The same text or tree with U+FFFD for each control character."""
    if isinstance(value, str):
        return CONTROL.sub("\ufffd", value)
    if isinstance(value, dict):
        return {without_controls(key): without_controls(inner) for key, inner in value.items()}
    if isinstance(value, list):
        return [without_controls(inner) for inner in value]
    return value
