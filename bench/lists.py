"""The tests of long lists with all of each list; in the suite each tries a part, another one in each form."""

from __future__ import annotations

from typing import Any

from figures import try_all


def figures() -> list[dict[str, Any]]:
    """No figures: it fails if one of them does."""
    names = ("test_hard_lines", "test_shipped_lines", "test_exchanged_values")
    try_all(*(f"tests/core/{name}.py" for name in names))
    return []
