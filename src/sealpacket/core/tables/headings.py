"""Matching columns to fields: by name, by what columns are called elsewhere, or by likeness."""

from __future__ import annotations

import re
from collections.abc import Iterable, Mapping, Sequence
from difflib import SequenceMatcher
from functools import cache
from importlib.resources import files

import yaml

_LIKE_ENOUGH = 0.86


@cache
def _elsewhere() -> Mapping[str, tuple[str, ...]]:
    text = files("sealpacket.core.tables").joinpath("headings.yaml").read_text("utf-8")
    return {
        field: tuple(_plain(name) for name in names)
        for field, names in yaml.safe_load(text).items()
    }


def _plain(heading: str) -> str:
    return re.sub(r"[\W_]+", "", heading.casefold())


def guess_mapping(
    headings: Sequence[str], fields: Iterable[str], remembered: Mapping[str, str]
) -> dict[str, str]:
    """By field, the heading of the column that fills it. What was chosen before for this source goes first.

    No column fills two fields. A heading is matched by the field's own name, then by what it is called elsewhere,
    then by likeness of the spelling.
    """
    wanted = list(fields)
    free = [heading for heading in headings if heading]
    mapping: dict[str, str] = {}
    for field, heading in remembered.items():
        if field in wanted and heading in free:
            mapping[field] = heading
            free.remove(heading)
    for fits in (_is_name, _is_known, _is_like):
        for field in wanted:
            found = next((heading for heading in free if fits(field, _plain(heading))), None)
            if field not in mapping and found is not None:
                mapping[field] = found
                free.remove(found)
    return mapping


def _is_name(field: str, heading: str) -> bool:
    return heading in (
        _plain(field),
        _plain(field.removesuffix("_on")),
        _plain(field.removesuffix("_minor")),
    )


def _is_known(field: str, heading: str) -> bool:
    return heading in _elsewhere().get(field, ())


def _is_like(field: str, heading: str) -> bool:
    names = (_plain(field), *_elsewhere().get(field, ()))
    return any(
        len(name) > 4 and SequenceMatcher(None, name, heading).ratio() >= _LIKE_ENOUGH
        for name in names
    )
