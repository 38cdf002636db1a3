"""Imports: a file comes in, a preview says what each row would do, then it is applied whole, and can be undone."""

from __future__ import annotations

import base64
import csv
import io
import tempfile
from collections import Counter
from collections.abc import Iterable, Iterator
from dataclasses import dataclass, field
from datetime import UTC, datetime
from itertools import islice
from pathlib import Path
from typing import Any, cast
from uuid import uuid4

from pydantic import ValidationError
from sqlalchemy import delete, func, select, text, update
from sqlalchemy.orm import Session

from sealpacket.core.errors import Conflict, Invalid, NotFound, Trouble
from sealpacket.core.money import to_minor
from sealpacket.core.tables import (
    CellFault,
    DateOrder,
    Field,
    Table,
    TableFault,
    date_order_of,
    guarded,
    guess_mapping,
    open_table,
    understand,
)
from sealpacket.services.house import Actor, House
from sealpacket.services.paging import Page, after, page_of
from sealpacket.services.register.acts import Narrow, checked, keep_version, rewrite
from sealpacket.services.register.agreement import agree
from sealpacket.services.register.columns import Key, fields_of, natural_key, records_by_key
from sealpacket.services.register.kinds import KINDS, Kind
from sealpacket.services.register.referred import Referred
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import Asset, AssetStay, Intake, IntakeRow, IntakeSource, RecordVersion

PREVIEW, APPLY, UNDO = "preview_import", "apply_import", "undo_import"
LARGEST = 300_000_000
MOST_BULK = 10_000
_CHUNK = 1000
_LOOK = 200
_Faults = list[dict[str, str]]


@dataclass(frozen=True)
class Choices:
    """How a file is to be read: which column fills which field, what is the same in all rows, the order of dates."""

    mapping: dict[str, str] | None = None
    fixed: dict[str, str] = field(default_factory=dict)
    date_order: DateOrder | None = None


def receive(
    house: House,
    actor: Actor,
    *,
    kind: str,
    name: str,
    source: str,
    part: str,
    choices: Choices,
    blocks: Iterable[bytes],
) -> dict[str, Any]:
    """Take a file in and have a preview made. What was chosen before for this source is chosen again."""
    unknown = set(choices.fixed) - set(fields_of(kind))
    if unknown:
        raise Invalid(f"A {kind} has no field {min(unknown)}.", f"It has {', '.join(fields_of(kind))}.", field="fixed")
    stored = house.blobs.put(blocks)
    try:
        with house.act(actor, "import begun", "import", file=name, kind=kind, size=stored.size) as act:
            before = act.session.get(IntakeSource, (kind, source))
            intake = Intake(
                kind=kind, source=source, file_name=name, part=part, blob=stored.name, size=stored.size, by=actor.name,
                mapping=choices.mapping or (before.mapping if before else {}),
                fixed={**(before.fixed if before else {}), **choices.fixed},
                date_order=choices.date_order or (before.date_order if before else None),
            )  # fmt: skip
            act.session.add(intake)
            act.session.flush()
            act.subject = f"import {intake.id}"
            house.enqueue(act.session, PREVIEW, {"intake_id": intake.id}, f"import {intake.id}")
            return show(intake)
    except BaseException:
        house.blobs.remove(stored.name)
        raise


