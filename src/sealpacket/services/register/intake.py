"""Imports as people handle them: a file comes in, columns are chosen, rows looked at; applied, undone or dropped."""

from __future__ import annotations

import csv
import io
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import datetime
from pathlib import Path
from typing import Any, Literal

from pydantic import BaseModel
from sqlalchemy import delete, select, update
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.core.tables import DateOrder, guarded
from sealpacket.services.register.acts import Narrow
from sealpacket.services.register.columns import fields_of
from sealpacket.services.register.judging import Judge
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.register.referred import Referred
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import Intake, IntakeRow, IntakeSource
from sealpacket.store.paging import Page, after, page_of


class Fillable(BaseModel):
    """A field that a column may fill."""

    name: str
    kind: Literal["text", "date", "whole", "money", "yes", "choice", "list", "choices", "listings"]
    required: bool
    choices: list[str]


RecordKind = Literal[
    "vendor", "person", "site", "product", "asset", "contract", "entitlement", "login",
    "limit", "level", "lot", "price", "licence", "release",
]  # fmt: skip


Outcome = Literal["new", "changed", "unchanged", "rejected"]


class OutcomeCounts(BaseModel):
    """How many rows would do what."""

    new: int
    changed: int
    unchanged: int
    rejected: int


class ImportShown(BaseModel):
    """An import: a file, how it is read, and what it would do or did."""

    id: str
    kind: RecordKind
    source: str
    file_name: str
    size: int
    state: Literal[
        "reading", "ready", "applying", "applied", "undoing", "undone", "failed", "dropped"
    ]
    status_text: str
    headings: list[str]
    mapping: dict[str, str]
    fixed: dict[str, str]
    date_order: DateOrder | None
    by: str
    at: datetime
    applied_at: datetime | None
    counts: OutcomeCounts
    fields: list[Fillable]


class FieldChange(BaseModel):
    """A field that a row would change."""

    field: str
    old: Any
    new: Any


class RowFault(BaseModel):
    """A fault of a row: the field, and the column if it is a cell."""

    field: str
    column: str
    sentence: str


class ImportRow(BaseModel):
    """The effect of a row: `changes` of a changed record, `body` of a new one, `faults` and `cells` of a rejected
    one."""

    row: int
    outcome: Outcome
    called: str
    changes: list[FieldChange]
    body: dict[str, Any] | None
    faults: list[RowFault]
    cells: dict[str, str | None] | None


class ImportRows(BaseModel):
    """Rows of the preview; `next` is the row to go on below."""

    items: list[ImportRow]
    next: int | None


PREVIEW, APPLY, UNDO = "preview_import", "apply_import", "undo_import"
LARGEST = 300_000_000
MOST_BULK = 10_000
CHUNK = 1000


@dataclass(frozen=True)
class Choices:
    """How a file is to be read: which column fills which field, what is the same in all rows, the order of dates."""

    mapping: dict[str, str] | None = None
    fixed: dict[str, str] = field(default_factory=dict)
    date_order: DateOrder | None = None


def receive(
    app: AppContext,
    actor: Actor,
    *,
    kind: str,
    name: str,
    source: str,
    part: str,
    choices: Choices,
    blocks: Iterable[bytes],
) -> ImportShown:
    """Take a file in and have a preview made. What was chosen before for this source is chosen again. Raises Invalid
    for an unknown field."""
    unknown = set(choices.fixed) - set(fields_of(kind))
    if unknown:
        raise Invalid(
            f"A {kind} has no field {min(unknown)}.",
            f"It has {', '.join(fields_of(kind))}.",
            field="fixed",
        )
    stored = app.blobs.put(blocks)
    try:
        with app.transaction(
            actor, "import begun", "import", file=name, kind=kind, size=stored.size
        ) as tx:
            before = tx.session.get(IntakeSource, (kind, source))
            intake = Intake(
                kind=kind,
                source=source,
                file_name=name,
                part=part,
                blob=stored.name,
                size=stored.size,
                by=actor.name,
                mapping=choices.mapping or (before.mapping if before else {}),
                fixed={**(before.fixed if before else {}), **choices.fixed},
                date_order=choices.date_order or (before.date_order if before else None),
            )
            tx.session.add(intake)
            tx.session.flush()
            tx.subject = f"import {intake.id}"
            app.enqueue(tx.session, PREVIEW, {"intake_id": intake.id}, f"import {intake.id}")
            return show(intake)
    except BaseException:
        app.blobs.remove(stored.name)
        raise


