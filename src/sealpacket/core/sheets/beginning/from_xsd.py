"""Fields of an XML Schema (XSD 1.0)."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.beginning.fields import Begun, Field
from sealpacket.core.sheets.writing.xml import parse_xml, schema_of

_XS = "{http://www.w3.org/2001/XMLSchema}"
_KINDS = {
    "boolean": "boolean", "date": "date", "dateTime": "datetime", "decimal": "number", "double": "number",
    "float": "number",
}  # fmt: skip
_WHOLE = (
    "int",
    "integer",
    "long",
    "short",
    "positiveInteger",
    "nonNegativeInteger",
    "unsignedInt",
    "byte",
)
_DEEPEST = 12


def from_xsd(text: str, root: str = "") -> Begun:
    """The elements and attributes that hold a text, below the outermost element. Raises Invalid if it is no schema."""
    schema_of(text)
    reader = _Reader(parse_xml(text.encode()))
    name = root or reader.first_root()
    fields = [*reader.below(name)]
    write = {"root": name, "namespace": reader.namespace, "xsd": text.strip() + "\n"}
    return Begun("xml", fields, {key: value for key, value in write.items() if value})


class _Reader:
    def __init__(self, schema: Any) -> None:
        self.namespace = schema.get("targetNamespace") or ""
        self._named = {(c.tag, c.get("name")): c for c in schema if isinstance(c.tag, str)}
        self._roots = [c.get("name") for c in schema if c.tag == f"{_XS}element"]

    def first_root(self) -> str:
        """The first outermost element."""
        if not self._roots:
            raise Invalid("The schema has no outermost element.", "Give the schema of a document.")
        return str(self._roots[0])

    def below(self, root: str) -> Iterator[Field]:
        """The fields below an outermost element."""
        element = self._named.get((f"{_XS}element", root))
        if element is None:
            raise Invalid(
                f"The schema has no element {root}.", f"It has {', '.join(map(str, self._roots))}."
            )
        yield from self._inside(element, (), needed=True)

    def _inside(self, element: Any, path: tuple[str, ...], *, needed: bool) -> Iterator[Field]:
        kind = self._type(element, "complexType")
        if kind is None:
            yield self._field(element, path, self._type(element, "simpleType"), needed=needed)
            return
        if len(path) > _DEEPEST:
            return
        for node, must in self._parts(kind, True):
            if node.tag == f"{_XS}attribute":
                required = needed and node.get("use") == "required"
                yield self._field(
                    node,
                    (*path, f"@{node.get('name')}"),
                    self._type(node, "simpleType"),
                    needed=required,
                )
                continue
            target = self._named.get(
                (f"{_XS}element", (node.get("ref") or "").rpartition(":")[2]), node
            )
            here = (*path, str(target.get("name")))
            yield from self._inside(
                target, here, needed=needed and must and node.get("minOccurs") != "0"
            )
        text = kind.find(f".//{_XS}simpleContent")
        if text is not None:
            yield self._field(element, (*path, "#text"), None, needed=needed)

    def _parts(self, node: Any, must: bool) -> Iterator[tuple[Any, bool]]:
        """Elements and attributes right within a type; those of a choice may all be missing."""
        for child in node:
            if not isinstance(child.tag, str):
                continue
            if child.tag in (f"{_XS}element", f"{_XS}attribute"):
                yield child, must
                continue
            if child.tag in (f"{_XS}annotation", f"{_XS}simpleType"):
                continue
            inner = must and child.tag != f"{_XS}choice" and child.get("minOccurs") != "0"
            name = (child.get("base") or child.get("ref") or "").rpartition(":")[2]
            for kind in ("complexType", "group", "attributeGroup"):
                target = self._named.get((f"{_XS}{kind}", name))
                if target is not None:
                    yield from self._parts(target, inner)
            yield from self._parts(child, inner)

    def _type(self, node: Any, sort: str) -> Any:
        name = (node.get("type") or "").rpartition(":")[2]
        own = node.find(f"{_XS}{sort}")
        return own if own is not None else self._named.get((f"{_XS}{sort}", name))

    def _field(self, node: Any, path: tuple[str, ...], kind: Any, *, needed: bool) -> Field:
        words = node.findtext(f"{_XS}annotation/{_XS}documentation") or ""
        found = Field(".".join(path), " ".join(words.split()), required=needed)
        base = (node.get("type") or "").rpartition(":")[2]
        limits = kind.find(f"{_XS}restriction") if kind is not None else None
        if limits is not None:
            base = (limits.get("base") or "").rpartition(":")[2]
            _limit(found, limits)
        found.kind = (
            found.kind
            if found.choices
            else _KINDS.get(base, "whole" if base in _WHOLE else found.kind)
        )
        if found.kind == "text" and (found.max_length or 0) > 200:
            found.kind = "long"
        return found


def _limit(found: Field, limits: Any) -> None:
    values = [(one.get("value"), one.get("value")) for one in limits.findall(f"{_XS}enumeration")]
    if values:
        found.kind, found.choices = "choice", values
    for name, tag in (("min_length", "minLength"), ("max_length", "maxLength")):
        one = limits.find(f"{_XS}{tag}")
        if one is not None:
            setattr(found, name, int(one.get("value")))
    for name, tag in (("minimum", "minInclusive"), ("maximum", "maxInclusive")):
        one = limits.find(f"{_XS}{tag}")
        if one is not None:
            setattr(found, name, float(one.get("value")))
    patterns = [one.get("value") for one in limits.findall(f"{_XS}pattern")]
    found.pattern = patterns[0] if len(patterns) == 1 else ""
