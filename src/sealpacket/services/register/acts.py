"""Acts on the register: create, change, list, get, and find an asset by whatever is known of it."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import UTC, date, datetime, timedelta
from functools import cache
from ipaddress import ip_address
from typing import Any
from uuid import uuid4

from pydantic import BaseModel, ValidationError
from sqlalchemy import TextClause, func, literal, or_, select, text
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext, AuditedTransaction
from sealpacket.core.errors import Invalid, Stale
from sealpacket.core.faults import faults_of
from sealpacket.services.register.forms import AssetForm
from sealpacket.services.register.kind import Kind, write_links
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import (
    Asset,
    AssetStay,
    Contract,
    Entitlement,
    MergedRecord,
    Product,
    RecordVersion,
    Site,
    Vendor,
)
from sealpacket.store.paging import Page, after, page_of

MOST = 200
_RANKED = 100
_MOST_WORDS = 12
DEEPEST = 20
"""Maximum depth of assets within assets."""


def get(app: AppContext, kind: Kind, handle: str) -> dict[str, Any]:
    """One record by id or by what people call it."""
    with app.database.transaction() as session:
        return kind.show(kind.find(session, handle))


def create(app: AppContext, actor: Actor, kind: Kind, form: BaseModel) -> dict[str, Any]:
    """Add a record."""
    with app.transaction(actor, f"{kind.name} added", kind.name) as tx:
        return noted(tx, actor, kind, added(app, tx.session, kind, form), "added")


def added(app: AppContext, session: Session, kind: Kind, form: BaseModel) -> Any:
    """A new record, in the session."""
    row = kind.model(id=str(uuid4()))
    with session.no_autoflush:
        columns = write(app, session, kind, row, form)
    session.add(row)
    session.flush()
    write_links(session, row.id, kind.links(Referred(session), form, columns))
    return row


def change(
    app: AppContext, actor: Actor, kind: Kind, handle: str, changes: dict[str, Any], version: int
) -> dict[str, Any]:
    """Change some fields of a record that was read at `version`. Raises Stale if it has changed since.

    A change without effect makes no version and no entry.

    An asset that changes its site or status moves there today: where it was before stays known (see dated.move).
    """
    with app.transaction(actor, f"{kind.name} changed", kind.name) as tx:
        row = in_version(tx.session, kind, handle, version)
        before = kind.show(row)
        rewrite(app, tx.session, kind, row, changes)
        tx.session.refresh(row)
        if row.version == version:
            tx.audited = False
            return before
        tx.detail = {"fields": sorted(changes)}
        return noted(tx, actor, kind, row, "changed")


def in_version(session: Session, kind: Kind, handle: str, version: int) -> Any:
    """The record, if it is still as it was read. Raises Stale."""
    row = kind.find(session, handle)
    if row.version != version:
        raise Stale(
            f"This {kind.name} has been changed since you read it (version {version}, now {row.version}).",
            "Read it again; your change is not lost, repeat it on the new version.",
        )
    return row


def rewrite(
    app: AppContext,
    session: Session,
    kind: Kind,
    row: Any,
    changes: dict[str, Any],
    *,
    trace: bool = True,
) -> None:
    """Put changed fields into a record that the session holds. Raises Invalid that names the field.

    Without `trace` an asset's former site and status are not kept.
    """
    before = kind.show(row)
    given = {name: before[name] for name in kind.form.model_fields if name in before} | changes
    form = checked(kind, given)
    with session.no_autoflush:
        if kind.name == "asset" and trace:
            leave_trace(session, row, form)
        columns = write(app, session, kind, row, form)
        if write_links(session, row.id, kind.links(Referred(session), form, columns)):
            row.updated_at = func.now()
    session.flush()


def write(
    app: AppContext, session: Session, kind: Kind, row: Any, form: BaseModel
) -> dict[str, Any]:
    """Put a form's own columns into a row."""
    columns = kind.columns(app, Referred(session), form)
    for name, value in columns.items():
        setattr(row, name, value)
    if kind.name == "asset" and row.carrier_id:
        _no_circle(session, row)
    return columns


def noted(tx: AuditedTransaction, actor: Actor, kind: Kind, row: Any, verb: str) -> dict[str, Any]:
    """The record as it is now, kept as a version; the custody log names it."""
    tx.session.flush()
    tx.session.refresh(row)
    keep_version(tx.session, kind, row, actor.name, verb)
    tx.subject = f"{kind.name} {row.id}"
    tx.detail = {"called": str(getattr(row, kind.called.key)), **tx.detail}
    return kind.show(row)


