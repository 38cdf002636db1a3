"""A kind of record: how it is found by what people call it, written from its form, and shown."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from dataclasses import dataclass, field
from typing import Any

from sqlalchemy import delete, func, insert, select
from sqlalchemy.orm import InstrumentedAttribute, Session
from sqlalchemy.orm.interfaces import ORMOption

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.register import forms
from sealpacket.services.register.referred import Referred
from sealpacket.store.models import Entitlement, MergedRecord

Row = Any
Columns = dict[str, Any]


@dataclass(frozen=True)
class Link:
    """A table whose rows belong to a record; `owner` is the column with the record's id."""

    table: Any
    owner: str


@dataclass(frozen=True)
class Secret:
    """A field that is kept encrypted: in which column, and for what purpose."""

    column: str
    purpose: str


def sealed(app: AppContext, secret: Secret, value: str | None) -> Columns:
    """The column of a secret that was given; nothing if it was not, empty if it was taken away."""
    if value is None:
        return {}
    return {secret.column: app.seal_value(value, secret.purpose) if value else None}


@dataclass(frozen=True)
class Kind:
    """One kind of record.

    `called` is the column by which people call it, `natural` those that tell it apart, `order` the one lists are
    sorted by. `columns` gives what a form puts into the record's own row, `links` what it puts into the tables beside.
    """

    name: str
    plural: str
    model: type[Any]
    form: type[forms.Form]
    shown: type[forms.Shown]
    called: InstrumentedAttribute[str]
    natural: tuple[str, ...]
    order: InstrumentedAttribute[Any]
    columns: Callable[[AppContext, Referred, Any], Columns]
    show: Callable[[Row], dict[str, Any]]
    links: Callable[[Referred, Any, Columns], dict[Link, list[Columns]]] = (
        lambda _refs, _form, _columns: {}
    )
    search: tuple[InstrumentedAttribute[Any], ...] = ()
    eager: tuple[ORMOption, ...] = ()
    secrets: Mapping[str, Secret] = field(default_factory=dict)
    sorts: tuple[InstrumentedAttribute[Any], ...] = ()
    """Columns, besides the usual one, by which a list may be sorted."""

    def sorted_by(self, name: str) -> tuple[InstrumentedAttribute[Any], bool]:
        """The column to sort a list by, and whether downwards (`-name`). Raises Invalid for another one."""
        columns = {
            column.key: column
            for column in (self.order, self.called, self.model.updated_at, *self.sorts)
        }
        column = columns.get(name.removeprefix("-")) if name else self.order
        if column is None:
            raise Invalid(
                f"{self.plural} cannot be sorted by {name}.",
                f"Sort by {', '.join(columns)}.",
                field="sort",
            )
        return column, name.startswith("-")

    def find(
        self, session: Session, handle: str, options: tuple[ORMOption, ...] | None = None
    ) -> Row:
        """The record with this id, or that people call so. Raises NotFound, or Conflict if it is not the only one.

        Of several versions of one entitlement it is the one that counts today, or else the last.
        """
        query = select(self.model).where((self.model.id == handle) | (self.called == handle))
        found = session.scalars(
            query.options(*(self.eager if options is None else options)).limit(50)
        ).all()
        if self.model is Entitlement and len({row.contract_id for row in found}) == 1:
            today = session.scalar(select(func.current_date()))
            begun = [row for row in found if row.starts_on <= today] or found
            exact = [row for row in found if row.id == handle]
            found = exact or [max(begun, key=lambda row: row.starts_on)]
        found = found or self._merged(session, handle)
        if not found:
            raise NotFound(
                f"There is no {self.name} {handle}.", f"List them: sealpacket {self.name} list"
            )
        if len(found) > 1:
            raise Conflict(
                f"More than one {self.name} is called {handle}.",
                "Name it by its id.",
                code="ambiguous",
            )
        return found[0]

    def _merged(self, session: Session, handle: str) -> list[Row]:
        """The record into which the one of this id, or that was called so, was merged."""
        gone = (MergedRecord.old_id == handle) | (MergedRecord.called == handle)
        into = select(MergedRecord.into_id).where(MergedRecord.kind == self.name, gone)
        return list(session.scalars(select(self.model).where(self.model.id.in_(into))))

    def body(self, row: Row) -> dict[str, Any]:
        """The record in the words of its form, as JSON; what is secret is not in it."""
        shown = self.show(row)
        form = self.shown.model_validate(shown)
        return form.model_dump(mode="json", include=set(self.form.model_fields) - set(self.secrets))


def write_links(session: Session, ident: str, links: dict[Link, list[Columns]]) -> bool:
    """Make the rows beside a record what they should be. Returns whether anything was different."""
    different = False
    for link, rows in links.items():
        table = link.table
        columns = [column for column in table.c if column.key != link.owner]
        kept = {
            tuple(found)
            for found in session.execute(select(*columns).where(table.c[link.owner] == ident))
        }
        wanted = {tuple(row.get(column.key) for column in columns) for row in rows}
        if kept == wanted:
            continue
        different = True
        session.execute(delete(table).where(table.c[link.owner] == ident))
        if rows:
            session.execute(insert(table), [{link.owner: ident, **row} for row in rows])
    return different


def plain(row: Row, form: type[forms.Form], *, but: tuple[str, ...] = ()) -> dict[str, Any]:
    fields = {name: getattr(row, name) for name in form.model_fields if name not in but}
    return {**fields, "id": row.id, "version": row.version, "updated_at": row.updated_at}


def given(form: forms.Form, *, but: tuple[str, ...] = ()) -> Columns:
    return {name: getattr(form, name) for name in type(form).model_fields if name not in but}
