"""Fields of a JSON Schema, of an operation of an OpenAPI document, or of a sample in JSON."""

from __future__ import annotations

import json
from collections.abc import Iterator, Mapping
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.guarded_yaml import read_yaml
from sealpacket.core.sheets.beginning.fields import Begun, Field, kind_of_value

_DEEPEST = 8
_MOST = 50_000
_KINDS = {"integer": "whole", "number": "number", "boolean": "boolean"}
_FORMATS = {"date": "date", "date-time": "datetime", "email": "mail"}


def from_json(text: str, operation: str = "") -> Begun:
    """The fields that such a document describes. Raises Invalid for any other document."""
    try:
        tree = (
            json.loads(text)
            if text.lstrip().startswith(("{", "["))
            else read_yaml(text, "document", _MOST)
        )
    except (ValueError, RecursionError) as error:
        raise Invalid("The file is not valid JSON.", "Save it again.") from error
    if not isinstance(tree, Mapping):
        raise Invalid("The file holds no object.", "Give a schema, or a sample of one case.")
    if "openapi" in tree or "swagger" in tree:
        return _from_openapi(tree, operation)
    if "properties" in tree or "$schema" in tree:
        return Begun("json", [*_Schema(tree).fields(tree, (), needed=True)])
    return Begun("json", [*_sampled(tree, ())])


def _sampled(node: Any, path: tuple[str, ...]) -> Iterator[Field]:
    if isinstance(node, Mapping) and len(path) < _DEEPEST:
        for name, inner in node.items():
            yield from _sampled(inner, (*path, str(name)))
        return
    value = (
        node[0]
        if isinstance(node, list) and node and not isinstance(node[0], dict | list)
        else node
    )
    if value is None or isinstance(value, dict | list):
        return
    kind = kind_of_value(value)
    example = str(value) if kind in ("text", "number", "whole") else ""
    yield Field(".".join(path), kind=kind, required=True, example=example)


def _from_openapi(tree: Mapping[str, Any], operation: str) -> Begun:
    schemas = _Schema(tree)
    found: list[tuple[str, str, Any]] = []
    for path, methods in (tree.get("paths") or {}).items():
        for method, one in methods.items() if isinstance(methods, Mapping) else ():
            content = (
                (one.get("requestBody") or {}).get("content", {})
                if isinstance(one, Mapping)
                else {}
            )
            kind = next((name for name in content if "json" in name or "form" in name), "")
            if method in ("post", "put") and kind:
                found.append(
                    (str(one.get("operationId") or f"{method} {path}"), path, (kind, content[kind]))
                )
    chosen = next((one for one in found if operation in ("", one[0])), None)
    if chosen is None:
        names = ", ".join(name for name, _, _ in found) or "none with a body"
        raise Invalid(f"The document has no operation {operation}.", f"It has {names}.")
    _, path, (kind, content) = chosen
    schema = schemas.resolved(content.get("schema", {}))
    follow = next(
        (
            other
            for other in tree["paths"]
            if other.startswith(f"{path}/{{") and "get" in tree["paths"][other]
        ),
        "",
    )
    send = {"lodge": path}
    if follow and follow.count("{") == 1:
        send["follow"] = (
            f"{follow[: follow.index('{')]}{{reference}}{follow[follow.index('}') + 1 :]}"
        )
    form = "json" if "json" in kind else "form"
    return Begun(form, [*schemas.fields(schema, (), needed=True)], send=send)


class _Schema:
    """A document whose parts refer to one another."""

    def __init__(self, tree: Mapping[str, Any]) -> None:
        self._tree = tree

    def resolved(self, schema: Any) -> Mapping[str, Any]:
        """A part with what it refers to within the document; other documents are not read."""
        for _ in range(_DEEPEST):
            reference = schema.get("$ref") if isinstance(schema, Mapping) else None
            if not isinstance(reference, str) or not reference.startswith("#/"):
                break
            node: Any = self._tree
            for part in reference[2:].split("/"):
                node = (
                    node.get(part.replace("~1", "/").replace("~0", "~"), {})
                    if isinstance(node, Mapping)
                    else {}
                )
            schema = {**node, **{name: value for name, value in schema.items() if name != "$ref"}}
        if isinstance(schema, Mapping) and isinstance(schema.get("allOf"), list):
            parts = [self.resolved(part) for part in schema["allOf"]]
            properties = {
                name: value for part in parts for name, value in part.get("properties", {}).items()
            }
            required = [name for part in parts for name in part.get("required", [])]
            schema = {
                **schema,
                "properties": properties | schema.get("properties", {}),
                "required": required,
            }
        return schema if isinstance(schema, Mapping) else {}

    def fields(
        self, schema: Mapping[str, Any], path: tuple[str, ...], *, needed: bool
    ) -> Iterator[Field]:
        """The fields of an object and of those within it."""
        required = set(schema.get("required", []))
        for name, inner in schema.get("properties", {}).items():
            part = self.resolved(inner)
            here, must = (*path, str(name)), needed and name in required
            if "properties" in part and len(path) < _DEEPEST:
                yield from self.fields(part, here, needed=must)
                continue
            items = self.resolved(part.get("items", {})) if part.get("type") == "array" else None
            if (
                part.get("readOnly")
                or "const" in part
                or (items is not None and "properties" in items)
            ):
                continue
            yield _field(
                here,
                part if items is None else {**items, **_told(part)},
                must,
                several=items is not None,
            )


def _told(part: Mapping[str, Any]) -> dict[str, Any]:
    return {name: part[name] for name in ("title", "description") if name in part}


def _field(
    path: tuple[str, ...], part: Mapping[str, Any], required: bool, *, several: bool
) -> Field:
    kinds = part.get("type")
    kind = (
        next((one for one in kinds if one != "null"), "string")
        if isinstance(kinds, list)
        else kinds
    )
    found = Field(
        ".".join(path),
        str(part.get("title") or ""),
        _FORMATS.get(str(part.get("format")), _KINDS.get(str(kind), "text")),
        required,
        min_length=part.get("minLength"),
        max_length=part.get("maxLength"),
        minimum=part.get("minimum"),
        maximum=part.get("maximum"),
        pattern=str(part.get("pattern") or "").removeprefix("^").removesuffix("$"),
        example=str(part.get("example") or next(iter(part.get("examples") or []), "")),
        guide=str(part.get("description") or ""),
    )
    if part.get("enum"):
        found.kind = "several" if several else "choice"
        found.choices = [(str(one), str(one)) for one in part["enum"] if one is not None]
    elif found.kind == "text" and (found.max_length or 0) > 200:
        found.kind = "long"
    return found
