"""Writing a packet's body as the sheet says. Generic: it knows no desk."""

from __future__ import annotations

import re
from collections.abc import Mapping
from typing import Any

from sealpacket.core.sheets.asking import Condition
from sealpacket.core.sheets.conditions import holds
from sealpacket.core.sheets.values import OutgoingValues

_MISSING = object()
BRACES = re.compile(r"\{([a-z][a-z0-9_]*(?:\.[a-z0-9_]+)*)\}")
"""What a text with braces may hold: a dotted path and nothing else, so that no value can reach further."""


def render(template: Any, values: Mapping[str, Any]) -> Any:
    """The template with each `{take: path}` replaced by the value at that dotted path.

    A `take` may have `split` (the text's parts as a list), `map` (our value to theirs), `join` (a list as one text),
    `each` (what is written of every item, taken as `item`) and `otherwise` (a default). `{text: …}` is a text with
    paths in braces, `{when: condition, write: …}` stands only if the condition holds. What has no value is left out; so
    are texts of which only blanks are left, and groups in which nothing is.
    """
    result = _render(template, values)
    return {} if result is _MISSING else result


def fill(text: str, values: Mapping[str, Any]) -> str:
    """A text with the paths in its braces replaced; what has no value leaves nothing. Values are not looked into."""
    return BRACES.sub(lambda match: plain(values.get(match[1])), text)


def plain(value: Any) -> str:
    """A value as text: lists with commas, yes and no."""
    if value is None:
        return ""
    if isinstance(value, list):
        return ", ".join(plain(item) for item in value)
    if isinstance(value, bool):
        return "yes" if value else "no"
    return str(value)


def _render(node: Any, values: Mapping[str, Any]) -> Any:
    if isinstance(node, Mapping):
        if "take" in node:
            return _take(node, values)
        if set(node) == {"text"} and isinstance(node["text"], str):
            filled = fill(node["text"], values)
            return filled if filled.strip() else _MISSING
        if set(node) == {"when", "write"}:
            condition = Condition.model_validate(node["when"])
            answers = values.answers if isinstance(values, OutgoingValues) else {}
            return _render(node["write"], values) if holds(condition, answers, values) else _MISSING
        rendered = {key: _render(inner, values) for key, inner in node.items()}
        kept = {key: value for key, value in rendered.items() if value is not _MISSING}
        return kept if kept else _MISSING
    if isinstance(node, list | tuple):
        items = [
            item for item in (_render(inner, values) for inner in node) if item is not _MISSING
        ]
        return items if items else _MISSING
    return node


def _take(node: Mapping[str, Any], values: Mapping[str, Any]) -> Any:
    value = values.get(str(node["take"]))
    if value in (None, "", []):
        return node.get("otherwise", _MISSING)
    if "each" in node:
        items = value if isinstance(value, list) else [value]
        written = [_render(node["each"], _with_parts(values, _item(item))) for item in items]
        kept = [item for item in written if item is not _MISSING]
        return kept or _MISSING
    if "map" in node:
        return node["map"].get(plain(value), node.get("otherwise", _MISSING))
    if "join" in node:
        return (
            str(node["join"]).join(plain(item) for item in value)
            if isinstance(value, list)
            else value
        )
    if "split" in node:
        return str(value).split(str(node["split"]))
    return value


def _with_parts(values: Mapping[str, Any], parts: dict[str, Any]) -> Mapping[str, Any]:
    return values.with_parts(parts) if isinstance(values, OutgoingValues) else {**values, **parts}


def _item(item: Any) -> dict[str, Any]:
    return (
        {f"item.{name}": part for name, part in item.items()}
        if isinstance(item, Mapping)
        else {"item": item}
    )
