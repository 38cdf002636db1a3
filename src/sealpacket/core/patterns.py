"""Patterns that others write (in sheets, kits and settings): RE2, each compiled once in a process."""

from __future__ import annotations

from functools import lru_cache
from typing import Any

import re2


@lru_cache(maxsize=2048)
def compiled(pattern: str) -> Any:
    """A pattern, ready to match. Raises re2.error for a broken one."""
    return re2.compile(pattern)
