"""The job that compares a statement with the register as of its day."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from datetime import date
from itertools import islice
from pathlib import Path
from typing import Any, NamedTuple

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, selectinload

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid, ProblemError
from sealpacket.core.statement import CoverLine, compare, plain_serial
from sealpacket.core.tables import (
    CellFault,
    DateOrder,
    Field,
    TableFault,
    date_order_of,
    guess_mapping,
    open_table,
    understand,
)
from sealpacket.services.register.referred import Referred
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import (
    Asset,
    Contract,
    Entitlement,
    EntitlementAsset,
    IntakeSource,
    Product,
    Site,
    Statement,
    StatementDifference,
)
from sealpacket.store.models.register import entitlement_product

COMPARE = "compare_statement"
SOURCE = "statement"
FIELDS = {
    field.name: field
    for field in (
        Field("serial", "text", True), Field("contract", "text"), Field("level", "text"), Field("starts_on", "date"),
        Field("ends_on", "date"), Field("site", "text"), Field("product", "text"),
    )
}  # fmt: skip
"""Columns that a statement may have."""
_LOOK = 200
_BATCH = 5000


def compare_statement(app: AppContext, ident: str, chosen: bool) -> None:
    """The job: read the file, compare it with the register as of the statement's day, and keep the differences."""
    with app.database.transaction() as session:
        statement = session.get(Statement, ident)
        if statement is None or statement.state != "reading":
            return
        blob, name, mapping = statement.blob, statement.name, dict(statement.mapping)
    found: dict[str, Any]
    try:
        with app.blobs.as_file(blob) as path:
            headings, mapping, theirs, faults = _read(path, mapping)
        with app.database.transaction() as session:
            counts = _compare(session, ident, theirs, frozenset(mapping))
            if chosen:
                _remember(session, ident, mapping)
        words = f"{len(faults)} rows of {name} say nothing: {faults[0]}" if faults else ""
        found = {
            "state": "ready",
            "headings": headings,
            "mapping": mapping,
            "counts": counts,
            "status_text": words,
        }
    except (TableFault, ProblemError) as fault:
        found = {"state": "failed", "status_text": f"{fault} {fault.remedy}"}
    with app.database.transaction() as session:
        kept = session.get_one(Statement, ident)
        for field, value in found.items():
            setattr(kept, field, value)


def _remember(session: Session, ident: str, mapping: dict[str, str]) -> None:
    key = session.get_one(Statement, ident).vendor.key
    session.merge(IntakeSource(kind=SOURCE, name=key, mapping=mapping, fixed={}, date_order=None))


def _read(
    path: Path, mapping: dict[str, str]
) -> tuple[list[str], dict[str, str], list[CoverLine], list[str]]:
    """Headings, the columns used, the lines, and what is wrong with rows that say nothing."""
    table = open_table(path)
    first = list(islice(table.rows, _LOOK))
    mapping = guess_mapping(
        table.headings, FIELDS, {k: v for k, v in mapping.items() if v in table.headings}
    )
    if "serial" not in mapping:
        raise TableFault(
            f"No column holds serials; there are {', '.join(filter(None, table.headings))}.",
            "Say which one does.",
        )
    columns = [(FIELDS[name], table.headings.index(heading)) for name, heading in mapping.items()]
    dates = [place for field, place in columns if field.kind == "date"]
    order = (
        date_order_of(cells[place] for _, cells in first for place in dates if place < len(cells))
        or "day"
    )
    lines, faults = [], []
    for rows in (first, table.rows):
        for number, cells in rows:
            try:
                lines.append(_line(cells, columns, order))
            except CellFault as fault:
                faults.append(f"row {number} {fault}.")
    return table.headings, mapping, lines, faults


def _line(cells: list[Any], columns: list[tuple[Field, int]], order: DateOrder) -> CoverLine:
    said: dict[str, Any] = {}
    for field, place in columns:
        value = understand(cells[place] if place < len(cells) else None, field, order)
        if value is not None:
            said[field.name] = value
    if not said.get("serial"):
        raise CellFault("has no serial")
    return CoverLine.model_validate(said)


class Held(NamedTuple):
    """One thing on one contract, with where that is kept."""

    line: CoverLine
    asset_id: str
    entitlement_id: str
    listed: bool


def _compare(
    session: Session, ident: str, theirs: list[CoverLine], said: frozenset[str]
) -> dict[str, int]:
    statement = session.get_one(Statement, ident)
    session.execute(delete(StatementDifference).where(StatementDifference.statement_id == ident))
    ours = list(held(session, statement.vendor_id, statement.as_of))
    by_serial = {item.line.serial: item.asset_id for item in ours}
    known = _known(session, statement.vendor_id, theirs)
    comparison = compare(
        (item.line for item in ours),
        _with_site_keys(session, theirs),
        said,
        known=known,
        day=statement.as_of,
    )
    differences = comparison.differences
    refs = Referred(session)
    refs.prefetch(statement.vendor_id, [item.serial for item in differences])
    rows = [
        {
            "statement_id": ident,
            "number": number,
            "sort": item.sort,
            "serial": item.serial,
            "asset_id": by_serial.get(item.serial)
            or _asset(refs, statement.vendor_id, item.serial),
            "ours": item.ours.model_dump(mode="json") if item.ours else None,
            "theirs": item.theirs.model_dump(mode="json") if item.theirs else None,
            "fields": item.fields,
            "slips": [slip.model_dump() for slip in item.slips] or None,
            "decision": None,
            "reason": "",
            "decided_by": None,
            "decided_at": None,
            "packet": None,
        }
        for number, item in enumerate(differences, 1)
    ]
    copy_rows(session, StatementDifference, rows)
    return {"agreeing": comparison.agreeing, **Counter(item.sort for item in differences)}