def bulk(
    house: House, actor: Actor, kind_name: str, ids: list[str], narrow: Narrow | None, changes: dict[str, Any]
) -> dict[str, Any]:
    """Change the same fields of many records: a preview like an import's, to be applied or dropped.

    Of those with these ids, or of all that a list shows. Raises Invalid if there are none or too many.
    """
    kind = KINDS[kind_name]
    if not changes or set(changes) & {*kind.natural, *kind.secrets}:
        raise Invalid(
            "Name fields to change, but none that tells records apart or is secret.", "Choose other fields.",
            field="changes",
        )  # fmt: skip
    with house.act(actor, "bulk edit begun", "import", kind=kind.name, fields=sorted(changes)) as act:
        query = select(kind.model).options(*kind.eager).order_by(kind.order, kind.model.id).limit(MOST_BULK + 1)
        query = narrow.of(kind, query) if narrow else query.where(kind.model.id.in_(ids))
        rows = act.session.scalars(query).all()
        if not rows or len(rows) > MOST_BULK:
            raise Invalid(f"{len(rows) or 'No'} {kind.plural} are meant.", f"Choose between 1 and {MOST_BULK}.",
                          field="ids")  # fmt: skip
        intake = Intake(
            kind=kind.name, source="bulk edit", file_name=f"{len(rows)} {kind.plural}", blob="", size=0, by=actor.name,
            state="ready", fixed={name: _as_text(value) for name, value in changes.items()},
        )  # fmt: skip
        act.session.add(intake)
        act.session.flush()
        judge = _Judge(house, kind, [], {}, {}, "day", intake.id)
        refs = Referred(act.session)
        judged = [
            judge.judged(refs, number, [], kind.body(row) | changes, [], row) for number, row in enumerate(rows, 1)
        ]
        copy_rows(act.session, IntakeRow, judged)
        intake.counts = dict(Counter(row["outcome"] for row in judged))
        act.subject = f"import {intake.id}"
        return show(intake)


def _as_text(value: Any) -> str:
    return ", ".join(map(str, value)) if isinstance(value, list) else "" if value is None else str(value)


def choose(house: House, actor: Actor, ident: str, choices: Choices) -> dict[str, Any]:
    """Choose columns by hand, and have the preview made again; the source remembers it."""
    with house.act(actor, "import columns chosen", f"import {ident}") as act:
        intake = _find(act.session, ident, lock=True)
        _must_be(intake, "ready", "failed")
        if not intake.blob:
            raise Conflict("A bulk edit has no columns.", "Drop it and begin another.", code="no-columns")
        fields = fields_of(intake.kind)
        for name, heading in (choices.mapping or {}).items():
            if name not in fields or heading not in intake.headings:
                raise Invalid(f"{name} cannot be filled from “{heading}”.", "Choose a field and a column of the file.",
                              field="mapping")  # fmt: skip
        intake.mapping = choices.mapping if choices.mapping is not None else intake.mapping
        intake.fixed, intake.date_order = choices.fixed, choices.date_order or intake.date_order
        intake.state, intake.words = "reading", ""
        kept = {"mapping": intake.mapping, "fixed": intake.fixed, "date_order": intake.date_order}
        source = act.session.get(IntakeSource, (intake.kind, intake.source))
        if source is None:
            act.session.add(IntakeSource(kind=intake.kind, name=intake.source, **kept))
        else:
            source.mapping, source.fixed, source.date_order = intake.mapping, intake.fixed, intake.date_order
        house.enqueue(act.session, PREVIEW, {"intake_id": ident}, f"import {ident}")
        return show(intake)


def preview(house: House, ident: str) -> None:
    """The job: read the file and say of each row what it would do."""
    with house.database.transaction() as session:
        intake = _find(session, ident)
        if intake.state != "reading":
            return
        session.execute(delete(IntakeRow).where(IntakeRow.intake_id == ident))
        session.expunge(intake)
    try:
        with tempfile.TemporaryDirectory(prefix="sealpacket-import-") as folder:
            path = Path(folder, "file")
            with path.open("wb") as file:
                for block in house.blobs.read(intake.blob):
                    file.write(block)
            counts = _preview_file(house, intake, path)
    except (TableFault, Trouble) as fault:
        words = f"{fault} {fault.way_out}"
        _set(house, ident, state="failed", words=words, counts={})
        return
    _set(house, ident, state="ready", counts=dict(counts))


