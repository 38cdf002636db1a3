"""The job that previews an import: read the file, match its columns, and judge its rows some at a time."""

from __future__ import annotations

from collections import Counter
from itertools import chain, islice
from pathlib import Path
from typing import Any, cast

from sqlalchemy import delete

from sealpacket.app.context import AppContext
from sealpacket.core.errors import ProblemError
from sealpacket.core.tables import (
    DateOrder,
    Table,
    TableFault,
    date_order_of,
    guess_mapping,
    open_table,
)
from sealpacket.services.register.columns import fields_of
from sealpacket.services.register.intake import CHUNK, find_import, put
from sealpacket.services.register.judging import Judge
from sealpacket.services.register.kind import Kind
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.copying import copy_rows
from sealpacket.store.models import Intake, IntakeRow

_LOOK = 200


def preview(app: AppContext, ident: str) -> None:
    """The job: read the file and say of each row what it would do."""
    with app.database.transaction() as session:
        intake = find_import(session, ident)
        if intake.state != "reading":
            return
        session.execute(delete(IntakeRow).where(IntakeRow.intake_id == ident))
        session.expunge(intake)
    try:
        with app.blobs.as_file(intake.blob) as path:
            counts = _preview_file(app, intake, path)
    except (TableFault, ProblemError) as fault:
        words = f"{fault} {fault.remedy}"
        put(app, ident, state="failed", status_text=words, counts={})
        return
    put(app, ident, state="ready", counts=dict(counts))


def _preview_file(app: AppContext, intake: Intake, path: Path) -> Counter[str]:
    kind = KINDS[intake.kind]
    table = _open(path, intake)
    first = list(islice(table.rows, _LOOK))
    mapping = (
        {k: v for k, v in intake.mapping.items() if v in table.headings} if intake.mapping else {}
    )
    if not mapping or not set(mapping) >= set(intake.mapping):
        free = [name for name in fields_of(kind.name) if name not in intake.fixed]
        mapping = guess_mapping(table.headings, free, mapping)
    order = cast(DateOrder, intake.date_order) or _date_order(table, first, kind, mapping) or "day"
    put(app, intake.id, headings=table.headings, mapping=mapping, date_order=order)
    judge = Judge(app, kind, table.headings, mapping, intake.fixed, order, intake.id)
    judge.serials = _serials_of(path, intake, mapping) if "carrier" in mapping else set()
    counts: Counter[str] = Counter()
    rows = chain(first, table.rows)
    while chunk := list(islice(rows, CHUNK)):
        with app.database.transaction() as session:
            judged = judge.rows(session, chunk)
            copy_rows(session, IntakeRow, judged)
        counts.update(row["outcome"] for row in judged)
        put(app, intake.id, counts=dict(counts))
    return counts


def _open(path: Path, intake: Intake) -> Table:
    """The table of the file, or of the import's kind where it may hold several, as our exports of everything do."""
    with path.open("rb") as file:
        holds_kinds = file.read(64).startswith((b"PK\x03\x04", b'{"kind"'))
    return open_table(path, intake.part or (KINDS[intake.kind].plural if holds_kinds else ""))


def _serials_of(path: Path, intake: Intake, mapping: dict[str, str]) -> set[str]:
    """All serials of the file: something may sit in what a later row brings."""
    table = _open(path, intake)
    place = table.headings.index(mapping["serial"]) if "serial" in mapping else None
    return {
        str(cells[place]).strip()
        for _, cells in table.rows
        if place is not None and place < len(cells)
    }


def _date_order(
    table: Table, first: list[tuple[int, list[Any]]], kind: Kind, mapping: dict[str, str]
) -> DateOrder | None:
    places = [
        table.headings.index(heading)
        for name, heading in mapping.items()
        if fields_of(kind.name)[name].kind == "date"
    ]
    return date_order_of(
        cells[place] for _, cells in first for place in places if place < len(cells)
    )