def touch(session: Session, row: Any) -> None:
    """Give a record a new version because something that belongs to it has changed; it is reloaded on next access."""
    session.flush()
    row.updated_at = func.now()
    session.flush()
    session.expire(row)


def keep_version(session: Session, kind: Kind, row: Any, by: str, verb: str) -> None:
    """Keep what the record is now; what it was stays beside it."""
    session.add(
        RecordVersion(
            kind=kind.name,
            record_id=row.id,
            version=row.version,
            by=by,
            act=verb,
            body=kind.body(row),
        )
    )


def history(app: AppContext, kind: Kind, handle: str) -> list[dict[str, Any]]:
    """Every version of a record, the newest first, each with the fields that differ from the one before.

    Those of records that were merged into it come after its own.
    """
    with app.database.transaction() as session:
        return versions_of(session, kind, kind.find(session, handle))


def versions_of(session: Session, kind: Kind, row: Any) -> list[dict[str, Any]]:
    """As `history`, of a record that was found."""
    merged = select(MergedRecord.old_id).where(MergedRecord.into_id == row.id)
    changes: list[dict[str, Any]] = []
    before: dict[str, Any] = {}
    whose = RecordVersion.record_id
    query = select(RecordVersion).where((whose == row.id) | whose.in_(merged))
    for version in session.scalars(query.order_by(whose == row.id, whose, RecordVersion.id)):
        before = before if changes and changes[-1]["record_id"] == version.record_id else {}
        names = [
            name for name in kind.form.model_fields if version.body.get(name) != before.get(name)
        ]
        changes.append(
            {
                "record_id": version.record_id,
                "version": version.version,
                "at": version.at,
                "by": version.by,
                "act": version.act,
                "changes": [
                    {"field": name, "old": before.get(name), "new": version.body.get(name)}
                    for name in names
                ],
            }
        )
        before = version.body
    return changes[::-1]


def leave_trace(
    session: Session, row: Asset, form: AssetForm, *, today: date | None = None
) -> None:
    """Where an asset was, before it goes elsewhere or into another status; it is there since `placed_on`, or today."""
    old, new = (row.site.key if row.site else None, row.status), (form.site, form.status)
    if old == new:
        return
    since = form.placed_on if form.placed_on != row.placed_on else None
    since = since or today or datetime.now(UTC).date()
    form.placed_on = since
    stays = [(stay.from_on, stay.until_on, stay.site_id, stay.status) for stay in row.stays]
    stays.append((row.placed_on, date.max, row.site_id, row.status))
    row.stays = []
    session.flush()
    row.stays = [
        AssetStay(
            from_on=begun,
            until_on=min(ended, since - timedelta(days=1)),
            site_id=site,
            status=status,
        )
        for begun, ended, site, status in stays
        if begun is None or begun < since
    ]


def _no_circle(session: Session, row: Asset) -> None:
    seen, carrier = {row.id}, row.carrier_id
    while carrier:
        if carrier in seen or len(seen) > DEEPEST:
            raise Invalid(
                f"{row.serial} would sit in itself.",
                "Name what it really sits in or runs on.",
                field="carrier",
            )
        seen.add(carrier)
        carrier = session.scalar(select(Asset.carrier_id).where(Asset.id == carrier))


def checked(kind: Kind, given: dict[str, Any]) -> Any:
    """The form that these fields make. Raises Invalid that names the first field, with all faults."""
    try:
        return kind.form.model_validate(given)
    except ValidationError as error:
        faults = faults_of(error)
        first, all_ = faults[0], [one.model_dump() for one in faults]
        raise Invalid(first.detail, first.remedy, field=first.field, faults=all_) from error


@dataclass(frozen=True)
class Narrow:
    """Which records of a list: holding every word of `query`, of a vendor, at a site (keys), in a status."""

    query: str = ""
    vendor: str = ""
    site: str = ""
    status: str = ""

    def of(self, kind: Kind, statement: Any) -> Any:
        """The statement, narrowed. Raises Invalid if this kind of record has no site or status."""
        statement = _holding(kind, statement, self.query)
        if kind.model in (Asset, Product):
            statement = statement.where(~kind.model.made_up)
        if self.vendor:
            statement = of_vendor(kind, statement, self.vendor)
        for name, value in (("site", self.site), ("status", self.status)):
            if value and kind.model is not Asset:
                raise Invalid(f"{kind.plural} have no {name}.", "Leave it out.", field=name)
        if self.site:
            statement = statement.where(
                Asset.site_id == select(Site.id).where(Site.key == self.site).scalar_subquery()
            )
        return statement.where(Asset.status == self.status) if self.status else statement