def _preview_file(house: House, intake: Intake, path: Path) -> Counter[str]:
    kind = KINDS[intake.kind]
    table = open_table(path, intake.part or (kind.plural if _holds_kinds(path) else ""))
    first = list(islice(table.rows, _LOOK))
    mapping = {k: v for k, v in intake.mapping.items() if v in table.headings} if intake.mapping else {}
    if not mapping or not set(mapping) >= set(intake.mapping):
        free = [name for name in fields_of(kind.name) if name not in intake.fixed]
        mapping = guess_mapping(table.headings, free, mapping)
    order = cast(DateOrder, intake.date_order) or _date_order(table, first, kind, mapping) or "day"
    _set(house, intake.id, headings=table.headings, mapping=mapping, date_order=order)
    judge = _Judge(house, kind, table.headings, mapping, intake.fixed, order, intake.id)
    judge.serials = _serials_of(path, intake, mapping) if "carrier" in mapping else set()
    counts: Counter[str] = Counter()
    rows = _chained(first, table.rows)
    while chunk := list(islice(rows, _CHUNK)):
        with house.database.transaction() as session:
            judged = judge.rows(session, chunk)
            copy_rows(session, IntakeRow, judged)
        counts.update(row["outcome"] for row in judged)
        _set(house, intake.id, counts=dict(counts))
    return counts


def _chained(first: list[Any], rest: Iterator[Any]) -> Iterator[Any]:
    yield from first
    yield from rest


def _holds_kinds(path: Path) -> bool:
    """Whether the file may hold several kinds of record, as our own exports of everything do."""
    with path.open("rb") as file:
        head = file.read(64)
    return head.startswith((b"PK\x03\x04", b'{"kind"'))


def _serials_of(path: Path, intake: Intake, mapping: dict[str, str]) -> set[str]:
    """All serials of the file: something may sit in what a later row brings."""
    table = open_table(path, intake.part or (KINDS[intake.kind].plural if _holds_kinds(path) else ""))
    place = table.headings.index(mapping["serial"]) if "serial" in mapping else None
    return {str(cells[place]).strip() for _, cells in table.rows if place is not None and place < len(cells)}


def _date_order(
    table: Table, first: list[tuple[int, list[Any]]], kind: Kind, mapping: dict[str, str]
) -> DateOrder | None:
    places = [
        table.headings.index(heading) for name, heading in mapping.items() if fields_of(kind.name)[name].kind == "date"
    ]
    return date_order_of(cells[place] for _, cells in first for place in places if place < len(cells))


