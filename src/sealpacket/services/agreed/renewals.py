"""Renewals: a term beside the one before and beside what was used of it, and what is decided by the notice day."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, date, datetime, timedelta
from enum import StrEnum

from pydantic import BaseModel, Field
from sqlalchemy import ColumnElement, and_, func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.coverage import Need, Question, rule
from sealpacket.core.coverage.asking import Asking
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.life import OVER, Life
from sealpacket.core.money import months_between
from sealpacket.services.contracts import assets_of, gaps_of
from sealpacket.services.coverage import candidate_index_of, thing_on
from sealpacket.services.packets.acting import show
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import (
    Asset,
    Contract,
    ContractTerm,
    Lot,
    Packet,
    PacketLine,
    RenewalDecision,
    UnitEntry,
)

MOST_NAMED = 20
_DAY = timedelta(days=1)
_NEED: Need = "fault"


class RenewalChoice(StrEnum):
    """A decision about the end of a term."""

    RENEW = "renew"
    CANCEL = "cancel"
    LET_END = "let_end"


class RenewalWanted(StrEnum):
    """A request to a vendor before the end of a term."""

    QUOTE = "quote"
    CANCELLATION = "cancellation"


_ASKED = {
    RenewalWanted.QUOTE: Asking(
        "question", "Quote for the renewal of our contract",
        "Please send us a quote for the renewal of this contract, from the day after its end, for what it covers now.",
    ),
    RenewalWanted.CANCELLATION: Asking(
        "question", "We cancel our contract",
        "We cancel this contract at the end of its present term. Please confirm it and its day in writing.",
    ),
}  # fmt: skip


class TermCost(BaseModel):
    """A term of a contract and its cost."""

    starts_on: date
    ends_on: date
    cost_minor: int | None
    currency: str | None
    a_month_minor: int | None = Field(
        description="The cost of a month of it, in minor units; null: not known."
    )


class NeedCount(BaseModel):
    """How many packets there were of a kind of need."""

    need: Need
    packets: int = Field(description="How many packets.")


class RenewalDecided(BaseModel):
    """The decision about the end of a term."""

    decision: RenewalChoice
    reason: str
    quote_minor: int | None = Field(description="The quoted cost, in minor units; null: none.")
    currency: str | None
    by: str
    at: datetime


class RenewalAsked(BaseModel):
    """A packet that asks the vendor for a quote or a cancellation; its bag and reference are the proof."""

    packet: str = Field(description="The packet's number.")
    wanted: RenewalWanted
    life: Life
    reference: str | None
    lodged_at: datetime | None = Field(description="When the vendor had it; null: not yet.")


class RenewalCompared(BaseModel):
    """The present term of a contract, what was used of it, and what is decided about its end."""

    contract: str = Field(description="The number of the contract.")
    notice_on: date | None
    days_to_notice: int | None = Field(
        description="Days until notice has to be given; below 0: that is over; null: no such day."
    )
    term: TermCost
    former: TermCost | None = Field(description="The term before; null: there was none.")
    quote_percent: float | None = Field(
        description="How much more a month the quote is than this term, in percent; null: not known."
    )
    packets: list[NeedCount] = Field(description="Packets that went by it in this term.")
    units_used: int = Field(description="Prepaid units of it used in this term.")
    units_left: int = Field(description="Prepaid units of it left.")
    assets: int = Field(description="How many assets it covers.")
    assets_asked: int = Field(description="How many of them had a packet in this term.")
    retired: list[str] = Field(description="Serials of retired assets that it still lists.")
    uncovered: int = Field(description="Assets that nothing else covers after its end.")
    uncovered_serials: list[str] = Field(description="The serials of the first of them.")
    gap_days: int = Field(description="Days without cover between its terms.")
    decision: RenewalDecided | None
    asked: list[RenewalAsked] = Field(description="Packets that ask for a quote or cancel it.")


def compare_renewal(app: AppContext, handle: str) -> RenewalCompared:
    """Compare the present term of a contract with the one before, and with what was used of it."""
    with app.database.transaction() as session:
        return _compared(session, KINDS["contract"].find(session, handle))


def decide_renewal(
    app: AppContext,
    actor: Actor,
    handle: str,
    decision: RenewalChoice,
    *,
    quote_minor: int | None = None,
    currency: str | None = None,
    reason: str = "",
) -> RenewalCompared:
    """Keep what is decided about the end of a contract's present term, with the quote; an earlier decision is replaced.

    Raises Invalid if the quote has no currency.
    """
    if (quote_minor is None) != (currency is None):
        raise Invalid("A quote has a currency.", "Give both, or neither.", field="currency")
    with app.transaction(actor, "renewal decided", "contract", decision=decision.value) as tx:
        row: Contract = KINDS["contract"].find(tx.session, handle)
        tx.subject = f"contract {row.id}"
        tx.detail |= {"called": row.number, "ends_on": row.ends_on.isoformat()}
        tx.session.merge(
            RenewalDecision(
                contract_id=row.id, ends_on=row.ends_on, decision=decision.value, quote_minor=quote_minor,
                currency=currency, reason=reason, by=actor.name, at=datetime.now(UTC),
            )
        )  # fmt: skip
        tx.session.flush()
        return _compared(tx.session, row)


def ask_renewal(app: AppContext, actor: Actor, handle: str, wanted: RenewalWanted) -> PacketShown:
    """Note a packet that asks the vendor for a quote, or cancels the contract at the end of its term.

    Raises Conflict if an open packet asks for it already, or if the contract covers no asset.
    """
    asking = _ASKED[wanted]
    with app.transaction(actor, "packet noted", "packet", renewal=wanted.value) as tx:
        row: Contract = KINDS["contract"].find(tx.session, handle)
        same = (one for one in _asked(tx.session, row) if one.wanted is wanted)
        if open_one := next((one for one in same if one.life not in OVER), None):
            raise Conflict(
                f"{open_one.packet} asks for it already.",
                f"Go on with {open_one.packet}.",
                code="asked-already",
            )
        _, assets = assets_of(tx.session, row)
        about = next((one for one in assets if one.status != "retired"), None)
        if about is None:
            raise Conflict(
                f"Contract {row.number} covers no asset of ours.",
                "Note a packet about one of the vendor's assets.",
                code="no-thing",
            )
        noted = Packet(
            title=asking.title,
            note=asking.text,
            need=asking.need,
            for_contract=row,
            for_cure=wanted.value,
        )
        made = drafts.new_packet(app, tx, actor, noted, about.id)
        return show(app, tx.session, made)


def _compared(session: Session, row: Contract) -> RenewalCompared:
    now = datetime.now(UTC)
    count, assets = assets_of(session, row)
    uncovered = _uncovered(session, row, assets)
    decision = session.get(RenewalDecision, (row.id, row.ends_on))
    former = max(row.former_terms, key=lambda one: one.ends_on, default=None)
    term = _term(row)
    lots = select(Lot).where(Lot.contract_id == row.id).options(*KINDS["lot"].eager)
    return RenewalCompared(
        contract=row.number,
        notice_on=row.notice_on,
        days_to_notice=(row.notice_on - now.date()).days if row.notice_on else None,
        term=term,
        former=_term(former) if former else None,
        quote_percent=_percent(term, decision),
        packets=_packets(session, row),
        units_used=_units_used(session, row),
        units_left=sum(KINDS["lot"].show(lot)["left"] for lot in session.scalars(lots)),
        assets=count,
        assets_asked=_asked_about(session, row),
        retired=[one.serial for one in assets if one.status == "retired"],
        uncovered=len(uncovered),
        uncovered_serials=uncovered[:MOST_NAMED],
        gap_days=_gap_days(row),
        decision=_shown(decision),
        asked=_asked(session, row),
    )


def _term(term: Contract | ContractTerm) -> TermCost:
    cost = term.cost_minor
    months = months_between(term.starts_on, term.ends_on)
    return TermCost(
        starts_on=term.starts_on,
        ends_on=term.ends_on,
        cost_minor=cost,
        currency=term.currency,
        a_month_minor=None if cost is None or not months else round(cost / months),
    )


def _percent(term: TermCost, decision: RenewalDecision | None) -> float | None:
    """How much more the quote is than the present term costs, in percent; both for a term as long."""
    if decision is None or decision.quote_minor is None or not term.cost_minor:
        return None
    if decision.currency != term.currency:
        return None
    return round((decision.quote_minor / term.cost_minor - 1) * 100, 1)


def _in_term(row: Contract) -> ColumnElement[bool]:
    begun = datetime(row.starts_on.year, row.starts_on.month, row.starts_on.day, tzinfo=UTC)
    return and_(
        PacketLine.contract == row.number,
        PacketLine.vendor == row.vendor.key,
        PacketLine.created_at >= begun,
        PacketLine.packet_id.not_in(
            select(Packet.id).where(Packet.for_contract_id.is_not(None))
        ),  # not about the contract itself
    )


def _packets(session: Session, row: Contract) -> list[NeedCount]:
    query = select(PacketLine.need, func.count()).where(_in_term(row)).group_by(PacketLine.need)
    rows = session.execute(query.order_by(func.count().desc(), PacketLine.need)).all()
    return [NeedCount(need=need, packets=packets) for need, packets in rows]


def _asked_about(session: Session, row: Contract) -> int:
    query = select(func.count(PacketLine.asset_id.distinct())).where(_in_term(row))
    return session.scalar(query) or 0


def _units_used(session: Session, row: Contract) -> int:
    query = (
        select(func.sum(UnitEntry.units))
        .join(Lot, Lot.id == UnitEntry.lot_id)
        .where(
            Lot.contract_id == row.id,
            UnitEntry.state == "used",
            func.date(UnitEntry.at) >= row.starts_on,
        )
    )
    return int(session.scalar(query) or 0)


def _uncovered(session: Session, row: Contract, assets: Iterable[Asset]) -> list[str]:
    """Serials of assets that nothing else covers on the day after the end of the contract."""
    index = candidate_index_of(session, row.vendor_id)
    question = Question(need=_NEED, day=row.ends_on + timedelta(days=row.grace_days) + _DAY)
    found = []
    for asset in assets:
        if asset.status == "retired":
            continue
        thing = thing_on(asset, question.day)
        others = [one for one in index.concerned(thing) if one.contract != row.number]
        if rule(question, thing, others).route in ("none", "paid"):
            found.append(asset.serial)
    return found


def _gap_days(row: Contract) -> int:
    return sum((gap["before"] - gap["after"]).days - 1 for gap in gaps_of(row))


def _asked(session: Session, row: Contract) -> list[RenewalAsked]:
    query = select(Packet).where(Packet.for_contract_id == row.id)
    return [
        RenewalAsked(
            packet=one.number,
            wanted=RenewalWanted(one.for_cure),
            life=one.life,
            reference=one.reference,
            lodged_at=one.lodged_at,
        )
        for one in session.scalars(query.order_by(Packet.created_at.desc()))
    ]


def _shown(decision: RenewalDecision | None) -> RenewalDecided | None:
    if decision is None:
        return None
    return RenewalDecided(
        decision=RenewalChoice(decision.decision),
        reason=decision.reason,
        quote_minor=decision.quote_minor,
        currency=decision.currency,
        by=decision.by,
        at=decision.at,
    )
