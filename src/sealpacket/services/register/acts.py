"""Acts on the register: create, change, list, get, and find an asset by whatever is known of it."""

from __future__ import annotations

from typing import Any

from pydantic import BaseModel, ValidationError
from sqlalchemy import func, or_, select
from sqlalchemy.orm import Session

from sealpacket.core.errors import Invalid, Stale
from sealpacket.services.house import Actor, House
from sealpacket.services.paging import Page, after, page_of
from sealpacket.services.register.kinds import KINDS, Kind
from sealpacket.store.models import Asset, Contract, Entitlement, Vendor

MOST = 200


def get(house: House, kind: Kind, handle: str) -> dict[str, Any]:
    """One record by id or by what people call it."""
    with house.database.transaction() as session:
        return kind.show(kind.find(session, handle))


def create(house: House, actor: Actor, kind: Kind, form: BaseModel) -> dict[str, Any]:
    """Add a record."""
    with house.act(actor, f"{kind.name} added", kind.name) as act:
        row = kind.model()
        with act.session.no_autoflush:
            kind.fill(house, act.session, row, form)
        act.session.add(row)
        act.session.flush()
        act.session.refresh(row)
        shown = kind.show(row)
        act.subject = f"{kind.name} {shown['id']}"
        act.detail = {"called": str(getattr(row, kind.called.key))}
        return shown


def change(
    house: House, actor: Actor, kind: Kind, handle: str, changes: dict[str, Any], version: int
) -> dict[str, Any]:
    """Change some fields of a record that was read at `version`. Raises Stale if it has changed since."""
    with house.act(actor, f"{kind.name} changed", kind.name) as act:
        row = kind.find(act.session, handle)
        if row.version != version:
            raise Stale(
                f"This {kind.name} has been changed since you read it (version {version}, now {row.version}).",
                "Read it again; your change is not lost, repeat it on the new version.",
            )
        before = kind.show(row)
        given = {name: before[name] for name in kind.form.model_fields if name in before} | changes
        form = _checked(kind, given)
        with act.session.no_autoflush:
            kind.fill(house, act.session, row, form)
        if kind.name in ("entitlement", "login"):
            row.updated_at = func.now()
        act.session.flush()
        act.session.refresh(row)
        shown = kind.show(row)
        act.subject = f"{kind.name} {shown['id']}"
        act.detail = {"called": str(getattr(row, kind.called.key)), "fields": sorted(changes)}
        return shown


def _checked(kind: Kind, given: dict[str, Any]) -> BaseModel:
    try:
        return kind.form.model_validate(given)
    except ValidationError as error:
        first = error.errors()[0]
        field = ".".join(str(part) for part in first["loc"])
        raise Invalid(f"{field}: {first['msg']}.", "Mend this field.", field=field) from error


def listed(
    house: House, kind: Kind, *, query: str = "", vendor: str = "", limit: int = 50, cursor: str = ""
) -> Page[dict[str, Any]]:
    """A page of records, in their usual order; `query` narrows by words, `vendor` by the vendor's key."""
    with house.database.transaction() as session:
        statement = _holding(kind, select(kind.model), query)
        if vendor:
            statement = _of_vendor(kind, statement, vendor)
        statement = after(statement, kind.order, kind.model.id, cursor)
        rows = session.scalars(statement.limit(min(limit, MOST) + 1)).all()
        if not rows and kind.name == "asset" and query and not cursor:
            rows = _likely_assets(session, query, vendor, min(limit, MOST))
        return page_of(rows, min(limit, MOST), kind.order.key, kind.show)


def _holding(kind: Kind, statement: Any, query: str) -> Any:
    """Only records that hold every word of the query."""
    columns = [column if kind.model is Asset else func.lower(column) for column in kind.search]
    for word in query.split():
        pattern = "%" + word.lower().replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_") + "%"
        statement = statement.where(or_(*(column.like(pattern) for column in columns)))
    return statement


def _of_vendor(kind: Kind, statement: Any, vendor: str) -> Any:
    wanted = select(Vendor.id).where(Vendor.key == vendor).scalar_subquery()
    if kind.model is Vendor:
        return statement.where(Vendor.key == vendor)
    if kind.model is Entitlement:
        return statement.join(Contract).where(Contract.vendor_id == wanted)
    if hasattr(kind.model, "vendor_id"):
        return statement.where(kind.model.vendor_id == wanted)
    return statement


def _likely_assets(session: Session, query: str, vendor: str, limit: int) -> Any:
    """Assets that are written much like the query, the likest first: a mistyped serial still finds its asset."""
    likeness = func.word_similarity(query.lower(), Asset.search_text)
    statement = select(Asset).where(likeness > 0.4).order_by(likeness.desc(), Asset.serial).limit(limit)
    return session.scalars(_of_vendor(KINDS["asset"], statement, vendor) if vendor else statement).all()


def find_assets(house: House, query: str, limit: int = 20) -> list[dict[str, Any]]:
    """Assets by serial, model, host name, site or free text, the likest first; near misses if nothing fits exactly."""
    kind = KINDS["asset"]
    likeness = func.word_similarity(query.lower(), Asset.search_text)
    with house.database.transaction() as session:
        exact = _holding(kind, select(Asset), query).order_by(likeness.desc(), Asset.serial).limit(limit)
        rows = session.scalars(exact).all() or _likely_assets(session, query, "", limit)
        return [kind.show(row) for row in rows]
