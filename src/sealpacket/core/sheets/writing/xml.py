"""XML: writing a body as a document, checking it against the desk's schema, and reading replies. lxml, no entities."""

from __future__ import annotations

import re
from collections.abc import Iterator, Mapping
from functools import lru_cache
from typing import Any

from lxml import etree

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.writing.element_order import ElementOrder

LARGEST = 8 << 20
_NOT_ALLOWED = re.compile(r"[^\t\n\r\x20-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")
"""Characters that XML 1.0 cannot hold."""


def _parser() -> etree.XMLParser:
    return etree.XMLParser(
        resolve_entities=False,
        no_network=True,
        load_dtd=False,
        dtd_validation=False,
        huge_tree=False,
        remove_pis=True,
        remove_comments=True,
    )


def to_xml(root: str, namespace: str, body: Mapping[str, Any], xsd: str = "") -> bytes:
    """The document in UTF-8, its elements in the order that the schema wants, else in that of the body."""
    if xsd:
        body = in_order(body, root, xsd)
    mapping: Any = {None: namespace} if namespace else None
    element = etree.Element(_name(root, namespace), nsmap=mapping)
    _write(element, body, namespace)
    return bytes(etree.tostring(element, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def _name(name: str, namespace: str) -> str:
    return f"{{{namespace}}}{name}" if namespace else name


def _write(element: Any, node: Any, namespace: str) -> None:
    if not isinstance(node, Mapping):
        element.text = _text(node)
        return
    for key, value in node.items():
        if key.startswith("@"):
            element.set(key[1:], _text(value))
        elif key == "#text":
            element.text = _text(value)
        else:
            for item in value if isinstance(value, list) else [value]:
                _write(etree.SubElement(element, _name(key, namespace)), item, namespace)


def _text(value: Any) -> str:
    if isinstance(value, bool):
        return "true" if value else "false"
    return _NOT_ALLOWED.sub("\ufffd", str(value))


def parse_xml(data: bytes) -> Any:
    """The root of a document. Raises Invalid for what is not XML, is too large, or brings a document type along."""
    if len(data) > LARGEST:
        raise Invalid(
            "The XML document is larger than 8 MB.", "Ask the desk to send less.", code="xml-large"
        )
    if b"<!DOCTYPE" in data or b"<!ENTITY" in data:
        raise Invalid(
            "The XML document brings a document type along.",
            "Take the DOCTYPE out: it is not read.",
            code="xml-doctype",
        )
    try:
        return etree.fromstring(data, _parser())
    except (etree.XMLSyntaxError, ValueError) as error:
        raise Invalid(f"This is not XML: {error}.", "Correct it there.", code="xml") from error


@lru_cache(maxsize=32)
def schema_of(xsd: str) -> Any:
    """Read a schema. Raises Invalid if it is not one, or if it refers to another file."""
    root = parse_xml(xsd.encode())
    for tag in ("include", "import", "redefine"):
        if root.findall(f"{{http://www.w3.org/2001/XMLSchema}}{tag}"):
            raise Invalid(
                f"The schema has an xs:{tag}.",
                "Write all of it into one schema.",
                code="xsd-include",
            )
    try:
        return etree.XMLSchema(root)
    except etree.XMLSchemaParseError as error:
        raise Invalid(
            f"This is not an XML Schema: {error}.", "Correct it there.", code="xsd"
        ) from error


@lru_cache(maxsize=32)
def element_order(xsd: str, root: str) -> dict[tuple[str, ...], list[str]]:
    """By path from the root, the names of the elements within, in the order of the schema."""
    return ElementOrder(parse_xml(xsd.encode())).below(root)


def in_order(body: Mapping[str, Any], root: str, xsd: str) -> dict[str, Any]:
    """The body with its elements in the order of the schema; what the schema does not know stays at the end."""
    order = element_order(xsd, root)

    def sort(node: Any, path: tuple[str, ...]) -> Any:
        if isinstance(node, list):
            return [sort(item, path) for item in node]
        if not isinstance(node, Mapping):
            return node
        names = order.get(path, [])
        place = {name: number for number, name in enumerate(names)}
        attributes = [name for name in node if name.startswith("@")]
        others = sorted(
            (n for n in node if n not in attributes), key=lambda n: place.get(n, len(place))
        )
        return {name: sort(node[name], (*path, name)) for name in [*attributes, *others]}

    return dict(sort(body, ()))


def xsd_faults(xsd: str, document: bytes) -> list[str]:
    """Faults of a document by its schema, each as `element: sentence`; empty if it is valid."""
    schema = schema_of(xsd)
    if schema.validate(parse_xml(document)):
        return []
    return list(_told(schema.error_log))


def _told(found: Any) -> Iterator[str]:
    for entry in found:
        yield re.sub(r"\{[^}]*\}", "", entry.message)


def to_tree(data: bytes) -> Any:
    """A document as one tree, for JSONPath: {root: {"@attribute": …, element: [ … ], "#text": …}}.

    An element that has only text is that text. Elements are always in lists, so that a path finds one as it finds many.
    """
    root = parse_xml(data)
    return {_local(root): _read(root, 0)}


def _local(element: Any) -> str:
    return str(etree.QName(element).localname)


def _read(element: Any, depth: int) -> Any:
    if depth > 60:
        raise Invalid(
            "The XML document is nested too deeply.", "Ask the desk about it.", code="xml"
        )
    found: dict[str, Any] = {
        f"@{etree.QName(name).localname}": value for name, value in element.attrib.items()
    }
    for child in element:
        found.setdefault(_local(child), []).append(_read(child, depth + 1))
    text = (element.text or "").strip()
    if not found:
        return text
    return {**found, "#text": text} if text else found
