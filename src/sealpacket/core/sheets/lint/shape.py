"""Faults in the shape of a sheet, in our own words: names, values and forms that do not exist."""

from __future__ import annotations

from collections.abc import Iterator, Mapping
from typing import Any

from pydantic import ValidationError

from sealpacket.core.sheets.lint.findings import MOST, Fault, is_it, nearest, stop
from sealpacket.core.sheets.lint.language import description_at, words_at
from sealpacket.core.sheets.model import Misplaced, place_of
from sealpacket.core.sheets.reading import Place
from sealpacket.core.words import joined


def shape_faults(error: ValidationError, body: Any) -> list[Fault]:
    """Every fault of the shape once, at its place in the sheet."""
    found: dict[tuple[Place, str], Fault] = {}
    for item in error.errors(include_url=False)[: MOST * 3]:
        if _is_other_branch(item):
            continue
        fault = _fault_of(item, place_of(item["loc"], body), body)
        found.setdefault((fault.place, fault.sentence), fault)
    return [*found.values()][:MOST]


def _is_other_branch(item: Mapping[str, Any]) -> bool:
    """Whether an error is of a branch of a union that nobody meant: a group is no `true`, a text no group."""
    loc, value = item["loc"], item["input"]
    if loc and loc[-1] == "bool":
        return isinstance(value, Mapping)
    if len(loc) > 1 and loc[-1] in ("Condition", "Status", "KeptQuestion"):
        return not isinstance(value, Mapping)
    return any(str(part).startswith("function-plain") for part in loc)


def _fault_of(item: Mapping[str, Any], place: Place, body: Any) -> Fault:
    kind = item["type"]
    context = item.get("ctx", {})
    own = context.get("error")
    if isinstance(own, Misplaced):
        return stop("names", own.place, own.sentence, word=own.word)
    if isinstance(own, ValueError):
        return stop("shape", place, _sentence(str(own)))
    for begins, tell in _TOLD.items():
        if kind.startswith(begins):
            fault: Fault = tell(place, item.get("input"), context, body)
            return fault
    return stop("shape", place, f"{_name(place)} cannot be this.", description_at(place, body))


def _sentence(text: str) -> str:
    return f"{text[:1].upper()}{text[1:].rstrip('.')}."


def _name(place: Place) -> str:
    """A place in a sentence: `max_length`, or entry 3 of `choices`."""
    if not place:
        return "The sheet"
    if isinstance(place[-1], int):
        return f"Entry {place[-1] + 1} of {_name(place[:-1])}"
    return f"`{place[-1]}`"


def _missing(place: Place, _value: Any, _context: Any, body: Any) -> Fault:
    name = str(place[-1]) if place else ""
    where = f" in {_name(place[:-1])}" if len(place) > 1 else ""
    return stop(
        "missing",
        place[:-1],
        f"`{name}` is missing{where}.",
        description_at(place, body),
        name=True,
    )


def _extra(place: Place, value: Any, _context: Any, body: Any) -> Fault:
    name = str(place[-1])
    words = words_at(place[:-1], body)
    near = nearest(name, words)
    where = f" in {_name(place[:-1])}" if len(place) > 1 else ""
    if value is None and not near:
        remedy = "A comma within braces begins a new entry: put the text that holds it into quotes."
    else:
        remedy = is_it(near, f"There are: {', '.join(words)}." if words else "")
    return stop(
        "unknown-word",
        place,
        f"There is no `{name}`{where}.",
        remedy,
        name=True,
        word=name,
        near=near,
    )


def _literal(place: Place, value: Any, context: Mapping[str, Any], body: Any) -> Fault:
    words = [
        one.strip("'") for one in context.get("expected", "").replace(" or ", ", ").split(", ")
    ]
    return _one_of(place, value, words)


def _one_of(place: Place, value: Any, words: list[str]) -> Fault:
    if place == ("sheet",):
        return stop(
            "version",
            place,
            f"This is a sheet of version {value}; the language is version 2.",
            "Begin it with `sheet: 2`.",
        )
    near = nearest(str(value), words)
    listed = joined(words, "or")
    return stop(
        "unknown-value",
        place,
        f"{_name(place)} cannot be {_shown(value)}.",
        is_it(near) + (" " if near else "") + f"It is {listed}.",
        word=str(value),
        near=near,
    )


