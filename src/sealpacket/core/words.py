"""Words joined as a sentence says them."""

from __future__ import annotations

from collections.abc import Sequence


def count(number: int, one: str, many: str = "") -> str:
    """A number with its noun: 1 thing, 2 things."""
    return f"{number} {one if number == 1 else many or one + 's'}"


def a(noun: str) -> str:
    """A noun with its article: a vendor, an asset."""
    return f"{'an' if noun[0] in 'aeio' else 'a'} {noun}"


def joined(items: Sequence[str], last: str = "and") -> str:
    """The items with commas and a word before the last: a, b and c."""
    return items[0] if len(items) == 1 else ", ".join(items[:-1]) + f" {last} " + items[-1]
