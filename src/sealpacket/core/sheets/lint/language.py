"""The words of the language at a place of a sheet, from its published schema."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Any

from sealpacket.core.sheets.bodies import kind_of
from sealpacket.core.sheets.model import sheet_schema
from sealpacket.core.sheets.reading import Place

_NODES = {"take": "Take", "when": "Conditional", "parts": "Joined"}


@lru_cache(maxsize=1)
def _schema() -> dict[str, Any]:
    return sheet_schema()


def words_at(place: Place, body: Any) -> dict[str, str]:
    """The names allowed in the group at a place, with their descriptions; empty if names are free."""
    found: dict[str, str] = {}
    for schema in _at(place, body):
        for name, inner in schema.get("properties", {}).items():
            found.setdefault(name, inner.get("description", ""))
    return found


def description_at(place: Place, body: Any) -> str:
    """The description of a property."""
    if not place:
        return ""
    return words_at(place[:-1], body).get(str(place[-1]), "")


def _at(place: Place, body: Any) -> Iterator[dict[str, Any]]:
    schemas = [*_open(_schema(), body)]
    for part in place:
        body = _step(body, part)
        inner = [found for schema in schemas for found in _into(schema, part)]
        schemas = [opened for found in inner for opened in _open(found, body)]
    yield from schemas


def _step(body: Any, part: str | int) -> Any:
    if isinstance(body, Mapping):
        return body.get(str(part))
    if isinstance(body, list) and isinstance(part, int) and part < len(body):
        return body[part]
    return None


def _into(schema: Mapping[str, Any], part: str | int) -> Iterator[dict[str, Any]]:
    if isinstance(part, int):
        if "items" in schema:
            yield schema["items"]
    elif part in schema.get("properties", {}):
        yield schema["properties"][part]
    elif isinstance(schema.get("additionalProperties"), dict):
        yield schema["additionalProperties"]


def _open(schema: dict[str, Any], body: Any) -> Iterator[dict[str, Any]]:
    """A schema without references and choices: all that may fit the body."""
    if "$ref" in schema:
        name = schema["$ref"].rpartition("/")[2]
        inner = _schema()["$defs"][name]
        yield from _node(inner, body) if name == "Node" else _open(inner, body)
        return
    branches = schema.get("anyOf") or schema.get("oneOf")
    if branches is None:
        yield schema
        return
    mapping = schema.get("discriminator", {})
    chosen = mapping.get("mapping", {}).get(_step(body, mapping.get("propertyName", "")))
    for branch in [{"$ref": chosen}] if chosen else branches:
        yield from _open(branch, body)


def _node(schema: dict[str, Any], body: Any) -> Iterator[dict[str, Any]]:
    kind = kind_of(body)
    for branch in schema.get("oneOf") or schema.get("anyOf") or ():
        name = branch.get("$ref", "").rpartition("/")[2]
        if name:
            if name == _NODES.get(kind):
                yield _schema()["$defs"][name]
        elif branch.get("type") == {"group": "object", "list": "array"}.get(kind):
            yield branch
