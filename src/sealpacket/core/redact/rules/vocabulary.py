"""Words and pieces of patterns that rules and judgements share: words.toml, pieces.toml, grammars.toml."""

from __future__ import annotations

import re
import tomllib
from functools import cache
from importlib import resources
from typing import Any, NamedTuple

_REFERENCE = re.compile(r"\{\{([a-z0-9-]+)\}\}")


class UnknownPiece(ValueError):
    """A pattern refers to a piece that does not exist."""


def words(name: str) -> frozenset[bytes]:
    """A list of words. Raises KeyError for an unknown list."""
    listed: str = _read("words.toml")["words"][name]
    return frozenset(listed.encode().split())


@cache
def piece(name: str) -> bytes:
    """A piece of a pattern. Raises UnknownPiece."""
    try:
        return pattern_of(_read("pieces.toml")[name])
    except KeyError as error:
        raise UnknownPiece(f"there is no piece {{{{{name}}}}}") from error


def pattern_of(text: str) -> bytes:
    """The pattern that a text gives: line ends with the blanks behind them removed, pieces put in.

    So is what the one line of a text between three quotes is indented by. Raises UnknownPiece.
    """
    if "\n" in text or text.startswith("    "):
        text = re.sub(r"\n *", "", "\n" + text)
    return _REFERENCE.sub(lambda found: piece(found[1]).decode(), text).encode()


class Grammar(NamedTuple):
    """Patterns before a label and between it and its value; and short forms of both, to find lines by."""

    lead: bytes
    between: bytes
    anchor_lead: bytes
    anchor: bytes


@cache
def grammar(name: str) -> Grammar:
    """A grammar of grammars.toml. Raises UnknownPiece."""
    try:
        found = _read("grammars.toml")[name]
    except KeyError as error:
        known = ", ".join(_read("grammars.toml"))
        raise UnknownPiece(f"there is no grammar “{name}”; there are {known}") from error
    return Grammar(*(pattern_of(found[part]) for part in Grammar._fields))


@cache
def _read(file: str) -> dict[str, Any]:
    text = (resources.files(__package__) / file).read_text("utf-8")
    return tomllib.loads(text)