def bulk(
    app: AppContext,
    actor: Actor,
    kind_name: str,
    ids: list[str],
    narrow: Narrow | None,
    changes: dict[str, Any],
) -> ImportShown:
    """Change the same fields of many records: a preview like an import's, to be applied or dropped.

    Of those with these ids, or of all that a list shows. Raises Invalid if there are none or too many.
    """
    kind = KINDS[kind_name]
    if not changes or set(changes) & {*kind.natural, *kind.secrets}:
        raise Invalid(
            "Name fields to change, except those that identify records or are secret.",
            "Choose other fields.",
            field="changes",
        )
    with app.transaction(
        actor, "bulk edit begun", "import", kind=kind.name, fields=sorted(changes)
    ) as tx:
        query = (
            select(kind.model)
            .options(*kind.eager)
            .order_by(kind.order, kind.model.id)
            .limit(MOST_BULK + 1)
        )
        query = narrow.of(kind, query) if narrow else query.where(kind.model.id.in_(ids))
        rows = tx.session.scalars(query).all()
        if not rows or len(rows) > MOST_BULK:
            raise Invalid(
                f"{len(rows) or 'No'} {kind.plural} are meant.",
                f"Choose between 1 and {MOST_BULK}.",
                field="ids",
            )
        intake = Intake(
            kind=kind.name,
            source="bulk edit",
            file_name=f"{len(rows)} {kind.plural}",
            blob="",
            size=0,
            by=actor.name,
            state="ready",
            fixed={name: _as_text(value) for name, value in changes.items()},
        )
        tx.session.add(intake)
        tx.session.flush()
        judge = Judge(app, kind, [], {}, {}, "day", intake.id)
        refs = Referred(tx.session)
        judged = [
            judge.judged(refs, number, [], kind.body(row) | changes, [], row)
            for number, row in enumerate(rows, 1)
        ]
        copy_rows(tx.session, IntakeRow, judged)
        intake.counts = dict(Counter(row["outcome"] for row in judged))
        tx.subject = f"import {intake.id}"
        return show(intake)


def _as_text(value: Any) -> str:
    return (
        ", ".join(map(str, value))
        if isinstance(value, list)
        else ""
        if value is None
        else str(value)
    )


def choose(app: AppContext, actor: Actor, ident: str, choices: Choices) -> ImportShown:
    """Choose columns by hand, and have the preview made again; the source remembers it. Raises Conflict for a bulk
    edit, Invalid for a column that cannot fill the field."""
    with app.transaction(actor, "import columns chosen", f"import {ident}") as tx:
        intake = find_import(tx.session, ident, lock=True)
        must_be(intake, "ready", "failed")
        if not intake.blob:
            raise Conflict(
                "A bulk edit has no columns.", "Drop it and begin another.", code="no-columns"
            )
        fields = fields_of(intake.kind)
        for name, heading in (choices.mapping or {}).items():
            if name not in fields or heading not in intake.headings:
                raise Invalid(
                    f"{name} cannot be filled from “{heading}”.",
                    "Choose a field and a column of the file.",
                    field="mapping",
                )
        intake.mapping = choices.mapping if choices.mapping is not None else intake.mapping
        intake.fixed, intake.date_order = choices.fixed, choices.date_order or intake.date_order
        intake.state, intake.status_text = "reading", ""
        kept = {"mapping": intake.mapping, "fixed": intake.fixed, "date_order": intake.date_order}
        source = tx.session.get(IntakeSource, (intake.kind, intake.source))
        if source is None:
            tx.session.add(IntakeSource(kind=intake.kind, name=intake.source, **kept))
        else:
            source.mapping, source.fixed, source.date_order = (
                intake.mapping,
                intake.fixed,
                intake.date_order,
            )
        app.enqueue(tx.session, PREVIEW, {"intake_id": ident}, f"import {ident}")
        return show(intake)


def start_apply(app: AppContext, actor: Actor, ident: str) -> ImportShown:
    """Have a previewed import applied: all its new and changed rows in one transaction, or nothing of it."""
    return _start(app, actor, ident, "ready", "applying", APPLY, "import started")


def start_undo(app: AppContext, actor: Actor, ident: str) -> ImportShown:
    """Have the last applied import undone, whole. Raises Conflict if another was applied since."""
    with app.database.transaction() as session:
        intake = find_import(session, ident)
        query = (
            select(Intake.id).where(Intake.state == "applied").order_by(Intake.applied_at.desc())
        )
        if intake.state == "applied" and session.scalar(query.limit(1)) != ident:
            raise Conflict(
                "Another import has been applied since.",
                "Undo that one first, if it may go too.",
                code="not-the-last",
            )
    return _start(app, actor, ident, "applied", "undoing", UNDO, "import undo started")


def _start(
    app: AppContext, actor: Actor, ident: str, state: str, then: str, task: str, words: str
) -> ImportShown:
    with app.transaction(actor, words, f"import {ident}") as tx:
        intake = find_import(tx.session, ident, lock=True)
        must_be(intake, state)
        intake.state, intake.status_text = then, ""
        app.enqueue(tx.session, task, {"intake_id": ident, "by": actor.name}, "imports")
        return show(intake)


def drop(app: AppContext, actor: Actor, ident: str) -> ImportShown:
    """Forget a file that was not applied."""
    with app.transaction(actor, "import dropped", f"import {ident}") as tx:
        intake = find_import(tx.session, ident, lock=True)
        must_be(intake, "ready", "failed")
        intake.state = "dropped"
        tx.session.execute(delete(IntakeRow).where(IntakeRow.intake_id == ident))
        app.forget(tx.session, intake.blob)
        intake.blob = ""
        return show(intake)


