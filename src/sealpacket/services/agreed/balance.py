"""The balance of prepaid units: lots, prices, what packets hold, and what will lapse."""

from __future__ import annotations

from collections.abc import Iterable, Sequence
from datetime import UTC, date, datetime, timedelta
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.core.sheets.hours import read_week
from sealpacket.core.sheets.model import DAYS
from sealpacket.core.units import Cost, ItemPrice, LotLeft, cost_of, will_lapse
from sealpacket.core.words import count
from sealpacket.services.register.acts import keep_version, of_vendor, touch
from sealpacket.services.register.agreed_forms import LotShown
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Contract, Lot, Packet, Price, UnitEntry

_YEAR = timedelta(days=365)


class LotBalance(LotShown):
    """A lot with what will lapse of it unused, if units go on being used as in the last year."""

    will_lapse: int = Field(description="Units of it that will lapse unused at that pace.")


class UnitBalance(BaseModel):
    """The balance of prepaid units: of all lots, or of those of a vendor or contract."""

    left: int = Field(description="Units that can still be asked for.")
    held: int = Field(description="Units that packets under way hold.")
    used_in_a_year: int = Field(description="Units used in the last 365 days.")
    will_lapse: int = Field(description="Units that will lapse unused at that pace.")
    lots: list[LotBalance] = Field(description="The lots, the one that lapses first first.")


class LotPart(BaseModel):
    """Units that a request takes of a lot."""

    lot: str = Field(description="The reference of the lot.")
    units: int = Field(description="How many it takes.")
    lapses_on: date = Field(description="The last day on which they can be used.")


class UnitCost(BaseModel):
    """The cost of a request in prepaid units."""

    item: str = Field(description="The item of the price list.")
    name: str = Field(description="Its name.")
    quantity: int = Field(description="How many are asked for.")
    each: int = Field(description="The units for one.")
    units: int = Field(description="The units for all.")
    short: int = Field(description="How many units are missing; 0: there are enough.")
    left: int = Field(description="Units left after it.")
    lots: list[LotPart] = Field(description="The lots that it takes units of.")
    faults: list[str] = Field(description="Why it cannot be had so; empty: it can.")


class UnitEntryShown(BaseModel):
    """Units of a lot that were held, used or freed."""

    units: int = Field(description="How many units.")
    state: str = Field(description="Whether they are held, used or freed.")
    packet: str = Field(description="The number of the packet; empty: entered by hand.")
    text: str = Field(description="The reason of an entry by hand.")
    at: datetime = Field(description="Since when.")
    by: str = Field(description="Who did it.")


class StatementLine(BaseModel):
    """A line of a vendor's statement: the units used of a lot."""

    lot: str = Field(max_length=200, description="The reference of the lot.")
    used: int = Field(ge=0, le=10**9, description="The units used by the vendor's count.")


class StatementDifference(BaseModel):
    """A lot on which the vendor's statement and we differ."""

    lot: str = Field(description="The reference of the lot.")
    ours: int | None = Field(description="Units used by our count; null: we have no such lot.")
    theirs: int | None = Field(description="Units used by the vendor's; null: it does not name it.")
    held: int = Field(description="Units that our packets hold: the vendor may count them.")


def unit_balance(app: AppContext, *, vendor: str = "", contract: str = "") -> UnitBalance:
    """The balance of prepaid units, of all lots or of those of a vendor or contract."""
    today = datetime.now(UTC).date()
    with app.database.transaction() as session:
        query = select(Lot).options(*KINDS["lot"].eager).order_by(Lot.lapses_on, Lot.reference)
        if vendor:
            query = of_vendor(KINDS["lot"], query, vendor)
        if contract:
            query = query.where(Lot.contract_id == KINDS["contract"].find(session, contract).id)
        rows = session.scalars(query).unique().all()
        shown = [KINDS["lot"].show(row) for row in rows]
        used = _used_since(session, [row.id for row in rows], today - _YEAR)
        lots = [_left(row, one["left"]) for row, one in zip(rows, shown, strict=True)]
        lapsing = will_lapse(lots, used, today)
        return UnitBalance(
            left=sum(one["left"] for one in shown),
            held=sum(one["held"] for one in shown),
            used_in_a_year=used,
            will_lapse=sum(lapsing.values()),
            lots=[LotBalance(**one, will_lapse=lapsing.get(one["id"], 0)) for one in shown],
        )


def _used_since(session: Session, lots: Sequence[str], day: date) -> int:
    query = select(func.coalesce(func.sum(UnitEntry.units), 0)).where(
        UnitEntry.lot_id.in_(lots), UnitEntry.state == "used", UnitEntry.at >= day
    )
    return int(session.scalar(query) or 0)


def _left(row: Lot, left: int) -> LotLeft:
    return LotLeft(row.id, row.reference, left, row.bought_on, row.lapses_on)