class _Judge:
    """Says of rows what each would do: new, changed (field by field), unchanged, or rejected with its faults."""

    def __init__(
        self, house: House, kind: Kind, headings: list[str], mapping: dict[str, str], fixed: dict[str, str],
        order: DateOrder, intake: str,
    ) -> None:  # fmt: skip
        self._house, self._kind, self._order, self._intake = house, kind, order, intake
        fields = fields_of(kind.name)
        self._columns = [(fields[name], headings.index(heading), heading) for name, heading in mapping.items()]
        self._fixed = [(fields[name], value) for name, value in fixed.items() if name not in mapping]
        self._seen: set[int] = set()
        self._refs: Referred | None = None
        self.serials: set[str] = set()

    def rows(self, session: Session, chunk: list[tuple[int, list[Any]]]) -> list[dict[str, Any]]:
        """Rows of the preview, for the database."""
        self._refs = refs = self._refs.within(session) if self._refs else Referred(session, many=True)
        read = [(number, cells, *self._read(cells)) for number, cells in chunk]
        for _, _, given, _ in read:
            self._name_keys(refs, given)
        keyed: list[tuple[int, list[Any], dict[str, Any], list[dict[str, str]], Key | None]] = []
        for number, cells, given, faults in read:
            key = None if faults else self._key(refs, given, faults)
            keyed.append((number, cells, given, faults, key))
        there = records_by_key(session, self._kind, [key for *_, key in keyed if key is not None])
        if self._kind.name == "entitlement":
            self._prefetch(refs, [given for _, _, given, _, key in keyed if key])
        return [
            self.judged(refs, number, cells, given, faults, there.get(key) if key else None)
            for number, cells, given, faults, key in keyed
        ]

    def _read(self, cells: list[Any]) -> tuple[dict[str, Any], list[dict[str, str]]]:
        given: dict[str, Any] = {}
        faults: _Faults = []
        for field_, place, heading in self._columns:
            cell = cells[place] if place < len(cells) else None
            self._take(given, faults, field_, cell, heading)
        for field_, value in self._fixed:
            self._take(given, faults, field_, value, "")
        if "cost" in given:
            given["cost_minor"] = to_minor(given.pop("cost"), str(given.get("currency", "")))
        return given, faults

    def _take(self, given: dict[str, Any], faults: _Faults, field_: Field, cell: Any, heading: str) -> None:
        try:
            value = understand(cell, field_, self._order)
        except CellFault as fault:
            faults.append(_fault(field_.name, heading, f"{heading or field_.name} {fault}."))
            return
        if value is not None:
            given[field_.name] = value

    def _name_keys(self, refs: Referred, given: dict[str, Any]) -> None:
        """Files name vendors, sites and people as people do: their keys take the place of their names."""
        for name in set(refs.KEYED) & set(given):
            value = given[name]
            given[name] = (
                [refs.key_of(name, item) for item in value] if isinstance(value, list) else refs.key_of(name, value)
            )

    def _key(self, refs: Referred, given: dict[str, Any], faults: _Faults) -> Key | None:
        missing = [name for name in self._kind.natural if given.get(name) in (None, "")]
        faults += [_fault(name, "", f"{name} is missing: it tells the {self._kind.name} apart.") for name in missing]
        if missing:
            return None
        try:
            key = natural_key(self._kind, refs, given)
        except Invalid as trouble:
            faults.append(_fault(str(trouble.facts.get("field", "")), "", f"{trouble} {trouble.way_out}"))
            return None
        mark = hash(key)
        if mark in self._seen:
            name = self._kind.natural[-1]
            faults.append(_fault(name, "", f"An earlier row is about {given[name]} already."))
            return None
        self._seen.add(mark)
        return key

    @staticmethod
    def _prefetch(refs: Referred, given: list[dict[str, Any]]) -> None:
        by_vendor: dict[str, list[str]] = {}
        for body in given:
            serials = [*body.get("serials", []), *(item["serial"] for item in body.get("listings", []))]
            by_vendor.setdefault(body["vendor"], []).extend(serials)
        for vendor, serials in by_vendor.items():
            refs.prefetch(refs.vendor(vendor), serials)

    def judged(
        self, refs: Referred, number: int, cells: list[Any], given: dict[str, Any], faults: _Faults, there: Any
    ) -> dict[str, Any]:
        """What one row would do; `there` is the record that it is about, if there is one."""
        kind = self._kind
        called = str(given.get(kind.natural[-1] if kind.name != "entitlement" else "reference") or "")[:300]
        row: dict[str, Any] = {"intake_id": self._intake, "row": number, "called": called, "outcome": "rejected",
                               "record_id": None, "body": None, "before": None, "sealed": None, "faults": None,
                               "cells": None}  # fmt: skip
        secrets = {name: given.pop(name) for name in kind.secrets if name in given}
        before = kind.body(there) if there is not None else {}
        if not faults:
            body = self._body(refs, before | given, faults)
            if body is not None:
                changes = [name for name in body if before.get(name) != body[name]] if there is not None else []
                sealed = {
                    name: self._sealed(value) for name, value in secrets.items() if self._differs(there, name, value)
                }
                outcome = "new" if there is None else "changed" if changes or sealed else "unchanged"
                moves = kind.name == "asset" and there is not None and {"site", "status"} & set(changes)
                stays = {"stays": _stays(there), "placed_on": before["placed_on"]} if moves else {}
                return row | {
                    "outcome": outcome, "record_id": there.id if there is not None else str(uuid4()),
                    "body": None if outcome == "unchanged" else body,
                    "before": {name: before[name] for name in changes} | stays if outcome == "changed" else None,
                    "sealed": sealed or None,
                }  # fmt: skip
        return row | {"faults": faults, "cells": [None if cell is None else str(cell) for cell in cells]}

    def _body(self, refs: Referred, fields: dict[str, Any], faults: _Faults) -> dict[str, Any] | None:
        kind = self._kind
        try:
            form = kind.form.model_validate(fields)
            body = form.model_dump(mode="json", exclude=set(kind.secrets))
            agree(form)
            carrier = getattr(form, "carrier", None)
            if carrier in self.serials:
                form = form.model_copy(update={"carrier": None})
            kind.links(refs, form, kind.columns(self._house, refs, form))
        except ValidationError as error:
            for item in error.errors():
                name = str(item["loc"][0]) if item["loc"] else ""
                what = "is missing" if item["type"] == "missing" else item["msg"].removeprefix("Value error, ")
                faults.append(_fault(name, "", f"{name}: {what}."))
            return None
        except Invalid as trouble:
            faults.append(_fault(str(trouble.facts.get("field", "")), "", f"{trouble} {trouble.way_out}"))
            return None
        return body

    def _sealed(self, value: str) -> str:
        return base64.b64encode(self._house.seal_value(value, "import secret")).decode()

    def _differs(self, there: Any, name: str, value: str) -> bool:
        if there is None:
            return True
        column, purpose = {"passcode": ("passcode_sealed", "contract passcode"),
                           "secret": ("secret_sealed", "login secret")}[name]  # fmt: skip
        kept = getattr(there, column)
        return kept is None or self._house.open_value(kept, purpose) != value


