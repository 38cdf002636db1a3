"""Statements as they lie in the house: received, listed, their differences shown."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import date

from sqlalchemy import delete, func, select
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.statement import Difference
from sealpacket.services.packets.exhibits import clean_name
from sealpacket.services.register.kinds import KINDS
from sealpacket.services.statements.comparing import COMPARE, SOURCE
from sealpacket.services.statements.schemas import (
    DecidedBefore,
    Differences,
    DifferenceShown,
    SlipShown,
    StatementShown,
)
from sealpacket.store.models import IntakeSource, Statement, StatementDifference
from sealpacket.store.paging import Page, after, page_of

LARGEST = 100_000_000


def receive(
    app: AppContext,
    actor: Actor,
    *,
    vendor: str,
    name: str,
    as_of: date,
    mapping: dict[str, str],
    blocks: Iterable[bytes],
) -> StatementShown:
    """Take a vendor's statement in and have it compared. Columns chosen before for this vendor are chosen again."""
    stored = app.blobs.put(blocks)
    try:
        with app.transaction(
            actor, "statement received", "statement", vendor=vendor, name=name, size=stored.size
        ) as tx:
            row = KINDS["vendor"].find(tx.session, vendor)
            before = tx.session.get(IntakeSource, (SOURCE, row.key))
            statement = Statement(
                vendor_id=row.id,
                vendor=row,
                as_of=as_of,
                name=clean_name(name),
                blob=stored.name,
                size=stored.size,
                by=actor.name,
                mapping=mapping or (before.mapping if before else {}),
            )
            tx.session.add(statement)
            tx.session.flush()
            tx.subject = f"statement {statement.id}"
            job = {"statement_id": statement.id, "chosen": bool(mapping)}
            app.enqueue(tx.session, COMPARE, job, f"statement {statement.id}")
            return show(tx.session, statement)
    except BaseException:
        app.blobs.remove(stored.name)
        raise


def get(app: AppContext, ident: str) -> StatementShown:
    """One statement with how many of its differences are open."""
    with app.database.transaction() as session:
        return show(session, find_statement(session, ident))


def listed(
    app: AppContext, *, vendor: str = "", limit: int = 50, cursor: str = ""
) -> Page[StatementShown]:
    """List statements, newest first."""
    with app.database.transaction() as session:
        query = (
            select(Statement)
            .options(joinedload(Statement.vendor))
            .where(Statement.state != "dropped")
        )
        if vendor:
            query = query.where(Statement.vendor_id == KINDS["vendor"].find(session, vendor).id)
        query = after(query, Statement.at, Statement.id, cursor, newest_first=True)
        rows = session.scalars(query.limit(limit + 1)).all()
        return page_of(rows, limit, "at", lambda row: show(session, row))


def differences(
    app: AppContext,
    ident: str,
    *,
    sort: str = "",
    undecided: bool = False,
    above: int = 0,
    limit: int = 100,
) -> Differences:
    """Differences below number `above`, of one sort if given; each with what was decided of the like before."""
    with app.database.transaction() as session:
        statement = find_statement(session, ident)
        query = select(StatementDifference).where(
            StatementDifference.statement_id == ident, StatementDifference.number > above
        )
        query = query.where(StatementDifference.sort == sort) if sort else query
        query = query.where(StatementDifference.decision.is_(None)) if undecided else query
        rows = session.scalars(query.order_by(StatementDifference.number).limit(limit + 1)).all()
        before = _decided_before(session, statement, [row.serial for row in rows])
        return Differences(
            items=[
                _show_difference(row, before.get((row.serial, row.sort))) for row in rows[:limit]
            ],
            next=rows[limit - 1].number if len(rows) > limit else None,
        )


def _decided_before(
    session: Session, statement: Statement, serials: list[str]
) -> dict[tuple[str, str], StatementDifference]:
    """The last decisions about these serials in earlier statements of the same vendor."""
    query = (
        select(StatementDifference)
        .join(Statement)
        .where(
            Statement.vendor_id == statement.vendor_id,
            Statement.at < statement.at,
            StatementDifference.serial.in_(serials),
            StatementDifference.decision.is_not(None),
        )
        .order_by(StatementDifference.decided_at)
    )
    return {(row.serial, row.sort): row for row in session.scalars(query)}


def drop(app: AppContext, actor: Actor, ident: str) -> StatementShown:
    """Forget a statement and its differences; what was decided stays in the custody log. Raises Conflict while it is
    being read."""
    with app.transaction(actor, "statement dropped", f"statement {ident}") as tx:
        statement = find_statement(tx.session, ident, lock=True)
        if statement.state == "reading":
            raise Conflict("The statement is being read.", "Wait a moment.", code="not-ready")
        statement.state = "dropped"
        tx.session.execute(
            delete(StatementDifference).where(StatementDifference.statement_id == ident)
        )
        app.forget(tx.session, statement.blob)
        statement.blob = ""
        return show(tx.session, statement)


def find_statement(session: Session, ident: str, *, lock: bool = False) -> Statement:
    """The statement of this id. Raises NotFound."""
    query = select(Statement).where(Statement.id == ident)
    found = session.scalars(query.with_for_update() if lock else query).one_or_none()
    if found is None:
        raise NotFound(
            f"There is no statement {ident}.", "List the statements, then name one of them."
        )
    return found


def show(session: Session, statement: Statement) -> StatementShown:
    """A statement as the interfaces show it."""
    undecided = session.scalar(
        select(func.count()).where(
            StatementDifference.statement_id == statement.id, StatementDifference.decision.is_(None)
        )
    )
    own = ("id", "as_of", "name", "size", "state", "status_text", "headings", "mapping", "by", "at")
    sorts = ("agreeing", "only_ours", "only_theirs", "differs", "mistyped")
    return StatementShown(
        **{name: getattr(statement, name) for name in own},
        vendor=statement.vendor.key,
        vendor_name=statement.vendor.name,
        undecided=undecided or 0,
        counts={name: statement.counts.get(name, 0) for name in sorts},
    )


def read_difference(row: StatementDifference) -> Difference:
    """The difference that a row keeps."""
    return Difference.model_validate(
        {
            "sort": row.sort,
            "serial": row.serial,
            "ours": row.ours,
            "theirs": row.theirs,
            "fields": row.fields,
            "slips": row.slips or [],
        }
    )


def _show_difference(
    row: StatementDifference, before: StatementDifference | None
) -> DifferenceShown:
    difference = read_difference(row)
    own = (
        "number",
        "sort",
        "serial",
        "asset_id",
        "fields",
        "decision",
        "reason",
        "decided_by",
        "decided_at",
        "packet",
    )
    decided = (
        None
        if before is None
        else DecidedBefore(
            decision=before.decision,
            by=before.decided_by,
            at=before.decided_at,
            reason=before.reason,
            packet=before.packet,
        )
    )
    return DifferenceShown(
        **{name: getattr(row, name) for name in own},
        ours=difference.ours,
        theirs=difference.theirs,
        slips=[SlipShown(**slip.model_dump(), words=slip.say()) for slip in difference.slips],
        sentence=difference.say(),
        before=decided,
    )