def _shown(value: Any) -> str:
    if isinstance(value, Mapping):
        return "a group"
    if isinstance(value, list | tuple):
        return "a list"
    return "empty" if value in (None, "") else f"“{str(value)[:80]}”"


def _tag(place: Place, value: Any, context: Mapping[str, Any], body: Any) -> Fault:
    words = [one.strip("'") for one in context.get("expected_tags", "").split(", ")]
    name = str(context.get("discriminator", "")).strip("'")
    return _one_of((*place, name), value.get(name) if isinstance(value, Mapping) else value, words)


def _no_tag(place: Place, value: Any, context: Mapping[str, Any], body: Any) -> Fault:
    name = str(context.get("discriminator", "")).strip("'")
    return _missing((*place, name), value, context, body)


def _wanted(words: str) -> Any:
    def tell(place: Place, value: Any, _context: Any, body: Any) -> Fault:
        return stop(
            "value",
            place,
            f"{_name(place)} cannot be {_shown(value)}: {words}.",
            description_at(place, body),
            word=str(value) if isinstance(value, str) else "",
        )

    return tell


def _number(place: Place, value: Any, _context: Any, body: Any) -> Fault:
    size = str(place[-1]) in ("max_size", "max_total") if place else False
    words = "write bytes, or a size such as 8 MB" if size else "write a number"
    fault: Fault = _wanted(words)(place, value, _context, body)
    return fault


def _bound(place: Place, value: Any, context: Mapping[str, Any], body: Any) -> Fault:
    bounds = {"ge": "at least", "gt": "more than", "le": "at most", "lt": "less than"}
    words = " and ".join(f"{bounds[name]} {context[name]}" for name in bounds if name in context)
    fault: Fault = _wanted(f"it is {words}")(place, value, context, body)
    return fault


def _length(place: Place, value: Any, context: Mapping[str, Any], body: Any) -> Fault:
    fewest, most = context.get("min_length"), context.get("max_length")
    thing = "characters" if isinstance(value, str) else "entries"
    words = f"at least {fewest} {thing}" if fewest is not None else f"at most {most} {thing}"
    return stop("length", place, f"{_name(place)} has {words}.", description_at(place, body))


_FORMS = {
    "desk": "small letters, digits and hyphens, such as marram-scales",
    "id": "small letters, digits and underscores, beginning with a letter, such as error_code",
    "holidays_of": "a country by ISO 3166, such as GB or GB-ENG",
    "drop": "a folder below the server's, such as in",
    "pick_up": "a folder below the server's, such as out",
    "root": "the name of an XML element",
    "answer_root": "the name of an XML element",
    "field": "the name of a form's field",
}


def _pattern(place: Place, value: Any, _context: Any, body: Any) -> Fault:
    name = str(place[-1]) if place else ""
    words = _FORMS.get(name, "a path that begins with /, below the desk's configured address")
    fault: Fault = _wanted(f"write {words}")(place, value, _context, body)
    return fault


_TOLD: dict[str, Any] = {
    "missing": _missing,
    "extra_forbidden": _extra,
    "literal_error": _literal,
    "union_tag_invalid": _tag,
    "union_tag_not_found": _no_tag,
    "int_": _number,
    "float_": _number,
    "finite_number": _number,
    "bool_": _wanted("write true or false, or a condition where one can stand"),
    "string_type": _wanted("write a text"),
    "string_pattern": _pattern,
    "string_too": _length,
    "too_short": _length,
    "too_long": _length,
    "greater_than": _bound,
    "less_than": _bound,
    "date_": _wanted("write a day such as 2026-11-23"),
    "tuple_type": _wanted("write a list"),
    "list_type": _wanted("write a list"),
    "dict_type": _wanted("write a group of names and values"),
    "model_": _wanted("write a group of names and values"),
}
"""By the beginning of pydantic's name for an error, our words for it."""


def doubled(places: list[Place]) -> Iterator[Fault]:
    """Names that are written twice in one group."""
    for place in places:
        yield stop(
            "doubled",
            place,
            f"`{place[-1]}` is written twice in {_name(place[:-1])}.",
            "Keep one of them.",
            name=True,
        )
