"""The names of files at the desk."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from pathlib import PurePath
from typing import Any

from sealpacket.core.sheets.rendering import fill


def names_of(pattern: str, names: Sequence[str], values: Mapping[str, Any]) -> list[str]:
    """For each file its name by the desk's pattern; where two would be alike, the later gets its number."""
    found: list[str] = []
    for number, name in enumerate(names, 1):
        path = PurePath(name)
        here = {**values, "name": name, "stem": path.stem, "ending": path.suffix, "number": number}
        wanted = _clean(fill(pattern, here)) or name
        if wanted in found:
            wanted = f"{PurePath(wanted).stem}-{number}{PurePath(wanted).suffix}"
        found.append(wanted)
    return found


def _clean(name: str) -> str:
    """Without what would make a path of it."""
    return "".join("-" if c in '/\\<>:"|?*' or ord(c) < 32 else c for c in name).strip(". ")[:180]
