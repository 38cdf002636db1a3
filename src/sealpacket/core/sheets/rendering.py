"""Writing a packet's body as the sheet says. Generic: it knows no desk."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from typing import Any

from sealpacket.core.sheets.bodies import ESCAPE, Conditional, Joined, Take
from sealpacket.core.sheets.conditions import holds
from sealpacket.core.sheets.conversion import plain, written_as
from sealpacket.core.sheets.values import OutgoingValues

_MISSING = object()
_PATH = r"[a-z][a-z0-9_]*(?:\.[a-z0-9_]+)*"
BRACES = re.compile(r"\{\{|\}\}|\{(" + _PATH + r")\}")
"""Braces in a text hold a dotted path and nothing else, so that no value can reach further. Doubled braces are
braces."""


def braces_in(text: str) -> Iterator[str]:
    """The paths in braces in a text."""
    return (match[1] for match in BRACES.finditer(text) if match[1])


def render(template: Any, values: Mapping[str, Any]) -> Any:
    """Render a body. Nodes without a value are left out; so are blank texts and empty groups."""
    result = _render(template, values)
    return {} if result is _MISSING else result


def fill(text: str, values: Mapping[str, Any]) -> str:
    """A text with the paths in its braces replaced; what has no value leaves nothing. Values are not looked into."""
    return BRACES.sub(lambda match: plain(values.get(match[1])) if match[1] else match[0][0], text)


def _render(node: Any, values: Mapping[str, Any]) -> Any:
    match node:
        case None:
            return _MISSING
        case Take():
            return _take(node, values)
        case Conditional():
            answers = values.answers if isinstance(values, OutgoingValues) else {}
            met = holds(node.when, answers, values)
            return _render(node.value if met else node.otherwise, values)
        case Joined():
            parts = _kept(node.parts, values)
            return node.join.join(plain(part) for part in parts) if parts else _MISSING
        case str():
            return _text(node, values)
        case Mapping():
            rendered = {name: _render(inner, values) for name, inner in node.items()}
            return {
                name.removeprefix(ESCAPE): value
                for name, value in rendered.items()
                if value is not _MISSING
            } or _MISSING
        case list() | tuple():
            return _kept(node, values) or _MISSING
        case _:
            return node


def _kept(nodes: Any, values: Mapping[str, Any]) -> list[Any]:
    return [item for item in (_render(inner, values) for inner in nodes) if item is not _MISSING]


def _text(text: str, values: Mapping[str, Any]) -> Any:
    """A text filled; nothing where it holds facts and none of them is known."""
    paths = [*braces_in(text)]
    if paths and not any(plain(values.get(path)).strip() for path in paths):
        return _MISSING
    return fill(text, values)


def _take(node: Take, values: Mapping[str, Any]) -> Any:
    found = _converted(node, values.get(node.take), values)
    if found is _MISSING or found is None:
        return _render(node.otherwise, values)
    return found


def _converted(node: Take, value: Any, values: Mapping[str, Any]) -> Any:
    if value in (None, "", []):
        return _MISSING
    if node.items is not None:
        items = value if isinstance(value, list) else [value]
        written = (_render(node.items, _with_parts(values, _item(item))) for item in items)
        value = [item for item in written if item is not _MISSING]
    if node.map is not None:
        return node.map.get(plain(value), _MISSING)
    if node.split is not None:
        return [part for part in str(value).split(node.split) if part]
    if node.join is not None:
        parts = value if isinstance(value, list) else [value]
        return node.join.join(plain(item) for item in parts)
    return written_as(value, node.type, node.layout)


def _with_parts(values: Mapping[str, Any], parts: dict[str, Any]) -> Mapping[str, Any]:
    return values.with_parts(parts) if isinstance(values, OutgoingValues) else {**values, **parts}


def _item(item: Any) -> dict[str, Any]:
    return (
        {f"item.{name}": part for name, part in item.items()}
        if isinstance(item, Mapping)
        else {"item": item}
    )