def _known(session: Session, vendor_id: str, lines: list[CoverLine]) -> frozenset[str]:
    """Which serials of a statement are those of things that we have."""
    serials = [line.serial for line in lines]
    found: set[str] = set()
    for start in range(0, len(serials), _BATCH):
        some = serials[start : start + _BATCH]
        query = select(Asset.serial).where(Asset.vendor_id == vendor_id, Asset.serial.in_(some))
        found |= {plain_serial(serial) for serial in session.scalars(query)}
    return frozenset(found)


def _asset(refs: Referred, vendor_id: str, serial: str) -> str | None:
    try:
        return refs.asset(vendor_id, serial, "serial")
    except Invalid:
        return None


def _with_site_keys(session: Session, lines: list[CoverLine]) -> Iterator[CoverLine]:
    """Lines whose sites are ours by key, where we know them."""
    refs = Referred(session)
    known: dict[str, str] = {}
    for line in lines:
        if line.site and line.site not in known:
            try:
                known[line.site] = refs.key_of("site", line.site)
            except Invalid:
                known[line.site] = line.site
        yield line.model_copy(update={"site": known[line.site]}) if line.site else line


def held(session: Session, vendor_id: str, day: date, serial: str = "") -> Iterator[Held]:
    """The register's view of a vendor's cover on a day, one line for each asset and contract.

    Of several entitlements of one contract the one of the highest rank, one that lists it before others. What ended
    before the day is there, too.
    """
    best: dict[tuple[str, str], tuple[tuple[bool, int, bool, date], Held]] = {}
    begun = _first_days(session, vendor_id)
    for row in _versions(session, vendor_id, day, serial):
        first = min(begun.get((row.contract_id, row.reference), row.starts_on), row.starts_on)
        for asset, from_on, until_on, listed in _covered(session, row, vendor_id, serial):
            if (from_on and from_on > day) or row.starts_on > day:
                continue
            ends = min(row.ends_on, until_on or date.max)
            line = CoverLine(
                serial=asset.serial,
                contract=row.contract.number,
                level=row.level,
                product=asset.part_number,
                starts_on=max(from_on or first, first),
                ends_on=ends,
                site=asset.site or "",
            )
            weight = (ends >= day, row.rank, listed, ends)
            key = (asset.id, row.contract_id)
            if key not in best or best[key][0] < weight:
                best[key] = weight, Held(line, asset.id, row.id, listed)
    yield from (item for _, item in best.values())


def _first_days(session: Session, vendor_id: str) -> dict[tuple[str, str], date]:
    """By contract and reference, the first day of what runs in the contract's present term, however often amended."""
    query = (
        select(Entitlement.contract_id, Entitlement.reference, func.min(Entitlement.starts_on))
        .join(Contract)
        .where(Contract.vendor_id == vendor_id, Entitlement.starts_on >= Contract.starts_on)
        .group_by(Entitlement.contract_id, Entitlement.reference)
    )
    return {(contract, reference): first for contract, reference, first in session.execute(query)}


def _versions(session: Session, vendor_id: str, day: date, serial: str) -> list[Entitlement]:
    """Of each entitlement (that may cover `serial`, if given) the version that counts on the day, or counted last."""
    query = (
        select(Entitlement)
        .join(Contract)
        .where(Contract.vendor_id == vendor_id, Entitlement.starts_on <= day)
        .where(Entitlement.replaced_on.is_(None) | (Entitlement.replaced_on > day))
        .options(
            selectinload(Entitlement.contract),
            selectinload(Entitlement.listed),
            selectinload(Entitlement.products),
            selectinload(Entitlement.sites),
        )
    )
    if serial:
        one = select(Asset).where(Asset.vendor_id == vendor_id, Asset.serial == serial)
        listed = select(EntitlementAsset.entitlement_id).where(
            EntitlementAsset.asset_id.in_(one.with_only_columns(Asset.id))
        )
        of_product = select(entitlement_product.c.entitlement_id).where(
            entitlement_product.c.product_id.in_(one.with_only_columns(Asset.product_id))
        )
        query = query.where(
            Entitlement.everything | Entitlement.id.in_(listed) | Entitlement.id.in_(of_product)
        )
    return list(session.scalars(query))


def _covered(
    session: Session, row: Entitlement, vendor_id: str, serial: str
) -> Iterator[tuple[Any, Any, Any, bool]]:
    """The assets that a version is about: what it lists, and what is of its products at its sites."""
    query = (
        select(
            Asset.id, Asset.serial, Asset.product_id, Site.key.label("site"), Product.part_number
        )
        .join(Product, Product.id == Asset.product_id)
        .outerjoin(Site, Site.id == Asset.site_id)
        .where(Asset.vendor_id == vendor_id)
    )
    query = query.where(Asset.serial == serial) if serial else query
    days = {item.asset_id: item for item in row.listed}
    if days:
        for asset in session.execute(query.where(Asset.id.in_(list(days)))):
            yield asset, days[asset.id].from_on, days[asset.id].until_on, True
    if not (row.everything or row.products):
        return
    wide = (
        query
        if row.everything
        else query.where(Asset.product_id.in_([item.id for item in row.products]))
    )
    wide = wide.where(Asset.status != "retired")
    if row.sites:
        wide = wide.where(Asset.site_id.in_([site.id for site in row.sites]))
    if row.countries:
        wide = wide.where(Site.country.in_(row.countries))
    for asset in session.execute(wide):
        if asset.id not in days:
            yield asset, None, None, False
