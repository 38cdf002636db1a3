"""Many packets from one table or selection: previewed, noted by the worker, and tried again where they failed."""

from __future__ import annotations

from collections import Counter
from collections.abc import Mapping, Sequence
from datetime import datetime

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.coverage import Need
from sealpacket.core.errors import Conflict, Invalid, NotFound, ProblemError
from sealpacket.core.life import OVER, Life, Turn
from sealpacket.core.sheets import Sheet
from sealpacket.services.coverage import LEAN
from sealpacket.services.desks import parsed
from sealpacket.services.packets.draft import drafts
from sealpacket.services.register import KINDS
from sealpacket.services.register.forms import Form, Short, Words
from sealpacket.store.models import Batch, BatchRow, Packet, PacketLine
from sealpacket.store.models.batches import batch_number

NOTE_BATCH = "note_batch"
MOST = 1000


class BatchRowForm(Form):
    """A packet to be noted: the asset (serial or id), what happened, and answers by question."""

    asset: Short
    title: str = Field("", max_length=200, description="The title; empty: that of the batch.")
    note: Words = ""
    need: Need = "fault"
    answers: dict[str, str] = Field(
        {}, max_length=100, description="Answers by question, as the desk asks them."
    )


class BatchRowShown(BaseModel):
    """A row of a batch, and what became of it."""

    place: int = Field(description="The number of the row, from 1.")
    row: BatchRowForm = Field(description="The packet to be noted.")
    state: str = Field(description="Whether it waits, is noted, or has failed.")
    problem: str = Field(description="Why it failed, and what to do; empty: it has not.")
    packet: str = Field(description="The number of the packet; empty: there is none yet.")
    life: Life | None = Field(description="How far the packet is; null: there is none yet.")
    turn: Turn | None = Field(description="Whose turn it is; null: there is no packet yet.")
    stops: int | None = Field(description="How many checks stop the draft; null: it is no draft.")


class BatchBrief(BaseModel):
    """A batch in a list."""

    id: str = Field(description="The id of the batch.")
    title: str = Field(description="Its title.")
    by: str = Field(description="Who noted it.")
    at: datetime = Field(description="When it was noted.")
    waiting: int = Field(description="How many rows wait for the worker.")
    noted: int = Field(description="How many rows became packets.")
    failed: int = Field(description="How many rows failed.")


class BatchShown(BatchBrief):
    """A batch with its rows."""

    rows: list[BatchRowShown] = Field(description="The rows, in their order.")


class RowPreview(BaseModel):
    """The preview of a row."""

    place: int = Field(description="The number of the row, from 1.")
    asset: str = Field(description="The asset as it was given.")
    name: str = Field(description="The name of the asset in the register; empty: it is not there.")
    desk: str = Field(description="The desk to which it would go; empty: none is known.")
    problem: str = Field(description="Why it would fail; empty: it would not.")
    hint: str = Field(description="A hint, such as an open packet about it.")


def preview_batch(app: AppContext, actor: Actor, rows: Sequence[BatchRowForm]) -> list[RowPreview]:
    """Preview each row; nothing is noted. Raises Invalid for too many rows, or none."""
    _need_some(rows)
    given = Counter(row.asset for row in rows)
    with app.database.transaction() as session:
        found = [_preview(session, actor, place, row, given) for place, row in enumerate(rows, 1)]
        session.rollback()  # a desk that is reached by hand may have been made up
        return found


def _need_some(rows: Sequence[BatchRowForm]) -> None:
    if not 0 < len(rows) <= MOST:
        raise Invalid(
            f"A batch has 1 to {MOST} rows, and this has {len(rows)}.", "Divide it.", field="rows"
        )


def _preview(
    session: Session, actor: Actor, place: int, row: BatchRowForm, given: Counter[str]
) -> RowPreview:
    found = RowPreview(place=place, asset=row.asset, name="", desk="", problem="", hint="")
    try:
        asset = KINDS["asset"].find(session, row.asset, LEAN)
    except ProblemError as problem:
        return found.model_copy(update={"problem": f"{problem.detail} {problem.remedy}"})
    sheet = parsed(drafts.desk_foreseen(session, actor, asset, row.need))
    hints = [f"{given[row.asset]} rows are about it."] if given[row.asset] > 1 else []
    query = select(PacketLine.number).where(
        PacketLine.asset_id == asset.id, PacketLine.life.not_in(OVER)
    )
    if numbers := session.scalars(query.order_by(PacketLine.number)).all():
        hints.append(f"Open about it: {', '.join(numbers[:3])}.")
    return found.model_copy(
        update={
            "name": asset.name or asset.serial,
            "desk": sheet.name,
            "problem": _faults(sheet, row),
            "hint": " ".join(hints),
        }
    )


def _faults(sheet: Sheet, row: BatchRowForm) -> str:
    unknown = [name for name in row.answers if sheet.question(name) is None]
    return f"{sheet.name} does not ask {', '.join(unknown)}. Leave it out." if unknown else ""