def _fault(name: str, heading: str, sentence: str) -> dict[str, str]:
    return {"field": name, "column": heading, "sentence": sentence}


def _stays(row: Asset) -> list[dict[str, Any]]:
    return [
        {"from_on": stay.from_on.isoformat() if stay.from_on else None, "until_on": stay.until_on.isoformat(),
         "site_id": stay.site_id, "status": stay.status}
        for stay in row.stays
    ]  # fmt: skip


def start_apply(house: House, actor: Actor, ident: str) -> dict[str, Any]:
    """Have a previewed import applied: all its new and changed rows in one transaction, or nothing of it."""
    return _start(house, actor, ident, "ready", "applying", APPLY, "import started")


def start_undo(house: House, actor: Actor, ident: str) -> dict[str, Any]:
    """Have the last applied import undone, whole. Raises Conflict if another was applied since."""
    with house.database.transaction() as session:
        intake = _find(session, ident)
        query = select(Intake.id).where(Intake.state == "applied").order_by(Intake.applied_at.desc())
        if intake.state == "applied" and session.scalar(query.limit(1)) != ident:
            raise Conflict("Another import has been applied since.", "Undo that one first, if it may go too.",
                           code="not-the-last")  # fmt: skip
    return _start(house, actor, ident, "applied", "undoing", UNDO, "import undo started")


def _start(house: House, actor: Actor, ident: str, state: str, then: str, task: str, words: str) -> dict[str, Any]:
    with house.act(actor, words, f"import {ident}") as act:
        intake = _find(act.session, ident, lock=True)
        _must_be(intake, state)
        intake.state, intake.words = then, ""
        house.enqueue(act.session, task, {"intake_id": ident, "by": actor.name}, "imports")
        return show(intake)