def get(app: AppContext, ident: str) -> ImportShown:
    """One import."""
    with app.database.transaction() as session:
        return show(find_import(session, ident))


def listed(app: AppContext, *, limit: int = 50, cursor: str = "") -> Page[ImportShown]:
    """List imports, newest first."""
    with app.database.transaction() as session:
        rows = session.scalars(
            after(select(Intake), Intake.at, Intake.id, cursor, newest_first=True).limit(limit + 1)
        ).all()
        return page_of(rows, limit, "at", show)


def rows_of(app: AppContext, ident: str, outcome: str, *, above: int, limit: int) -> ImportRows:
    """Rows of a preview below the row `above`, of one outcome if given."""
    with app.database.transaction() as session:
        intake = find_import(session, ident)
        query = select(IntakeRow).where(IntakeRow.intake_id == ident, IntakeRow.row > above)
        if outcome:
            query = query.where(IntakeRow.outcome == outcome)
        rows = session.scalars(query.order_by(IntakeRow.row).limit(limit + 1)).all()
        return ImportRows(
            items=[_show_row(row, intake) for row in rows[:limit]],
            next=rows[limit - 1].row if len(rows) > limit else None,
        )


def rejected_file(app: AppContext, ident: str) -> tuple[str, Iterator[bytes]]:
    """Name and content of a CSV file of the rejected rows as they came, each with what is wrong with it."""
    with app.database.transaction() as session:
        intake = find_import(session, ident)
        name = f"{Path(intake.file_name).stem}-rejected.csv"
        headings = list(intake.headings)

    def lines() -> Iterator[bytes]:
        yield b"\xef\xbb\xbf" + _line([*headings, "What is wrong"])
        with app.database.transaction() as session:
            query = select(IntakeRow).where(
                IntakeRow.intake_id == ident, IntakeRow.outcome == "rejected"
            )
            for row in session.scalars(
                query.order_by(IntakeRow.row).execution_options(yield_per=CHUNK)
            ):
                cells = [str(cell or "") for cell in row.cells or []][: len(headings)]
                wrong = " ".join(fault["sentence"] for fault in row.faults or [])
                yield _line([*cells, *[""] * (len(headings) - len(cells)), wrong])

    return name, lines()


def _line(cells: list[str]) -> bytes:
    text_ = io.StringIO()
    csv.writer(text_).writerow([guarded(cell) for cell in cells])
    return text_.getvalue().encode()


def _show_row(row: IntakeRow, intake: Intake) -> ImportRow:
    body, before = row.body or {}, {k: v for k, v in (row.before or {}).items() if k != "stays"}
    changes = [
        {"field": name, "old": old, "new": body.get(name)}
        for name, old in before.items()
        if old != body.get(name)
    ]
    changes += [
        {"field": name, "old": None, "new": "•••"}
        for name in row.sealed or {}
        if row.outcome == "changed"
    ]
    return ImportRow(
        row=row.row,
        outcome=row.outcome,
        called=row.called,
        changes=changes,
        body=body if row.outcome == "new" else None,
        faults=row.faults or [],
        cells=dict(zip(intake.headings, row.cells, strict=False)) if row.cells else None,
    )


def show(intake: Intake) -> ImportShown:
    """An import as the interfaces show it."""
    fields = [
        {
            "name": item.name,
            "kind": item.kind,
            "required": item.required,
            "choices": list(item.choices),
        }
        for item in fields_of(intake.kind).values()
    ]
    own = (
        "id",
        "kind",
        "source",
        "file_name",
        "size",
        "state",
        "status_text",
        "headings",
        "mapping",
        "fixed",
        "date_order",
        "by",
        "at",
        "applied_at",
    )
    counts = {
        outcome: intake.counts.get(outcome, 0)
        for outcome in ("new", "changed", "unchanged", "rejected")
    }
    return ImportShown(
        **{name: getattr(intake, name) for name in own}, counts=counts, fields=fields
    )


def find_import(session: Session, ident: str, *, lock: bool = False) -> Intake:
    """The import of this id. Raises NotFound."""
    query = select(Intake).where(Intake.id == ident)
    found = session.scalars(query.with_for_update() if lock else query).one_or_none()
    if found is None:
        raise NotFound(f"There is no import {ident}.", "List the imports, then name one of them.")
    return found


def must_be(intake: Intake, *states: str) -> None:
    """Raises Conflict unless the import is in one of these states."""
    if intake.state not in states:
        raise Conflict(
            f"The import is {intake.state}.",
            "Wait until it is read, or begin a new one.",
            code="not-ready",
        )


def put(app: AppContext, ident: str, **fields: Any) -> None:
    """Record the state of an import, in a transaction of its own."""
    with app.database.transaction() as session:
        session.execute(update(Intake).where(Intake.id == ident).values(**fields))
