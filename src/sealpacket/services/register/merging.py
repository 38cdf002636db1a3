"""Merging duplicates: one record stays, all that belonged to the other is its own, and both histories are kept."""

from __future__ import annotations

from typing import Any

from sqlalchemy import Table, delete, func, select, update
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.services.register.acts import in_version, noted, rewrite
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import (
    Asset,
    AssetStay,
    Base,
    ContractTerm,
    MergedRecord,
    PacketLine,
    Vendor,
)

_OWN = {AssetStay.__tablename__, ContractTerm.__tablename__}
"""Tables that are parts of the record itself, and move with it."""
_SHOWN = {PacketLine.__tablename__}
"""Tables that repeat what others hold: their rows move, and are not counted."""
MERGED_KINDS = ("asset", "person", "site", "product", "contract")


def preview(app: AppContext, kind: Kind, handle: str, other: str) -> dict[str, Any]:
    """Preview a merge: the fields that the remaining record would take over, and how many rows would move to it."""
    with app.database.transaction() as session:
        stays, goes = kind.find(session, handle), kind.find(session, other)
        _check(kind, stays, goes)
        moving: dict[str, int] = {}
        for table, column in _references(kind):
            if table.name in _SHOWN:
                continue
            count = (
                session.scalar(
                    select(func.count()).select_from(table).where(table.c[column] == goes.id)
                )
                or 0
            )
            if count:
                moving[table.name] = moving.get(table.name, 0) + count
        return {
            "stays": kind.show(stays),
            "goes": kind.show(goes),
            "takes": _taken_over(kind, stays, goes),
            "moving": moving,
        }


def merge(
    app: AppContext, actor: Actor, kind: Kind, handle: str, other: str, version: int
) -> dict[str, Any]:
    """Make one record of two: the first stays, takes over what it lacks, and gets all that refers to the other.

    The other one is gone; its id and its name still find the one that stayed. Raises Conflict where both have
    something that there can be only one of.
    """
    with app.transaction(actor, f"{kind.name}s merged", kind.name) as tx:
        session = tx.session
        stays, goes = in_version(session, kind, handle, version), kind.find(session, other)
        _check(kind, stays, goes)
        called, gone = str(getattr(goes, kind.called.key)), goes.id
        takes = _taken_over(kind, stays, goes)
        session.flush()
        for table, column in _references(kind):
            _move(session, table, column, gone, stays.id)
        session.expire_all()
        session.execute(
            update(MergedRecord).where(MergedRecord.into_id == gone).values(into_id=stays.id)
        )
        session.add(
            MergedRecord(
                old_id=gone, kind=kind.name, called=called, into_id=stays.id, by=actor.name
            )
        )
        session.execute(delete(kind.model).where(kind.model.id == gone))
        session.expire_all()
        if takes:
            rewrite(app, session, kind, stays, takes, trace=False)
        else:
            stays.updated_at = func.now()
        tx.detail = {"merged": called, "takes": sorted(takes)}
        return noted(tx, actor, kind, stays, f"merged with {called}")


def duplicates(app: AppContext, *, limit: int = 100) -> list[list[dict[str, Any]]]:
    """Assets of one vendor whose serials differ only in characters that look alike, in groups."""
    kind = KINDS["asset"]
    folded = func.translate(func.upper(Asset.serial), "OQDILSBZGV -_./", "000115826U")
    with app.database.transaction() as session:
        query = (
            select(func.array_agg(Asset.id))
            .join(Vendor)
            .group_by(Vendor.key, folded)
            .having(func.count() > 1)
            .order_by(Vendor.key, func.min(Asset.serial))
            .limit(limit)
        )
        groups = list(session.scalars(query))
        rows = session.scalars(
            select(Asset)
            .where(Asset.id.in_([i for group in groups for i in group]))
            .options(*kind.eager)
        )
        by_id = {row.id: row for row in rows}
        return [
            sorted((kind.show(by_id[ident]) for ident in group), key=lambda item: item["serial"])
            for group in groups
        ]


def _check(kind: Kind, stays: Any, goes: Any) -> None:
    if kind.name not in MERGED_KINDS:
        raise Invalid(
            f"{kind.plural.capitalize()} cannot be merged.", f"Only {', '.join(MERGED_KINDS)}s can."
        )
    if stays.id == goes.id:
        raise Invalid("These are one and the same.", "Name two records.", field="other")
    if getattr(stays, "vendor_id", None) != getattr(goes, "vendor_id", None):
        raise Conflict(
            "They are of two vendors.",
            "Correct the vendor of one of them first.",
            code="two-vendors",
        )


def _references(kind: Kind) -> list[tuple[Table, str]]:
    """All columns that refer to records of a kind, but for those that are a part of it."""
    table = kind.model.__table__
    found = []
    for other in Base.metadata.sorted_tables:
        for key in other.foreign_keys:
            if key.column.table is table and key.column.name == "id" and other.name not in _OWN:
                found.append((other, key.parent.name))
    return found


def _move(session: Session, table: Table, column: str, gone: str, stays: str) -> None:
    """Make rows that refer to one record refer to the other; duplicates are dropped."""
    keys = [item for item in table.primary_key.columns if item.name != column]
    if column in table.primary_key.columns:
        mine, twin = table.alias("mine"), table.alias("twin")
        same = [mine.c[item.name] == twin.c[item.name] for item in keys]
        there = select(twin.c[column]).where(twin.c[column] == stays, *same).exists()
        doubled = select(*[mine.c[item.name] for item in keys]).where(mine.c[column] == gone, there)
        for row in session.execute(doubled).all():
            where = [table.c[item.name] == value for item, value in zip(keys, row, strict=True)]
            session.execute(delete(table).where(table.c[column] == gone, *where))
    session.execute(update(table).where(table.c[column] == gone).values({column: stays}))


def _taken_over(kind: Kind, stays: Any, goes: Any) -> dict[str, Any]:
    """Fields that the record that stays lacks and the other one has."""
    mine, other = kind.body(stays), kind.body(goes)
    takes: dict[str, Any] = {}
    for name, value in other.items():
        if name in kind.natural or value in (None, "", [], False, 0):
            continue
        if isinstance(value, list) and name not in ("listings", "stays"):
            more = [item for item in value if item not in mine[name]]
            if more:
                takes[name] = [*mine[name], *more]
        elif mine[name] in (None, "", []):
            takes[name] = value
    if ("cost_minor" in takes and mine.get("currency")) or (
        "currency" in takes and mine.get("cost_minor")
    ):
        takes.pop("cost_minor", None)
        takes.pop("currency", None)
    return takes
