"""Texts that fit a pattern, where a sheet gives no example of it."""

from __future__ import annotations

import re
import re._constants as ops  # type: ignore[import-not-found]
import re._parser as parser  # type: ignore[import-not-found]
import string
import warnings
from random import Random
from typing import Any

_FEW = 4
"""So often is something repeated that may be repeated without end."""
_LONGEST = 400
_CLASSES = {
    ops.CATEGORY_DIGIT: string.digits,
    ops.CATEGORY_WORD: string.ascii_lowercase + string.digits,
    ops.CATEGORY_SPACE: " ",
    ops.CATEGORY_NOT_DIGIT: string.ascii_lowercase,
    ops.CATEGORY_NOT_SPACE: string.ascii_lowercase,
    ops.CATEGORY_NOT_WORD: "-",
}


def like(pattern: str | None, chance: Random) -> str:
    """A text that the pattern probably takes; empty if the pattern cannot be read. It has to be tried."""
    try:
        with warnings.catch_warnings():
            warnings.simplefilter("ignore")
            parsed = parser.parse(pattern or "")
    except (re.error, RecursionError, OverflowError):
        return ""
    return _sequence(parsed, chance)[:_LONGEST]


def _sequence(parsed: Any, chance: Random) -> str:
    return "".join(_one(op, value, chance) for op, value in parsed)


def _one(op: Any, value: Any, chance: Random) -> str:
    match op:
        case ops.LITERAL:
            return chr(value)
        case ops.ANY:
            return chance.choice(string.ascii_lowercase)
        case ops.NOT_LITERAL:
            return "x" if value != ord("x") else "y"
        case ops.IN:
            return _of_class(value, chance)
        case ops.BRANCH:
            return _sequence(chance.choice(value[1]), chance)
        case ops.SUBPATTERN:
            return _sequence(value[-1], chance)
        case ops.MAX_REPEAT | ops.MIN_REPEAT:
            low, high, inner = value
            most = min(int(high), max(int(low), 1) + _FEW - 1)
            return "".join(
                _sequence(inner, chance)
                for _ in range(chance.randint(min(int(low), 200), max(most, min(int(low), 200))))
            )
        case _:
            return ""


def _of_class(parts: Any, chance: Random) -> str:
    found: list[str] = []
    for op, value in parts:
        if op is ops.NEGATE:
            return chance.choice(
                [c for c in string.ascii_lowercase + string.digits if not _within(parts[1:], c)]
                or [""]
            )
        found += _members(op, value)
    return chance.choice(found or [""])


def _members(op: Any, value: Any) -> list[str]:
    match op:
        case ops.LITERAL:
            return [chr(value)]
        case ops.RANGE:
            return [chr(code) for code in range(value[0], min(value[1], value[0] + 200) + 1)]
        case ops.CATEGORY:
            return [*_CLASSES.get(value, "")]
        case _:
            return []


def _within(parts: Any, char: str) -> bool:
    return any(char in _members(op, value) for op, value in parts)
