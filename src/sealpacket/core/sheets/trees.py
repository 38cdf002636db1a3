"""A desk's answers as one tree: JSON, XML or labelled lines, with JSONPath (RFC 9535) for its parts."""

from __future__ import annotations

import csv
import io
import itertools
import json
import re
from collections.abc import Mapping
from typing import Any

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid
from sealpacket.core.patterns import compiled
from sealpacket.core.sheets.model import Sheet
from sealpacket.core.sheets.writing.mail import read_labels
from sealpacket.core.sheets.writing.xml import to_tree

_LARGEST = 8 << 20
MOST_ROWS = 5000
"""Rows of a CSV that are read."""


def read_reply(sheet: Sheet, data: bytes) -> Any:
    """Parse a desk's answer to one tree; None if it does not have the format that the sheet names.

    Control characters, which no record takes, become U+FFFD.
    """
    if len(data) > _LARGEST:
        return None
    try:
        match sheet.replies.read:
            case "json":
                tree = json.loads(data)
            case "xml":
                tree = to_tree(data)
            case "labels":
                tree = read_labels(data.decode("utf-8", "replace"))
            case "pairs":
                tree = _pairs(data.decode("utf-8", "replace"))
            case "csv":
                tree = {"rows": _rows(data.decode("utf-8-sig", "replace"))}
        return without_controls(tree)
    except (ValueError, RecursionError, csv.Error, Invalid):
        return None


_PAIR = re.compile(r"[ \t]*([A-Za-z][A-Za-z0-9_.-]{0,60})[ \t]*=[ \t]*(.*)")


def _pairs(text: str) -> dict[str, Any]:
    """Lines of KEY=value, by key in small letters; quotes around a value go, and lines of another form are `text`."""
    found: dict[str, Any] = {}
    rest: list[str] = []
    for line in text.splitlines():
        match = _PAIR.fullmatch(line)
        if match:
            found.setdefault(match[1].lower(), match[2].strip().strip('"'))
        elif line.strip() and not line.lstrip().startswith(("#", ";", "[")):
            rest.append(line.strip())
    found.setdefault("text", "\n".join(rest))
    return found


def _rows(text: str) -> list[dict[str, str]]:
    """The rows of a CSV by their headings, in small letters with underscores; separated by commas or semicolons."""
    first = text.partition("\n")[0]
    rows = csv.reader(
        io.StringIO(text), delimiter=";" if first.count(";") > first.count(",") else ","
    )
    heads = [head.strip().lower().replace(" ", "_") for head in next(rows, [])]
    return [
        dict(zip(heads, (cell.strip() for cell in row), strict=False))
        for row in itertools.islice(rows, MOST_ROWS)
        if any(row)
    ]


class _Parts(dict[str, str]):
    """The values that the patterns of a sheet have found in a tree."""


def with_parts(sheet: Sheet, body: Any) -> Any:
    """A tree with what the sheet's patterns find in its texts, under `parts`."""
    rules = sheet.replies.parts
    if not rules or not isinstance(body, Mapping) or isinstance(body.get("parts"), _Parts):
        return body
    found = _Parts()
    for rule in rules:
        for text in all_at(rule.at, body):
            match = compiled(rule.pattern).search(str(text))
            for name, value in (match.groupdict() if match else {}).items():
                if value:
                    found.setdefault(name, value.strip())
    return {**body, "parts": found}


def read_at(path: str, body: Any) -> Any:
    """The value at a JSONPath; None if there is nothing."""
    import jsonpath

    if not path or isinstance(body, str):  # the package would read a text as JSON
        return None
    try:
        match = jsonpath.match(path, body)
    except jsonpath.JSONPathError:
        return None
    return None if match is None else match.obj


def all_at(path: str, body: Any) -> list[Any]:
    """All values at a JSONPath; of lists, what is in them."""
    import jsonpath

    if isinstance(body, str):
        return []
    try:
        found = list(jsonpath.findall(path, body))
    except jsonpath.JSONPathError:
        return []
    return [inner for item in found for inner in (item if isinstance(item, list) else [item])]


def facts_in(sheet: Sheet, body: Any) -> dict[str, str]:
    """Further facts that a desk gives about a case, by label."""
    return {
        one.label: str(value)
        for one in sheet.replies.facts
        if (value := read_at(one.path, body)) not in (None, "")
    }
