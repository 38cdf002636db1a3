"""The fields that a column may fill, from the form of each kind of record; and how a record is identified."""

from __future__ import annotations

from collections.abc import Iterable, Mapping
from datetime import date
from functools import cache
from types import UnionType
from typing import Annotated, Any, Literal, Union, get_args, get_origin

from sqlalchemy import select, tuple_
from sqlalchemy.orm import InstrumentedAttribute, Session

from sealpacket.core.coverage import Listing
from sealpacket.core.tables import Field
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.register.referred import Referred

COST = Field("cost", "money")
"""A contract's cost in major units, as people write it; it becomes `cost_minor`."""


@cache
def fields_of(name: str) -> dict[str, Field]:
    """The fields of a kind of record that a column may fill, by name."""
    form = KINDS[name].form
    fields = {
        key: _field(key, info.annotation, info.is_required())
        for key, info in form.model_fields.items()
    }
    return fields | ({"cost": COST} if name == "contract" else {})


def _field(name: str, annotation: Any, required: bool) -> Field:
    annotation = _bare(annotation)
    if get_origin(annotation) is list:
        item = _bare(get_args(annotation)[0])
        if item is Listing:
            return Field(name, "listings", required)
        if get_origin(item) is Literal:
            return Field(name, "choices", required, get_args(item))
        return Field(name, "list", required)
    if get_origin(annotation) is Literal:
        return Field(name, "choice", required, get_args(annotation))
    kind: Any = {date: "date", int: "whole", bool: "yes"}.get(annotation, "text")
    return Field(name, kind, required)


def _bare(annotation: Any) -> Any:
    """The type inside of optional and annotated ones."""
    while True:
        if get_origin(annotation) is Annotated:
            annotation = get_args(annotation)[0]
        elif get_origin(annotation) in (Union, UnionType):
            annotation = next(part for part in get_args(annotation) if part is not type(None))
        else:
            return annotation


Key = tuple[Any, ...]


def natural_columns(kind: Kind) -> tuple[InstrumentedAttribute[Any], ...]:
    """The columns that identify a record of a kind."""
    own = vars(kind.model)
    names = (f"{name}_id" if f"{name}_id" in own else name for name in _identifying(kind))
    return tuple(getattr(kind.model, name) for name in names)


def _identifying(kind: Kind) -> list[str]:
    """The fields that identify a record: all natural ones, but a vendor that another of them belongs to."""
    names = [name for name in kind.natural if name != "vendor"]
    whole = {"contract", "product", "asset"} & set(names)
    return names if whole or "vendor" not in kind.natural else ["vendor", *names]


def natural_key(kind: Kind, refs: Referred, given: Mapping[str, Any]) -> Key:
    """The identity of the record that these fields are about. Raises Invalid for an unknown vendor or contract."""
    vendor = refs.vendor(given["vendor"]) if "vendor" in kind.natural else ""

    def one(name: str) -> Any:
        value = given.get(name, "")
        if name == "vendor":
            return vendor
        if name in ("contract", "product", "asset"):
            return getattr(refs, name)(vendor, value, name)
        return date.fromisoformat(value) if name.endswith("_on") else value

    return tuple(one(name) for name in _identifying(kind))


def records_by_key(session: Session, kind: Kind, keys: Iterable[Key]) -> dict[Key, Any]:
    """The existing records, by identity."""
    columns = natural_columns(kind)
    wanted = list(keys)
    if not wanted:
        return {}
    query = select(kind.model).where(tuple_(*columns).in_(wanted)).options(*kind.eager)
    return {
        tuple(getattr(row, column.key) for column in columns): row for row in session.scalars(query)
    }
