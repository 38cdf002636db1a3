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
from sealpacket.services.register.kinds import KINDS, Kind
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Asset, Contract, Entitlement, Product, VendorLogin

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
    columns: dict[str, tuple[InstrumentedAttribute[Any], ...]] = {
        "product": (Product.vendor_id, Product.part_number),
        "asset": (Asset.vendor_id, Asset.serial),
        "contract": (Contract.vendor_id, Contract.number),
        "entitlement": (Entitlement.contract_id, Entitlement.reference, Entitlement.starts_on),
        "login": (VendorLogin.vendor_id, VendorLogin.name),
    }
    return columns.get(kind.name) or (kind.model.key,)


def natural_key(kind: Kind, refs: Referred, given: Mapping[str, Any]) -> Key:
    """The identity of the record that these fields are about. Raises Invalid for an unknown vendor or contract."""
    if kind.name == "entitlement":
        contract = refs.contract(refs.vendor(given["vendor"]), given["contract"], "contract")
        return contract, given["reference"], date.fromisoformat(given["starts_on"])
    last = given[kind.natural[-1]]
    return (refs.vendor(given["vendor"]), last) if kind.natural[0] == "vendor" else (last,)


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
