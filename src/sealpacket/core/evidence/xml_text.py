"""XML in evidence: read through without building anything of it."""

from __future__ import annotations

from xml.parsers.expat import ParserCreate


class EntitiesDeclared(ValueError):
    """The document declares entities, and is not read: they could explode."""


def read_through(text: str) -> None:
    """Read an XML document. Raises ExpatError if it is not one, EntitiesDeclared for one that declares entities."""
    parser = ParserCreate()
    parser.EntityDeclHandler = _refuse
    parser.Parse(text.encode(), True)


def _refuse(*_: object) -> None:
    raise EntitiesDeclared
