"""Writing a packet as the sheet says. Generic: it knows no desk."""

from __future__ import annotations

from collections.abc import Mapping
from typing import Any

_MISSING = object()


def render(template: Any, values: Mapping[str, Any]) -> Any:
    """The template with each `{take: path}` replaced by the value at that dotted path.

    A `take` may have `split` (the text's parts as a list), `map` (our value to theirs) and `otherwise` (a default).
    What has no value is left out, and so are groups in which nothing is left.
    """
    result = _render(template, values)
    return {} if result is _MISSING else result


def _render(node: Any, values: Mapping[str, Any]) -> Any:
    if isinstance(node, Mapping):
        if "take" in node:
            return _take(node, values)
        rendered = {key: _render(inner, values) for key, inner in node.items()}
        kept = {key: value for key, value in rendered.items() if value is not _MISSING}
        return kept if kept else _MISSING
    if isinstance(node, list | tuple):
        items = [item for item in (_render(inner, values) for inner in node) if item is not _MISSING]
        return items if items else _MISSING
    return node


def _take(node: Mapping[str, Any], values: Mapping[str, Any]) -> Any:
    value = values.get(str(node["take"]))
    if value in (None, ""):
        return node.get("otherwise", _MISSING)
    if "map" in node:
        return node["map"].get(str(value), node.get("otherwise", _MISSING))
    if "split" in node:
        return str(value).split(str(node["split"]))
    return value
