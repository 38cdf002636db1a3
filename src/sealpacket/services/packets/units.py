"""Prepaid units of packets: what a draft would cost, held from sealing on, and used or freed by the answer."""

from __future__ import annotations

import re
from collections.abc import Iterable, Iterator
from datetime import UTC, date, datetime

from sqlalchemy import select
from sqlalchemy.orm import Session

from sealpacket.core.errors import Conflict
from sealpacket.core.life import Life
from sealpacket.core.sheets import Check, Sheet
from sealpacket.core.sheets.checks.result import passed
from sealpacket.core.units import Cost, ItemPrice, LotLeft, cost_of
from sealpacket.core.words import count
from sealpacket.services.agreed.balance import lots_left, price_of
from sealpacket.services.agreed.schemas import UnitsHeld
from sealpacket.services.desks import parsed
from sealpacket.services.packets.bench import Workbench
from sealpacket.store.models import Lot, Packet, UnitEntry


def _asked(bench: Workbench) -> tuple[str, int, date | None] | None:
    """The item, how many, and the wished day; None while they are not answered, or the packet asks for none."""
    rule = bench.sheet.units if bench.sheet else None
    if rule is None:
        return None
    given = {one.question: one.value for one in bench.answers if one.shown and one.value}
    number = re.match(r"\d{1,6}", given.get(rule.quantity) or "")
    item = given.get(rule.item)
    if item is None or number is None:
        return None
    try:
        day = date.fromisoformat((given.get(rule.day) or "")[:10])
    except ValueError:
        day = None
    return item, int(number[0]), day


def _cost(
    session: Session, bench: Workbench, *, lock: bool = False
) -> tuple[ItemPrice, int, Cost, list[LotLeft]] | None:
    asked = _asked(bench)
    if asked is None or bench.sheet is None:
        return None
    item, quantity, day = asked
    vendor = bench.sheet.vendor
    price = price_of(session, vendor, item)
    if price is None:
        return None
    contract = (bench.ruling.contract if bench.ruling else "") or ""
    lots = lots_left(session, vendor, contract, but=bench.packet.id, lock=lock)
    country = bench.facts["site.country"].value if "site.country" in bench.facts else ""
    today = datetime.now(UTC).date()
    return price, quantity, cost_of(price, quantity, day, lots, today, str(country)), lots


def check_units(session: Session, bench: Workbench) -> Iterator[Check]:
    """Whether there are units for a draft, and whether what it asks for can be had so."""
    found = _cost(session, bench)
    if found is None or bench.sheet is None or bench.sheet.units is None:
        return
    price, quantity, cost, lots = found
    for fault in cost.faults:
        yield Check(
            code="units-terms",
            level="stop",
            sentence=fault,
            remedy="Ask for another day or quantity, or correct the price list.",
            act="answer",
            target=bench.sheet.units.day or bench.sheet.units.quantity,
        )
    if cost.short:
        there = count(cost.units - cost.short, "unit")
        yield Check(
            code="units-short",
            level="stop",
            sentence=f"It costs {count(cost.units, 'unit')}, and {there} can be had on that day.",
            remedy="Ask for less, or buy units and enter the lot.",
            act="answer",
            target=bench.sheet.units.quantity,
        )
    elif not cost.faults:
        lots_named = ", ".join(f"{one.units} of lot {one.lot.reference}" for one in cost.taken)
        rest = sum(one.left for one in lots) - cost.units
        yield passed(
            "units",
            f"{quantity} × {price.name} costs {count(cost.units, 'unit')}: {lots_named}. {rest} are left then.",
        )


def hold_units(session: Session, bench: Workbench, by: str) -> int:
    """Hold the units that a packet costs while it is sealed. Raises Conflict if somebody else has taken them."""
    found = _cost(session, bench, lock=True)
    if found is None:
        return 0
    _, _, cost, _ = found
    if cost.short:
        raise Conflict(
            f"{count(cost.short, 'unit is', 'units are')} missing: somebody else has taken them just now.",
            "Look at the stops of the draft again.",
            code="units-short",
        )
    for one in cost.taken:
        session.add(
            UnitEntry(
                lot_id=one.lot.id, packet_id=bench.packet.id, units=one.units, state="held", by=by
            )
        )
    return cost.units


def settle_units(session: Session, packets: Iterable[str]) -> None:
    """Use or free what these packets (ids) hold, by how far they are."""
    ids = list(packets)
    query = (
        select(UnitEntry, Packet)
        .join(Packet, Packet.id == UnitEntry.packet_id)
        .where(UnitEntry.packet_id.in_(ids), UnitEntry.state == "held")
    )
    for entry, packet in session.execute(query):
        state = _state(packet, parsed(packet.sheet)) if packet.sheet else "freed"
        if state != "held":
            entry.state, entry.at = state, datetime.now(UTC)


def _state(packet: Packet, sheet: Sheet) -> str:
    if packet.life in (Life.DRAFTING, Life.REFUSED, Life.WITHDRAWN):
        return "freed"
    rule, said = sheet.units, {one.desk_status for one in packet.cases}
    if rule and said & set(rule.freed_when):
        return "freed"
    if packet.life == Life.SETTLED or (rule and said & set(rule.used_when)):
        return "used"
    return "held"


def units_of(session: Session, packet: Packet) -> list[UnitsHeld]:
    """Units of each lot that a packet holds, has used or has freed."""
    sheet = parsed(packet.sheet) if packet.sheet else None
    query = (
        select(UnitEntry, Lot)
        .join(Lot, Lot.id == UnitEntry.lot_id)
        .where(UnitEntry.packet_id == packet.id)
        .order_by(UnitEntry.id)
    )
    return [
        UnitsHeld(
            lot=lot.reference,
            units=one.units,
            state=_state(packet, sheet) if sheet and one.state == "held" else one.state,
            lapses_on=lot.lapses_on,
        )
        for one, lot in session.execute(query)
    ]
