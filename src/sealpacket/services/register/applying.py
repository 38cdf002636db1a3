"""The jobs that apply a previewed import, whole or not at all, and that undo it."""

from __future__ import annotations

import base64
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import delete, func, select, text, update
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, ProblemError
from sealpacket.services.register.acts import checked, keep_version, rewrite
from sealpacket.services.register.intake import CHUNK, find_import, put
from sealpacket.services.register.judging import IMPORT_PURPOSE, prefetch_serials
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.register.referred import Referred
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import Asset, AssetStay, Intake, IntakeRow, RecordVersion


def apply(app: AppContext, ident: str, by: str) -> None:
    """The job: put all new and changed rows into the register, or nothing."""
    try:
        with app.transaction(Actor(by, frozenset()), "import applied", f"import {ident}") as tx:
            intake = find_import(tx.session, ident, lock=True)
            if intake.state != "applying":
                tx.audited = False
                return
            _apply_all(app, tx.session, intake, by)
            intake.state, intake.applied_at = "applied", datetime.now(UTC)
            app.forget(tx.session, intake.blob)
            intake.blob = ""
            tx.detail = {"file": intake.file_name, "kind": intake.kind, **intake.counts}
    except ProblemError as problem:
        put(
            app,
            ident,
            state="ready",
            status_text=f"Nothing was applied. {problem} {problem.remedy}",
        )
        return


def _apply_all(app: AppContext, session: Session, intake: Intake, by: str) -> None:
    session.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket import'))"))
    kind = KINDS[intake.kind]
    waiting: list[tuple[str, str, str]] = []
    refs = Referred(session, many=True)
    last = -1
    while chunk := session.scalars(
        select(IntakeRow)
        .where(
            IntakeRow.intake_id == intake.id,
            IntakeRow.row > last,
            IntakeRow.outcome.in_(("new", "changed")),
        )
        .order_by(IntakeRow.row)
        .limit(CHUNK)
    ).all():
        last = chunk[-1].row
        new = [row for row in chunk if row.outcome == "new"]
        waiting += _add_new(app, session, kind, refs, new, by)
        _change_old(app, session, kind, [row for row in chunk if row.outcome == "changed"], by)
        session.flush()
        session.expunge_all()
        session.add(intake)
    for ident, vendor, carrier in waiting:
        found = Referred(session).carrier(vendor, carrier)
        session.execute(update(Asset).where(Asset.id == ident).values(carrier_id=found))


def _add_new(
    app: AppContext, session: Session, kind: Kind, refs: Referred, rows: list[IntakeRow], by: str
) -> list[tuple[str, str, str]]:
    """Insert many records at once. Returns (id, vendor id, carrier) of assets whose carrier may come later."""
    if not rows:
        return []
    columns: list[dict[str, Any]] = []
    links: dict[Any, list[dict[str, Any]]] = {}
    waiting = []
    if kind.name == "entitlement":
        prefetch_serials(refs, [row.body or {} for row in rows])
    for row in rows:
        ident = row.record_id or ""
        form = _form(app, kind, row)
        carrier = getattr(form, "carrier", None)
        if carrier:
            form.carrier = None
        own = kind.columns(app, refs, form)
        if carrier:
            waiting.append((ident, own["vendor_id"], carrier))
        columns.append({"id": ident, **own})
        for link, items in kind.links(refs, form, own).items():
            links.setdefault(link.table, []).extend({link.owner: ident, **item} for item in items)
    _even(columns)
    copy_rows(session, kind.model, columns)
    for table, items in links.items():
        copy_rows(session, table, items)
    copy_rows(
        session,
        RecordVersion,
        [
            {
                "kind": kind.name,
                "record_id": row.record_id,
                "version": 1,
                "by": by,
                "act": "imported",
                "body": row.body,
            }
            for row in rows
        ],
    )
    return waiting


def _even(columns: list[dict[str, Any]]) -> None:
    """Every row the same columns, as an insert of many wants it."""
    names = {name for row in columns for name in row}
    for row in columns:
        for name in names - set(row):
            row[name] = None


