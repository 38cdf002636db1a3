"""Parts on their way because of a packet, and the serial that changes when a replacement has come."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any, Literal

from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext, AuditedTransaction
from sealpacket.core.errors import Conflict, Invalid, NotFound
from sealpacket.services.packets import serialize
from sealpacket.services.packets.acting import packet_act, show
from sealpacket.services.packets.follow.possible import told_of_shipment
from sealpacket.services.packets.follow.schemas import ShipmentShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.register import KINDS
from sealpacket.services.register.acts import added, keep_version, noted, rewrite, touch
from sealpacket.services.register.dated import close_listing
from sealpacket.services.register.forms import AssetForm
from sealpacket.services.register.kinds import LISTED
from sealpacket.store.models import (
    Asset,
    Entitlement,
    EntitlementAsset,
    Packet,
    Shipment,
    lock_part,
)

SOON = timedelta(days=7)


def note_shipment(
    app: AppContext,
    actor: Actor,
    number: str,
    way: Literal["to_us", "to_vendor"],
    what: str,
    *,
    carrier: str = "",
    tracking: str = "",
    sent_on: date | None = None,
    due_on: date | None = None,
    late_cost_minor: int | None = None,
    currency: str | None = None,
) -> PacketShown:
    """Note something that is on its way because of a packet, or has to go back until a day (`due_on`).

    Of what comes to us, carrier and tracking number are those that the desk has told, unless others are given; of what
    goes back, the last day. `late_cost_minor` is what the vendor charges after it, in minor units of `currency`.
    """
    if (late_cost_minor is None) != (currency is None):
        raise Invalid("A cost has a currency.", "Give both, or neither.", field="currency")
    with packet_act(app, actor, "shipment noted", number, way=way, what=what) as act:
        packet = act.packet
        told = told_of_shipment(packet)
        if way == "to_us":
            carrier, tracking = carrier or told.carrier, tracking or told.tracking
        else:
            due_on = due_on or told.return_by
        packet.shipments.append(
            Shipment(
                way=way, what=what, carrier=carrier, tracking=tracking, sent_on=sent_on, due_on=due_on,
                late_cost_minor=late_cost_minor, currency=currency, by=actor.name,
            )
        )  # fmt: skip
    return act.shown


def receive_shipment(
    app: AppContext, actor: Actor, ident: str, on: date | None = None
) -> PacketShown:
    """Note that a shipment has arrived, where it goes to. Raises NotFound, Conflict if it has arrived already,
    Invalid for a day before it was sent."""
    day = on or datetime.now(UTC).date()
    with app.transaction(actor, "shipment arrived", "shipment", on=day.isoformat()) as tx:
        one = _arrive(tx, ident, day)
        return show(app, tx.session, one.packet)


def receive_unit(
    app: AppContext, actor: Actor, ident: str, label: str, on: date | None = None
) -> PacketShown:
    """Note that a replacement has arrived, check it by its label, and swap it for the packet's asset in one step.

    `label` is the text of a code on the unit, as a scanner gives it, or its serial. Raises Conflict, and changes
    nothing, if the label is not that of the unit that is expected; otherwise as `receive_shipment` and `swap_serial`.
    """
    day = on or datetime.now(UTC).date()
    with app.transaction(actor, "shipment arrived", "shipment", on=day.isoformat()) as tx:
        one = _arrive(tx, ident, day)
        if one.way != "to_us":
            raise Invalid(
                "This shipment goes to the vendor.", "Choose the one that comes to us.", field="way"
            )
        serial = _serial_on(label, one.packet)
        swapped = _swap(app, tx, actor, one.packet, serial, day)
        tx.subject = f"packet {one.packet.number}"
        tx.detail = {"on": day.isoformat(), "what": one.what, **swapped}
        return show(app, tx.session, one.packet)


def _arrive(tx: AuditedTransaction, ident: str, day: date) -> Shipment:
    one = lock_part(tx.session, Shipment, ident)
    if one is None:
        raise NotFound("There is no such shipment.", "Open the packet again.")
    if one.arrived_on is not None:
        raise Conflict(
            f"It arrived on {one.arrived_on}.", "Look at it again.", code="arrived-before"
        )
    if one.sent_on and day < one.sent_on:
        raise Invalid("It would arrive before it was sent.", "Check the day.", field="on")
    one.arrived_on = day
    tx.subject, tx.detail["what"] = f"packet {one.packet.number}", one.what
    return one


def _serial_on(label: str, packet: Packet) -> str:
    """The serial on a replacement's label: the expected one, of the same model, and not the old one."""
    from sealpacket.core.labels import meaning

    said = meaning(label)
    told, old = told_of_shipment(packet).serial, packet.asset
    serials = [one.strip() for one in said.serials if one.strip()]
    if not serials:
        raise Invalid("The label names no serial.", "Scan the one with the serial.", field="label")
    expected = [one for one in serials if one.casefold() == told.casefold()]
    if told and not expected:
        raise Conflict(
            f"The label says {serials[0]}; the vendor has sent {told}.",
            "Scan the right label, or ask the vendor.",
            code="other-unit",
        )
    serial = (expected or serials)[0]
    if old is not None and serial.casefold() == old.serial.casefold():
        raise Conflict(
            f"{serial} is the unit that is replaced.", "Scan the new one.", code="same-unit"
        )
    model = old.product.part_number if old else ""
    if old is not None and said.products and model not in said.products:
        raise Conflict(
            f"The label says model {said.products[0]}; {old.serial} is {model}.",
            "If that is right, swap the serial and change the model.",
            code="other-model",
        )
    return serial


