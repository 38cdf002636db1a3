"""Levels of service of a contract compared: what each covers and costs, and what depends on the one we have."""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import Candidate, Need, Question, Route, rule
from sealpacket.core.life import OVER
from sealpacket.core.money import months_between
from sealpacket.services.contracts import assets_of
from sealpacket.services.coverage import candidate_index_of, thing_on
from sealpacket.services.register.agreed_forms import LevelShown
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Contract, Entitlement, Level, Packet, PacketLine

MOST_RULED = 50
"""Assets of a contract on which it is ruled."""
_NEED: Need = "fault"


class LevelCompared(LevelShown):
    """A level beside the one that a contract has now."""

    is_now: bool = Field(description="Whether the contract has it now.")
    gains: list[str] = Field(
        description="Kinds of need that it takes and the present one does not."
    )
    loses: list[str] = Field(
        description="Kinds of need that it does not take and the present one does."
    )
    cost_until_end_minor: int | None = Field(
        description="Its cost from the day until the end of the term, in minor units; null: not known."
    )
    more_minor: int | None = Field(
        description="How much more that is than with the present level; null: not known."
    )
    rulings: list[LevelRuling] = Field(
        description="The ruling of that day with this level, for faults and what levels differ in."
    )


class LevelRuling(BaseModel):
    """How many assets of a contract would go by a route for a kind of need, with a level on the day."""

    need: Need
    route: Route
    assets: int = Field(description="How many assets.")


class DependingEntitlement(BaseModel):
    """An entitlement whose level would change."""

    reference: str = Field(description="Its reference.")
    level: str = Field(description="Its level on the day.")
    assets: int = Field(description="How many assets it lists.")


class LevelsCompared(BaseModel):
    """The levels that a contract offers, from a day on, and what depends on them."""

    contract: str = Field(description="The number of the contract.")
    from_on: date = Field(description="The day from which another level would count.")
    ends_on: date = Field(description="The end of the term.")
    levels: list[LevelCompared] = Field(description="The levels, the lowest first.")
    entitlements: list[DependingEntitlement] = Field(description="Entitlements that depend on it.")
    open_packets: int = Field(description="Open packets that go by this contract.")


def compare_levels(app: AppContext, handle: str, *, from_on: date | None = None) -> LevelsCompared:
    """Compare the levels of a contract from a day on, at the earliest today, until the end of its term."""
    with app.database.transaction() as session:
        contract: Contract = KINDS["contract"].find(session, handle)
        day = max(from_on or date.min, datetime.now(UTC).date())
        query = select(Level).where(Level.contract_id == contract.id).options(*KINDS["level"].eager)
        rows = session.scalars(query.order_by(Level.rank, Level.name)).all()
        depending = _depending(session, contract, day)
        now = _present(rows, depending)
        costs = {row.id: _until_end(row, day, contract.ends_on) for row in rows}
        base = costs.get(now.id) if now else None
        rulings = _rulings(session, contract, rows, now, day)
        return LevelsCompared(
            contract=contract.number,
            from_on=day,
            ends_on=contract.ends_on,
            levels=[_compared(row, now, costs[row.id], base, rulings[row.id]) for row in rows],
            entitlements=depending,
            open_packets=session.scalar(
                select(func.count())
                .select_from(PacketLine)
                .join(Packet, Packet.id == PacketLine.packet_id)
                .where(PacketLine.contract == contract.number, Packet.life.not_in(OVER))
            )
            or 0,
        )


def _depending(session: Session, contract: Contract, day: date) -> list[DependingEntitlement]:
    query = (
        select(Entitlement)
        .where(
            Entitlement.contract_id == contract.id,
            Entitlement.starts_on <= day,
            Entitlement.ends_on >= day,
            func.coalesce(Entitlement.replaced_on, date.max) > day,
        )
        .order_by(Entitlement.reference)
    )
    return [
        DependingEntitlement(reference=row.reference, level=row.level, assets=len(row.listed))
        for row in session.scalars(query)
    ]


def _present(rows: Sequence[Level], depending: list[DependingEntitlement]) -> Level | None:
    """The level that the contract's entitlements have."""
    names = [one.level.casefold() for one in depending]
    found = [row for row in rows if row.name.casefold() in names]
    return max(found, key=lambda row: row.rank) if found else None


def _until_end(row: Level, day: date, end: date) -> int | None:
    return None if row.cost_minor is None else round(row.cost_minor * months_between(day, end))


def _rulings(
    session: Session, contract: Contract, rows: Sequence[Level], now: Level | None, day: date
) -> dict[str, list[LevelRuling]]:
    """By the id of each level, the rulings on the contract's assets on a day, if it counted from that day on."""
    _, assets = assets_of(session, contract)
    index = candidate_index_of(session, contract.vendor_id)
    things = [thing_on(one, day) for one in assets if one.status != "retired"][:MOST_RULED]
    concerned = [(thing, index.concerned(thing)) for thing in things]
    shared = set.intersection(*(set(row.needs) for row in rows)) if rows else set()
    needs = sorted({_NEED}.union(*(set(row.needs) - shared for row in rows)))
    found: dict[str, list[LevelRuling]] = {}
    for row in rows:
        routes = Counter(
            (
                need,
                rule(Question(need=need, day=day), thing, _with(row, now, contract, those)).route,
            )
            for thing, those in concerned
            for need in needs
        )
        found[row.id] = [
            LevelRuling(need=need, route=route, assets=count)
            for (need, route), count in sorted(routes.items())
        ]
    return found


def _with(
    level: Level, now: Level | None, contract: Contract, candidates: Iterable[Candidate]
) -> list[Candidate]:
    """The candidates as they would be if the contract's entitlements had a level in the place of the present one."""
    changed = {"level": level.name, "rank": level.rank, "needs": tuple(level.needs)}
    return [
        one.model_copy(update=changed)
        if now is not None and one.contract == contract.number and one.level == now.name
        else one
        for one in candidates
    ]


def _compared(
    row: Level, now: Level | None, cost: int | None, base: int | None, rulings: list[LevelRuling]
) -> LevelCompared:
    mine, theirs = set(row.needs), set(now.needs if now else ())
    return LevelCompared(
        **KINDS["level"].show(row),
        is_now=now is row,
        gains=sorted(mine - theirs) if now else [],
        loses=sorted(theirs - mine) if now else [],
        cost_until_end_minor=cost,
        more_minor=None if cost is None or base is None else cost - base,
        rulings=rulings,
    )