def _form(app: AppContext, kind: Kind, row: IntakeRow) -> Any:
    return checked(kind, {**(row.body or {}), **_secrets(app, row)})


def _secrets(app: AppContext, row: IntakeRow) -> dict[str, str]:
    return {
        name: app.open_value(base64.b64decode(value), IMPORT_PURPOSE)
        for name, value in (row.sealed or {}).items()
    }


def _change_old(
    app: AppContext, session: Session, kind: Kind, rows: list[IntakeRow], by: str
) -> None:
    if not rows:
        return
    query = (
        select(kind.model)
        .where(kind.model.id.in_([row.record_id for row in rows]))
        .options(*kind.eager)
    )
    there = {record.id: record for record in session.scalars(query)}
    for row in rows:
        record = there.get(row.record_id or "")
        before = {name: value for name, value in (row.before or {}).items() if name != "stays"}
        now = kind.body(record) if record is not None else {}
        if any(now.get(name) != value for name, value in before.items()):
            raise Conflict(
                f"Row {row.row}: {row.called} has been changed since the preview.",
                "Preview it again.",
                code="changed-since",
            )
        changes = {name: (row.body or {})[name] for name in before}
        rewrite(app, session, kind, record, {**changes, **_secrets(app, row)})
        session.refresh(record)
        keep_version(session, kind, record, by, "imported")


def undo(app: AppContext, ident: str, by: str) -> None:
    """The job: make the register what it was before the import, or change nothing."""
    try:
        with app.transaction(Actor(by, frozenset()), "import undone", f"import {ident}") as tx:
            intake = find_import(tx.session, ident, lock=True)
            if intake.state != "undoing":
                tx.audited = False
                return
            _undo_all(app, tx.session, intake, by)
            intake.state = "undone"
    except ProblemError as problem:
        put(
            app,
            ident,
            state="applied",
            status_text=f"Nothing was undone. {problem} {problem.remedy}",
        )


def _undo_all(app: AppContext, session: Session, intake: Intake, by: str) -> None:
    session.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket import'))"))
    kind = KINDS[intake.kind]
    mine = select(IntakeRow).where(IntakeRow.intake_id == intake.id)
    for row in session.scalars(
        mine.where(IntakeRow.outcome == "changed").order_by(IntakeRow.row)
    ).all():
        record = session.get(kind.model, row.record_id)
        before = dict(row.before or {})
        stays = before.pop("stays", None)
        now = kind.body(record) if record is not None else {}
        expected = {name: (row.body or {})[name] for name in before if name != "placed_on"}
        if record is None or any(now.get(name) != value for name, value in expected.items()):
            raise Conflict(
                f"Row {row.row}: {row.called} has been changed since the import.",
                "Set that record back by hand, or leave the import as it is.",
                code="changed-since",
            )
        rewrite(app, session, kind, record, before, trace=False)
        if stays is not None:
            _put_back(session, record, stays)
        session.refresh(record)
        keep_version(session, kind, record, by, "import undone")
    new = select(IntakeRow.record_id).where(
        IntakeRow.intake_id == intake.id, IntakeRow.outcome == "new"
    )
    touched = session.scalar(
        select(func.count())
        .select_from(kind.model)
        .where(kind.model.id.in_(new), kind.model.version > 1)
    )
    if touched:
        raise Conflict(
            f"{touched} of the records that it brought have been changed since.",
            "Keep the import and correct single records instead.",
            code="changed-since",
        )
    if kind.name == "asset":
        session.execute(update(Asset).where(Asset.id.in_(new)).values(carrier_id=None))
    session.execute(delete(kind.model).where(kind.model.id.in_(new)))


def _put_back(session: Session, record: Asset, stays: list[dict[str, Any]]) -> None:
    record.stays = []
    session.flush()
    record.stays = [
        AssetStay(
            from_on=datetime.fromisoformat(stay["from_on"]).date() if stay["from_on"] else None,
            until_on=datetime.fromisoformat(stay["until_on"]).date(),
            site_id=stay["site_id"],
            status=stay["status"],
        )
        for stay in stays
    ]
    session.flush()