def listed(
    app: AppContext,
    kind: Kind,
    narrow: Narrow,
    *,
    sort: str = "",
    limit: int = 50,
    cursor: str = "",
) -> Page[dict[str, Any]]:
    """A page of records, in their usual order or by another column (`-column`: downwards)."""
    order, downwards = kind.sorted_by(sort)
    with app.database.transaction() as session:
        statement = narrow.of(kind, select(kind.model).options(*kind.eager))
        statement = after(statement, order, kind.model.id, cursor, newest_first=downwards)
        rows = session.scalars(statement.limit(min(limit, MOST) + 1)).all()
        if not rows and kind.name == "asset" and narrow.query and not cursor:
            rows = find_likely(session, narrow.query, min(limit, MOST), narrow.vendor)
        return page_of(rows, min(limit, MOST), order.key, kind.show)


def _holding(kind: Kind, statement: Any, query: str) -> Any:
    """Only records that hold every word of the query."""
    columns = [column if kind.model is Asset else func.lower(column) for column in kind.search]
    for word in query.split():
        pattern = f"%{_escaped(word.lower())}%"
        statement = statement.where(or_(*(column.like(pattern) for column in columns)))
    return statement


def of_vendor(kind: Kind, statement: Any, vendor: str) -> Any:
    """Only records of a vendor (its key)."""
    wanted = select(Vendor.id).where(Vendor.key == vendor).scalar_subquery()
    if kind.model is Vendor:
        return statement.where(Vendor.key == vendor)
    if kind.model is Entitlement:
        return statement.join(Contract).where(Contract.vendor_id == wanted)
    if hasattr(kind.model, "vendor_id"):
        return statement.where(kind.model.vendor_id == wanted)
    return statement


def find_likely(session: Session, query: str, limit: int, vendor: str = "") -> Any:
    """Assets that are written much like the query, the likest first: a mistyped serial still finds its asset.

    Network addresses that look alike have nothing to do with each other.
    """
    needle = query.lower()
    if is_address(needle.strip()):
        return []
    session.execute(text("SET LOCAL pg_trgm.word_similarity_threshold = 0.4"))
    statement = (
        select(Asset)
        .options(*KINDS["asset"].eager)
        .where(literal(needle).op("<%")(Asset.search_text), ~Asset.made_up)
        .order_by(func.word_similarity(needle, Asset.search_text).desc(), Asset.serial)
        .limit(limit)
    )
    return session.scalars(
        of_vendor(KINDS["asset"], statement, vendor) if vendor else statement
    ).all()


def is_address(text_: str) -> bool:
    """Whether it is an IP address."""
    try:
        ip_address(text_)
    except ValueError:
        return False
    return True


def found_ids(query: str, limit: int) -> Any:
    """The ids of assets by serial, model, host name, site or free text, as a statement.

    Those whose serial begins so come first, then the likest of the first hundred that hold every word: what is typed
    is answered at once, however many assets hold it.
    """
    words = query.lower().split()[:_MOST_WORDS]
    patterns = {f"word{place}": f"%{_escaped(word)}%" for place, word in enumerate(words)}
    needle = query.lower().strip()
    return _found(len(words)).bindparams(
        needle=needle, begins=_escaped(needle) + "%", ranked=_RANKED, limit=limit, **patterns
    )


@cache
def _found(words: int) -> TextClause:
    """The statement of a search for a number of words, built once: it runs at every letter typed."""
    holds = " AND ".join(f"search_text LIKE :word{place}" for place in range(words)) or "true"
    return text(
        f"""SELECT id FROM (
            (SELECT id, serial, 2.0 AS likeness FROM asset WHERE lower(serial) COLLATE "C" LIKE :begins
             ORDER BY lower(serial) COLLATE "C" LIMIT :limit)
            UNION ALL
            SELECT id, serial, word_similarity(:needle, search_text)
            FROM (SELECT id, serial, search_text FROM asset WHERE {holds} LIMIT :ranked) AS held
        ) AS found GROUP BY id, serial ORDER BY max(likeness) DESC, serial LIMIT :limit"""  # noqa: S608 - no value in it
    )


def _escaped(text_: str) -> str:
    return text_.replace("\\", "\\\\").replace("%", "\\%").replace("_", "\\_")
