"""A sheet as text: what is short in braces on one line, what is long in blocks."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

import yaml

_WIDTH = 100
_SAFE = re.compile(r"[A-Za-z$./][A-Za-z0-9$_./@*()-]*( [A-Za-z0-9_./()-]+)*[.!]?|[0-9]+ [kMG]B")
_TAKEN = re.compile(r"(?i)true|false|yes|no|on|off|null|y|n")


Notes = Mapping[tuple[str | int, ...], str]
"""By place, what is said of it in a comment."""
MARK = "# ?"
"""Begins a comment about something that is still to be filled in."""


def sheet_yaml(tree: Mapping[str, Any], notes: Notes | None = None) -> str:
    """The text of a sheet. Reading it gives the same tree. `notes` follow their places, as `# ? …`."""
    blocks = [_entry(name, value, (name,), notes or {}) for name, value in tree.items()]
    text = ""
    for number, block in enumerate(blocks):
        apart = number and (_long(block) or _long(blocks[number - 1]))
        text += ("\n" if apart else "") + block
    return text


def _long(block: str) -> bool:
    return block.count("\n") > 1


def _entry(name: str, value: Any, place: tuple[str | int, ...], notes: Notes) -> str:
    depth = len(place) - 1
    pad = "  " * depth
    head = f"{pad}{_scalar(name)}:"
    note = f"  {MARK} {notes[place]}" if place in notes else ""
    if isinstance(value, str) and "\n" in value:
        lines = value.rstrip("\n").split("\n")
        return f"{head} |{note}\n" + "".join(f"{pad}  {line}".rstrip() + "\n" for line in lines)
    short = _flow(value)
    if not isinstance(value, Mapping | list) or not value:
        text = _scalar(value, alone=True) if isinstance(value, str) else short
        return f"{f'{head} {text}' if text else head}{note}\n"
    below = any(one[: len(place)] == place and len(one) > len(place) for one in notes)
    if len(head) + len(short) < _WIDTH and _is_short(value, depth) and not below:
        return f"{head} {short}{note}\n"
    if isinstance(value, Mapping):
        return f"{head}{note}\n" + "".join(
            _entry(key, inner, (*place, key), notes) for key, inner in value.items()
        )
    gap = "\n" if name == "questions" else ""
    return f"{head}{note}\n" + gap.join(
        _item(item, (*place, at), notes) for at, item in enumerate(value)
    )


def _is_short(value: Any, depth: int) -> bool:
    """Whether a group reads well on one line."""
    inner = value.values() if isinstance(value, Mapping) else value
    nested = sum(isinstance(one, Mapping | list) for one in inner)
    return depth > 0 and (len(value) <= 4 if isinstance(value, Mapping) else True) and nested <= 2


def _item(item: Any, place: tuple[str | int, ...], notes: Notes) -> str:
    pad = "  " * (len(place) - 1)
    short = _flow(item)
    if not isinstance(item, Mapping) or (
        not {"ask", "form"} <= set(item)
        and len(pad) + len(short) + 2 < _WIDTH
        and len(item) <= 5
        and "\n" not in short
    ):
        return f"{pad}- {short}\n"
    block = "".join(_entry(key, inner, (*place, key), notes) for key, inner in item.items())
    return f"{pad}- {block[len(pad) + 2 :]}"


def _flow(value: Any) -> str:
    if isinstance(value, Mapping):
        return "{" + ", ".join(f"{_scalar(k)}: {_flow(v)}" for k, v in value.items()) + "}"
    if isinstance(value, list | tuple):
        return "[" + ", ".join(_flow(one) for one in value) + "]"
    return _scalar(value)


_ALONE = re.compile(r"[A-Za-z/$][^\n#:'\"]*")


def _scalar(value: Any, *, alone: bool = False) -> str:
    """A scalar; `alone` on its line it may hold commas and braces without quotes."""
    if isinstance(value, bool):
        return "true" if value else "false"
    if value is None:
        return ""
    if isinstance(value, int | float):
        return str(value)
    text = str(value)
    plain = _SAFE.fullmatch(text) or (alone and text == text.strip() and _ALONE.fullmatch(text))
    if plain and not _TAKEN.fullmatch(text):
        return text
    dumped: str = yaml.safe_dump(
        text, width=1 << 20, allow_unicode=True, default_style="'" if "\\" in text else '"'
    )
    return dumped.strip()