def apply(house: House, ident: str, by: str) -> None:
    """The job: put all new and changed rows into the register, or nothing."""
    try:
        with house.act(Actor(by, frozenset()), "import applied", f"import {ident}") as act:
            intake = _find(act.session, ident, lock=True)
            if intake.state != "applying":
                act.worth_noting = False
                return
            _apply_all(house, act.session, intake, by)
            intake.state, intake.applied_at = "applied", datetime.now(UTC)
            act.detail = {"file": intake.file_name, "kind": intake.kind, **intake.counts}
    except Trouble as trouble:
        _set(house, ident, state="ready", words=f"Nothing was applied. {trouble} {trouble.way_out}")


def _apply_all(house: House, session: Session, intake: Intake, by: str) -> None:
    session.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket import'))"))
    kind = KINDS[intake.kind]
    waiting: list[tuple[str, str, str]] = []
    refs = Referred(session, many=True)
    last = -1
    while chunk := session.scalars(
        select(IntakeRow)
        .where(IntakeRow.intake_id == intake.id, IntakeRow.row > last, IntakeRow.outcome.in_(("new", "changed")))
        .order_by(IntakeRow.row)
        .limit(_CHUNK)
    ).all():
        last = chunk[-1].row
        new = [row for row in chunk if row.outcome == "new"]
        waiting += _add_new(house, session, kind, refs, new, by)
        _change_old(house, session, kind, [row for row in chunk if row.outcome == "changed"], by)
        session.flush()
        session.expunge_all()
        session.add(intake)
    for ident, vendor, carrier in waiting:
        found = Referred(session).carrier(vendor, carrier)
        session.execute(update(Asset).where(Asset.id == ident).values(carrier_id=found))


def _add_new(
    house: House, session: Session, kind: Kind, refs: Referred, rows: list[IntakeRow], by: str
) -> list[tuple[str, str, str]]:
    """Insert many records at once. Returns (id, vendor id, carrier) of assets whose carrier may come later."""
    if not rows:
        return []
    columns: list[dict[str, Any]] = []
    links: dict[Any, list[dict[str, Any]]] = {}
    waiting = []
    if kind.name == "entitlement":
        _Judge._prefetch(refs, [row.body or {} for row in rows])
    for row in rows:
        ident = row.record_id or ""
        form = _form(house, kind, row)
        carrier = getattr(form, "carrier", None)
        if carrier:
            form.carrier = None
        own = kind.columns(house, refs, form)
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
        [{"kind": kind.name, "record_id": row.record_id, "version": 1, "by": by, "act": "imported", "body": row.body}
         for row in rows],
    )  # fmt: skip
    return waiting


def _even(columns: list[dict[str, Any]]) -> None:
    """Every row the same columns, as an insert of many wants it."""
    names = {name for row in columns for name in row}
    for row in columns:
        for name in names - set(row):
            row[name] = None


def _form(house: House, kind: Kind, row: IntakeRow) -> Any:
    return checked(kind, {**(row.body or {}), **_secrets(house, row)})


def _secrets(house: House, row: IntakeRow) -> dict[str, str]:
    return {
        name: house.open_value(base64.b64decode(value), "import secret") for name, value in (row.sealed or {}).items()
    }


def _change_old(house: House, session: Session, kind: Kind, rows: list[IntakeRow], by: str) -> None:
    if not rows:
        return
    query = select(kind.model).where(kind.model.id.in_([row.record_id for row in rows])).options(*kind.eager)
    there = {record.id: record for record in session.scalars(query)}
    for row in rows:
        record = there.get(row.record_id or "")
        before = {name: value for name, value in (row.before or {}).items() if name != "stays"}
        now = kind.body(record) if record is not None else {}
        if any(now.get(name) != value for name, value in before.items()):
            raise Conflict(f"Row {row.row}: {row.called} has been changed since the preview.", "Preview it again.",
                           code="changed-since")  # fmt: skip
        changes = {name: (row.body or {})[name] for name in before}
        rewrite(house, session, kind, record, {**changes, **_secrets(house, row)})
        session.refresh(record)
        keep_version(session, kind, record, by, "imported")


