"""Exports: the register as a file that can be imported again without a change."""

from __future__ import annotations

from collections.abc import Iterator
from typing import Any

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.tables import Format, write_everything, write_table
from sealpacket.services.register.acts import Narrow
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.table_files import begun

EVERYTHING = "everything"
_ORDER = (
    "vendor", "person", "site", "product", "asset", "contract", "entitlement", "login",
    "limit", "level", "lot", "price", "licence", "release",
)  # fmt: skip
"""Such that what a record refers to comes before it."""
_CHUNK = 1000


def export(
    app: AppContext, actor: Actor, what: str, form: Format, narrow: Narrow | None = None
) -> tuple[str, Iterator[bytes]]:
    """Name and content of the file of a kind of record, by its plural, or of everything. What is secret is not in it.

    `narrow` leaves records of one kind out, as in its list. Raises Invalid for a kind that there is not, or a workbook
    that cannot hold it.
    """
    kinds = {kind.plural: kind for kind in KINDS.values()}
    if what != EVERYTHING and what not in kinds:
        raise Invalid(
            f"There are no {what} to export.",
            f"Export {EVERYTHING}, {', '.join(kinds)}.",
            field="what",
        )
    if narrow == Narrow():
        narrow = None
    if narrow is not None and what == EVERYTHING:
        raise Invalid(
            "Everything is exported whole.", "Name one kind of record to narrow it.", field="what"
        )
    with app.transaction(actor, "register exported", "register", what=what, form=form):
        pass
    ending = "zip" if what == EVERYTHING and form == "csv" else form
    return f"{what}.{ending}", begun(_blocks(app, what, form, kinds, narrow))


def _blocks(
    app: AppContext, what: str, form: Format, kinds: dict[str, Kind], narrow: Narrow | None
) -> Iterator[bytes]:
    with app.database.transaction() as session:
        if what == EVERYTHING:
            ordered = [KINDS[name] for name in _ORDER]
            parts = (
                (kind.plural, exported_fields(kind), records(session, kind)) for kind in ordered
            )
            yield from write_everything(parts, form)
        else:
            kind = kinds[what]
            found = records(session, kind, narrow)
            yield from write_table(found, exported_fields(kind), form, kind.plural)


def exported_fields(kind: Kind) -> list[str]:
    """The fields of a kind of record, but for what is secret."""
    return [name for name in kind.form.model_fields if name not in kind.secrets]


def records(session: Session, kind: Kind, narrow: Narrow | None = None) -> Iterator[dict[str, Any]]:
    """Every record of a kind in the words of its form, some at a time; or those of a narrowed list."""
    last = ""
    while True:
        query = (
            select(kind.model)
            .where(kind.model.id > last)
            .order_by(kind.model.id)
            .options(*kind.eager)
        )
        query = (narrow or Narrow()).of(kind, query)
        rows = session.scalars(query.limit(_CHUNK)).all()
        yield from (kind.body(row) for row in rows)
        if len(rows) < _CHUNK:
            return
        last = rows[-1].id
        session.expunge_all()
