"""Words joined as a sentence says them."""

from __future__ import annotations

from collections.abc import Sequence


def joined(items: Sequence[str], last: str = "and") -> str:
    """The items with commas and a word before the last: a, b and c."""
    return items[0] if len(items) == 1 else ", ".join(items[:-1]) + f" {last} " + items[-1]