def undo(house: House, ident: str, by: str) -> None:
    """The job: make the register what it was before the import, or change nothing."""
    try:
        with house.act(Actor(by, frozenset()), "import undone", f"import {ident}") as act:
            intake = _find(act.session, ident, lock=True)
            if intake.state != "undoing":
                act.worth_noting = False
                return
            _undo_all(house, act.session, intake, by)
            intake.state = "undone"
    except Trouble as trouble:
        _set(house, ident, state="applied", words=f"Nothing was undone. {trouble} {trouble.way_out}")


def _undo_all(house: House, session: Session, intake: Intake, by: str) -> None:
    session.execute(text("SELECT pg_advisory_xact_lock(hashtext('sealpacket import'))"))
    kind = KINDS[intake.kind]
    mine = select(IntakeRow).where(IntakeRow.intake_id == intake.id)
    for row in session.scalars(mine.where(IntakeRow.outcome == "changed").order_by(IntakeRow.row)).all():
        record = session.get(kind.model, row.record_id)
        before = dict(row.before or {})
        stays = before.pop("stays", None)
        now = kind.body(record) if record is not None else {}
        expected = {name: (row.body or {})[name] for name in before if not (name == "placed_on" or stays is not None)}
        if record is None or any(now.get(name) != value for name, value in expected.items()):
            raise Conflict(
                f"Row {row.row}: {row.called} has been changed since the import.",
                "Set that record back by hand, or leave the import as it is.",
                code="changed-since",
            )
        rewrite(house, session, kind, record, before, trace=False)
        if stays is not None:
            _put_back(session, record, stays, before)
        session.refresh(record)
        keep_version(session, kind, record, by, "import undone")
    new = select(IntakeRow.record_id).where(IntakeRow.intake_id == intake.id, IntakeRow.outcome == "new")
    touched = session.scalar(
        select(func.count()).select_from(kind.model).where(kind.model.id.in_(new), kind.model.version > 1)
    )
    if touched:
        raise Conflict(f"{touched} of the records that it brought have been changed since.",
                       "Leave the import as it is, and mend what is wrong.", code="changed-since")  # fmt: skip
    if kind.name == "asset":
        session.execute(update(Asset).where(Asset.id.in_(new)).values(carrier_id=None))
    session.execute(delete(kind.model).where(kind.model.id.in_(new)))


def _put_back(session: Session, record: Asset, stays: list[dict[str, Any]], before: dict[str, Any]) -> None:
    record.stays = []
    session.flush()
    record.stays = [
        AssetStay(
            from_on=datetime.fromisoformat(stay["from_on"]).date() if stay["from_on"] else None,
            until_on=datetime.fromisoformat(stay["until_on"]).date(), site_id=stay["site_id"], status=stay["status"],
        )
        for stay in stays
    ]  # fmt: skip
    session.flush()


def drop(house: House, actor: Actor, ident: str) -> dict[str, Any]:
    """Forget a file that was not applied."""
    with house.act(actor, "import dropped", f"import {ident}") as act:
        intake = _find(act.session, ident, lock=True)
        _must_be(intake, "ready", "failed")
        intake.state = "dropped"
        act.session.execute(delete(IntakeRow).where(IntakeRow.intake_id == ident))
        shown, blob = show(intake), intake.blob
    house.blobs.remove(blob or None)
    return shown


def get(house: House, ident: str) -> dict[str, Any]:
    """One import."""
    with house.database.transaction() as session:
        return show(_find(session, ident))


def listed(house: House, *, limit: int = 50, cursor: str = "") -> Page[dict[str, Any]]:
    """Imports, the newest first."""
    with house.database.transaction() as session:
        rows = session.scalars(
            after(select(Intake), Intake.at, Intake.id, cursor, newest_first=True).limit(limit + 1)
        ).all()
        return page_of(rows, limit, "at", show)