def note_batch(
    app: AppContext, actor: Actor, title: str, rows: Sequence[BatchRowForm]
) -> BatchShown:
    """Keep a batch; the worker notes a packet for each row. Raises Invalid for too many rows, or none."""
    _need_some(rows)
    with app.transaction(actor, "batch noted", "batch", title=title, rows=len(rows)) as tx:
        number = tx.session.scalar(select(batch_number.next_value()))
        made = Batch(id=f"B-{number:04d}", title=title, by=actor.name)
        made.rows = [
            BatchRow(place=place, body=row.model_dump(mode="json"))
            for place, row in enumerate(rows, 1)
        ]
        tx.session.add(made)
        tx.session.flush()
        tx.subject = f"batch {made.id}"
        app.enqueue(
            tx.session, NOTE_BATCH, {"batch": made.id, "account": actor.account_id}, made.id
        )
        return _show(tx.session, made)


def retry_batch(
    app: AppContext, actor: Actor, ident: str, changes: Mapping[int, BatchRowForm]
) -> BatchShown:
    """Try the failed rows of a batch again, those of `changes` as corrected there. Raises Conflict if none failed."""
    with app.transaction(actor, "batch tried again", f"batch {ident}") as tx:
        made = _find(tx.session, ident)
        failed = [row for row in made.rows if row.state == "failed"]
        if not failed:
            raise Conflict("No row of it has failed.", "Look at its packets.", code="none-failed")
        for row in failed:
            if row.place in changes:
                row.body = changes[row.place].model_dump(mode="json")
            row.state, row.problem = "waiting", ""
        tx.session.flush()
        tx.detail["rows"] = [row.place for row in failed]
        app.enqueue(
            tx.session, NOTE_BATCH, {"batch": made.id, "account": actor.account_id}, made.id
        )
        return _show(tx.session, made)


def batch(app: AppContext, ident: str) -> BatchShown:
    """A batch and what became of its rows. Raises NotFound."""
    with app.database.snapshot() as session:
        return _show(session, _find(session, ident))


def batches(app: AppContext, *, limit: int = 50) -> list[BatchBrief]:
    """Batches, the newest first."""
    with app.database.snapshot() as session:
        query = select(Batch).order_by(Batch.at.desc(), Batch.id).limit(limit)
        rows = session.scalars(query).all()
        counts = _counts(session, [row.id for row in rows])
        return [_brief(row, counts[row.id]) for row in rows]


def _find(session: Session, ident: str) -> Batch:
    found = session.get(Batch, ident.upper())
    if found is None:
        raise NotFound(f"There is no batch {ident}.", "List them: sealpacket batch list")
    return found


def _counts(session: Session, idents: Sequence[str]) -> dict[str, Counter[str]]:
    counts: dict[str, Counter[str]] = {ident: Counter() for ident in idents}
    query = select(BatchRow.batch_id, BatchRow.state, func.count())
    query = query.where(BatchRow.batch_id.in_(idents))
    for ident, state, number in session.execute(query.group_by(BatchRow.batch_id, BatchRow.state)):
        counts[ident][state] = number
    return counts


def _brief(row: Batch, counts: Counter[str]) -> BatchBrief:
    return BatchBrief(
        id=row.id, title=row.title, by=row.by, at=row.at, waiting=counts["waiting"], noted=counts["noted"],
        failed=counts["failed"],
    )  # fmt: skip


def _show(session: Session, made: Batch) -> BatchShown:
    session.flush()
    query = (
        select(BatchRow, PacketLine)
        .outerjoin(PacketLine, PacketLine.packet_id == BatchRow.packet_id)
        .where(BatchRow.batch_id == made.id)
        .order_by(BatchRow.place)
        .options(joinedload(BatchRow.packet).load_only(Packet.number))
    )
    rows = [_show_row(row, line) for row, line in session.execute(query)]
    brief = _brief(made, Counter(row.state for row in rows))
    return BatchShown(**dict(brief), rows=rows)


def _show_row(row: BatchRow, line: PacketLine | None) -> BatchRowShown:
    return BatchRowShown(
        place=row.place, row=BatchRowForm.model_validate(row.body), state=row.state, problem=row.problem,
        packet=row.packet.number if row.packet else "", life=line.life if line else None,
        turn=line.turn if line else None, stops=line.stops if line else None,
    )  # fmt: skip


def work_through(app: AppContext, ident: str, account: str) -> None:
    """The job: note a packet for each row that waits; a row that fails holds up no other."""
    with app.database.transaction() as session:
        made = _find(session, ident)
        title, actor = made.title, Actor(made.by, frozenset(), account)
        waiting = [
            (row.place, BatchRowForm.model_validate(row.body))
            for row in made.rows
            if row.state == "waiting"
        ]
    for place, form in waiting:
        _note_one(app, actor, ident, place, form, title)


def _note_one(
    app: AppContext, actor: Actor, ident: str, place: int, form: BatchRowForm, title: str
) -> None:
    try:
        with drafts.noted_at_once(
            app, actor, title=form.title or title, text=form.note, need=form.need, asset=form.asset,
            answers=form.answers,
        ) as (session, packet):  # fmt: skip
            kept = session.get(BatchRow, (ident, place), with_for_update=True)
            if kept is None or kept.state != "waiting":
                raise Conflict("It is noted already.", "Look at the batch.", code="noted")
            kept.state, kept.packet_id = "noted", packet.id
    except ProblemError as problem:
        if problem.code == "noted":
            return
        with app.database.transaction() as session:
            failed = session.get(BatchRow, (ident, place))
            if failed is not None and failed.state == "waiting":
                failed.state, failed.problem = "failed", f"{problem.detail} {problem.remedy}"