def swap_serial(
    app: AppContext, actor: Actor, number: str, serial: str, from_on: date | None = None
) -> PacketShown:
    """Put a replacement into the register in the place of the packet's asset, from a day on; its cover moves with it.
    Raises Conflict if the packet has no asset.

    The maker's warranty goes on from the day on which it began: the replacement counts as shipped when the first one
    was. The old asset is retired, with its packets and history; names and addresses go to the new one.
    """
    day = from_on or datetime.now(UTC).date()
    with packet_act(app, actor, "serial swapped", number, serial=serial) as act:
        act.detail = _swap(app, act.tx, actor, act.packet, serial, day)
    return act.shown


def _swap(
    app: AppContext, tx: AuditedTransaction, actor: Actor, packet: Packet, serial: str, day: date
) -> dict[str, Any]:
    """Swap the packet's asset; the old and the new serial, and the entitlements whose cover moved."""
    old = packet.asset
    if old is None:
        raise Conflict(f"{packet.number} is about no asset.", "Name it first.", code="no-thing")
    kind = KINDS["asset"]
    shown = kind.show(old)
    was = old.serial
    rewrite(
        app, tx.session, kind, old,
        {"status": "retired", "placed_on": day, "host_names": [], "addresses": []},
    )  # fmt: skip
    noted(tx, actor, kind, old, "swapped out")
    kept = ("name", "site", "software_version", "host_names", "addresses")
    form = AssetForm(
        vendor=old.vendor.key, product=old.product.part_number, serial=serial, installed_on=day,
        notes=f"In the place of {was} since {day} ({packet.number}); its warranty goes on.",
        shipped_on=old.shipped_on or old.installed_on,
        **{field: shown[field] for field in kept if shown.get(field)},
    )  # fmt: skip
    new = added(app, tx.session, kind, form)
    noted(tx, actor, kind, new, "swapped in")
    moved = _move_cover(tx.session, actor, old, new, day)
    return {"old": was, "new": serial, "entitlements": moved}


def _move_cover(session: Session, actor: Actor, old: Asset, new: Asset, day: date) -> list[str]:
    """List the new asset wherever the old one is listed on that day or later; the references of these entitlements."""
    query = (
        select(Entitlement, EntitlementAsset)
        .join(EntitlementAsset, EntitlementAsset.entitlement_id == Entitlement.id)
        .where(EntitlementAsset.asset_id == old.id, Entitlement.ends_on >= day)
    )
    moved: list[str] = []
    for entitlement, item in session.execute(query).all():
        if item.until_on is not None and item.until_on < day:
            continue
        until = item.until_on
        close_listing(session, entitlement, item, day)
        row: dict[str, Any] = {
            "entitlement_id": entitlement.id,
            "asset_id": new.id,
            "from_on": day if day > entitlement.starts_on else None,
            "until_on": until,
        }
        session.execute(insert(LISTED.table), [row])
        touch(session, entitlement)
        keep_version(session, KINDS["entitlement"], entitlement, actor.name, "changed")
        moved.append(entitlement.reference)
    return moved


def due_soon(session: Session) -> list[ShipmentShown]:
    """Shipments due within a week, and late ones."""
    until = datetime.now(UTC).date() + SOON
    query = select(Shipment).where(Shipment.arrived_on.is_(None), Shipment.due_on <= until)
    return [
        serialize.show_shipment(one) for one in session.scalars(query.order_by(Shipment.due_on))
    ]
