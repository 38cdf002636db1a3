"""Parts on their way because of a packet, and the serial that changes when a replacement has come."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta
from typing import Any, Literal

from sqlalchemy import insert, select
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
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
from sealpacket.store.models import Asset, Entitlement, EntitlementAsset, Shipment, lock_part

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
) -> PacketShown:
    """Note something that is on its way because of a packet, or has to go back until a day (`due_on`).

    Of what comes to us, carrier and tracking number are those that the desk has told, unless others are given.
    """
    with packet_act(app, actor, "shipment noted", number, way=way, what=what) as act:
        packet = act.packet
        if way == "to_us":
            told = told_of_shipment(packet)
            carrier, tracking = carrier or told.carrier, tracking or told.tracking
        packet.shipments.append(
            Shipment(
                way=way, what=what, carrier=carrier, tracking=tracking, sent_on=sent_on, due_on=due_on,
                by=actor.name,
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
        return show(app, tx.session, one.packet)


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
        packet = act.packet
        old = packet.asset
        if old is None:
            raise Conflict(f"{packet.number} is about no asset.", "Name it first.", code="no-thing")
        kind = KINDS["asset"]
        shown = kind.show(old)
        was = old.serial
        rewrite(
            app, act.session, kind, old,
            {"status": "retired", "placed_on": day, "host_names": [], "addresses": []},
        )  # fmt: skip
        noted(act.tx, actor, kind, old, "swapped out")
        kept = ("name", "site", "software_version", "host_names", "addresses")
        form = AssetForm(
            vendor=old.vendor.key, product=old.product.part_number, serial=serial, installed_on=day,
            notes=f"In the place of {was} since {day} ({packet.number}); its warranty goes on.",
            shipped_on=old.shipped_on or old.installed_on,
            **{field: shown[field] for field in kept if shown.get(field)},
        )  # fmt: skip
        new = added(app, act.session, kind, form)
        noted(act.tx, actor, kind, new, "swapped in")
        moved = _move_cover(act.session, actor, old, new, day)
        act.detail = {"old": was, "new": serial, "entitlements": moved}
    return act.shown


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
