"""In which order an XML Schema wants its elements."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

_XS = "{http://www.w3.org/2001/XMLSchema}"
_DEEPEST = 40


def _local(name: str | None) -> str:
    return (name or "").rpartition(":")[2]


class ElementOrder:
    """The elements of a schema by path, each group in its order. Types, groups and extensions are followed."""

    def __init__(self, schema: Any) -> None:
        self._named = {
            (child.tag, child.get("name")): child for child in schema if isinstance(child.tag, str)
        }
        self._found: dict[tuple[str, ...], list[str]] = {}

    def below(self, root: str) -> dict[tuple[str, ...], list[str]]:
        """By path from the root, the names within; empty if the schema has no such element."""
        self._found = {}
        begin = self._named.get((f"{_XS}element", root))
        if begin is not None:
            self._look(begin, (), ())
        return self._found

    def _look(self, element: Any, path: tuple[str, ...], above: tuple[Any, ...]) -> None:
        if len(path) > _DEEPEST or element in above or path in self._found:
            return
        kind = self._named.get((f"{_XS}complexType", _local(element.get("type"))))
        children = [
            one
            for inner in (element if kind is None else [kind])
            for one in self._content(inner, 0)
        ]
        names = [child.get("name") or _local(child.get("ref")) for child in children]
        self._found[path] = list(dict.fromkeys(names))
        for name, child in zip(names, children, strict=True):
            target = self._named.get((f"{_XS}element", name)) if child.get("ref") else child
            if target is not None:
                self._look(target, (*path, name), (*above, element))

    def _content(self, node: Any, depth: int) -> Iterator[Any]:
        """The elements right within a type, group or choice."""
        if depth > _DEEPEST or not isinstance(node.tag, str):
            return
        if node.tag == f"{_XS}element":
            yield node
            return
        for tag, attribute, kind in (
            ("group", "ref", "group"),
            ("extension", "base", "complexType"),
        ):
            target = self._named.get((f"{_XS}{kind}", _local(node.get(attribute))))
            if target is not None and node.tag == f"{_XS}{tag}":
                yield from self._content(target, depth + 1)
        for child in node:
            yield from self._content(child, depth + 1)