def unit_cost(
    app: AppContext,
    *,
    vendor: str,
    item: str,
    quantity: int = 1,
    on: date | None = None,
    contract: str = "",
    country: str = "",
) -> UnitCost:
    """The cost of an item on a day, and whether there are units for it. Raises NotFound for an unknown item."""
    with app.database.transaction() as session:
        price = price_of(session, vendor, item)
        if price is None:
            raise NotFound(
                f"The price list of {vendor} has no {item}.", f"List it: sealpacket price list --vendor {vendor}"
            )  # fmt: skip
        lots = lots_left(session, vendor, contract)
        today = datetime.now(UTC).date()
        return show_cost(price, quantity, cost_of(price, quantity, on, lots, today, country), lots)


def show_cost(price: ItemPrice, quantity: int, cost: Cost, lots: Iterable[LotLeft]) -> UnitCost:
    """A cost with what is left after it."""
    return UnitCost(
        item=price.item, name=price.name, quantity=quantity, each=price.units, units=cost.units, short=cost.short,
        left=sum(one.left for one in lots) - cost.units + cost.short,
        lots=[LotPart(lot=one.lot.reference, units=one.units, lapses_on=one.lot.lapses_on) for one in cost.taken],
        faults=list(cost.faults),
    )  # fmt: skip


def price_of(session: Session, vendor: str, item: str) -> ItemPrice | None:
    """The price of an item of a vendor's list."""
    query = of_vendor(KINDS["price"], select(Price).where(Price.item == item), vendor)
    row = session.scalars(query).one_or_none()
    if row is None:
        return None
    return ItemPrice(
        row.item, row.name, row.units, row.countries, row.during, _weekdays(row.hours),
        row.notice_days, row.most,
    )  # fmt: skip


def _weekdays(hours: str) -> frozenset[int]:
    """The weekdays of hours; none if they do not say when."""
    try:
        week = read_week(hours)
    except ValueError:
        return frozenset()
    return frozenset(DAYS.index(day) for day in week or ())


def lots_left(
    session: Session, vendor: str, contract: str = "", *, but: str = "", lock: bool = False
) -> list[LotLeft]:
    """The lots of a vendor, or of one of its contracts, with what is left of each.

    What the packet `but` (its id) holds counts as left. With `lock`, nobody else takes units of them meanwhile.
    """
    query = of_vendor(KINDS["lot"], select(Lot).order_by(Lot.id), vendor)
    if contract:
        query = query.join(Lot.contract).where(Contract.number == contract)
    rows = session.scalars(query.with_for_update(of=Lot) if lock else query).all()
    taken = select(UnitEntry.lot_id, func.sum(UnitEntry.units)).where(
        UnitEntry.lot_id.in_([row.id for row in rows]), UnitEntry.state != "freed"
    )
    if but:
        taken = taken.where(UnitEntry.packet_id.is_distinct_from(but))
    gone: dict[str, int] = dict(session.execute(taken.group_by(UnitEntry.lot_id)).all())
    return [_left(row, row.units - gone.get(row.id, 0)) for row in rows]


def lot_entries(app: AppContext, handle: str) -> list[UnitEntryShown]:
    """Entries of a lot: units held, used and freed, the newest first."""
    with app.database.transaction() as session:
        row = KINDS["lot"].find(session, handle)
        query = (
            select(UnitEntry, Packet.number)
            .outerjoin(Packet, Packet.id == UnitEntry.packet_id)
            .where(UnitEntry.lot_id == row.id)
            .order_by(UnitEntry.at.desc(), UnitEntry.id.desc())
        )
        return [
            UnitEntryShown(
                units=one.units, state=one.state, packet=number or "", text=one.text, at=one.at, by=one.by
            )
            for one, number in session.execute(query)
        ]  # fmt: skip


def use_units(app: AppContext, actor: Actor, handle: str, units: int, text: str) -> dict[str, Any]:
    """Enter units of a lot that were used without a packet. Raises Invalid if the lot has fewer."""
    with app.transaction(actor, "units used", "lot", units=units, text=text) as tx:
        kind = KINDS["lot"]
        row = kind.find(tx.session, handle)
        tx.session.execute(select(Lot.id).where(Lot.id == row.id).with_for_update())
        tx.session.expire(row)
        left = kind.show(row)["left"]
        if units > left:
            raise Invalid(
                f"Lot {row.reference} has {count(left, 'unit')} left.", "Enter fewer, or use another lot.",
                field="units",
            )  # fmt: skip
        entry = UnitEntry(lot_id=row.id, units=units, state="used", text=text, by=actor.name)
        tx.session.add(entry)
        touch(tx.session, row)
        row = kind.find(tx.session, row.id)
        keep_version(tx.session, kind, row, actor.name, "units used")
        tx.subject = f"lot {row.id}"
        return kind.show(row)


def compare_statement(
    app: AppContext, vendor: str, lines: Sequence[StatementLine]
) -> list[StatementDifference]:
    """Compare a vendor's statement of used units with ours: the lots on which both differ."""
    theirs = {line.lot: line.used for line in lines}
    ours = {one.reference: one for one in unit_balance(app, vendor=vendor).lots}
    return [
        StatementDifference(
            lot=name,
            ours=ours[name].used if name in ours else None,
            theirs=theirs.get(name),
            held=ours[name].held if name in ours else 0,
        )
        for name in sorted({*ours, *theirs})
        if name not in ours or theirs.get(name) != ours[name].used
    ]