def rows_of(house: House, ident: str, outcome: str, *, above: int, limit: int) -> dict[str, Any]:
    """Rows of a preview below the row `above`, of one outcome if given."""
    with house.database.transaction() as session:
        intake = _find(session, ident)
        query = select(IntakeRow).where(IntakeRow.intake_id == ident, IntakeRow.row > above)
        if outcome:
            query = query.where(IntakeRow.outcome == outcome)
        rows = session.scalars(query.order_by(IntakeRow.row).limit(limit + 1)).all()
        return {
            "items": [_show_row(row, intake) for row in rows[:limit]],
            "next": rows[limit - 1].row if len(rows) > limit else None,
        }


def rejected_file(house: House, ident: str) -> tuple[str, Iterator[bytes]]:
    """Name and content of a CSV file of the rejected rows as they came, each with what is wrong with it."""
    with house.database.transaction() as session:
        intake = _find(session, ident)
        name = f"{Path(intake.file_name).stem}-rejected.csv"
        headings = list(intake.headings)

    def lines() -> Iterator[bytes]:
        yield b"\xef\xbb\xbf" + _line([*headings, "What is wrong"])
        with house.database.transaction() as session:
            query = select(IntakeRow).where(IntakeRow.intake_id == ident, IntakeRow.outcome == "rejected")
            for row in session.scalars(query.order_by(IntakeRow.row).execution_options(yield_per=_CHUNK)):
                cells = [str(cell or "") for cell in row.cells or []][: len(headings)]
                wrong = " ".join(fault["sentence"] for fault in row.faults or [])
                yield _line([*cells, *[""] * (len(headings) - len(cells)), wrong])

    return name, lines()


def _line(cells: list[str]) -> bytes:
    text_ = io.StringIO()
    csv.writer(text_).writerow([guarded(cell) for cell in cells])
    return text_.getvalue().encode()


def _show_row(row: IntakeRow, intake: Intake) -> dict[str, Any]:
    body, before = row.body or {}, {k: v for k, v in (row.before or {}).items() if k != "stays"}
    changes = [
        {"field": name, "old": old, "new": body.get(name)} for name, old in before.items() if old != body.get(name)
    ]
    changes += [{"field": name, "old": None, "new": "•••"} for name in row.sealed or {} if row.outcome == "changed"]
    return {
        "row": row.row, "outcome": row.outcome, "called": row.called, "changes": changes,
        "body": body if row.outcome == "new" else None, "faults": row.faults or [],
        "cells": dict(zip(intake.headings, row.cells, strict=False)) if row.cells else None,
    }  # fmt: skip


def show(intake: Intake) -> dict[str, Any]:
    """An import as the interfaces show it."""
    fields = [
        {"name": item.name, "kind": item.kind, "required": item.required, "choices": list(item.choices)}
        for item in fields_of(intake.kind).values()
    ]
    own = ("id", "kind", "source", "file_name", "size", "state", "words", "headings", "mapping", "fixed", "date_order",
           "by", "at", "applied_at")  # fmt: skip
    counts = {outcome: intake.counts.get(outcome, 0) for outcome in ("new", "changed", "unchanged", "rejected")}
    return {**{name: getattr(intake, name) for name in own}, "counts": counts, "fields": fields}


def _find(session: Session, ident: str, *, lock: bool = False) -> Intake:
    query = select(Intake).where(Intake.id == ident)
    found = session.scalars(query.with_for_update() if lock else query).one_or_none()
    if found is None:
        raise NotFound(f"There is no import {ident}.", "Look it up: sealpacket import list")
    return found


def _must_be(intake: Intake, *states: str) -> None:
    if intake.state not in states:
        raise Conflict(f"The import is {intake.state}.", "Wait until it is read, or begin a new one.", code="not-ready")


def _set(house: House, ident: str, **fields: Any) -> None:
    with house.database.transaction() as session:
        session.execute(update(Intake).where(Intake.id == ident).values(**fields))
