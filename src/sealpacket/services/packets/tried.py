"""Steps tried on an asset: noted with a packet, kept with the asset."""

from __future__ import annotations

from datetime import UTC, datetime, timedelta

from sqlalchemy import select

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.services.packets import workbench
from sealpacket.services.packets.asset_context import TriedShown, show_tried, tried_of
from sealpacket.services.packets.exhibits import find_exhibit
from sealpacket.store.database import forgotten
from sealpacket.store.models import Packet, TriedStep, lock_drafts


def tried(
    app: AppContext,
    actor: Actor,
    number: str,
    *,
    step: str,
    result: str,
    at: datetime | None,
    exhibit: str,
) -> TriedShown:
    """Note a step that was tried on a packet's asset. It is kept with the asset and shown in its packets. Raises
    Invalid for a time without an offset or in the future, or a packet without an asset."""
    moment = at or datetime.now(UTC)
    if moment.tzinfo is None:
        raise Invalid(
            "The moment has no offset.", "Write it as 2026-11-23T08:40+00:00.", field="at"
        )
    if moment > datetime.now(UTC) + timedelta(minutes=5):
        raise Invalid("It cannot have been tried in the future.", "Correct the moment.", field="at")
    with app.transaction(actor, "step tried", f"packet {number}", step=step[:200]) as tx:
        about = select(Packet.asset_id).where(Packet.number == number.upper())
        lock_drafts(tx.session, tx.session.scalar(about), number)
        packet = workbench.find_packet(tx.session, number, lock=True)
        if packet.asset is None:
            raise Invalid(
                f"{packet.number} does not say what it is about.", "Name the asset first."
            )
        shown_by = find_exhibit(packet, exhibit).name if exhibit else ""
        one = TriedStep(
            asset=packet.asset, packet=packet, step=step, result=result, at=moment, by=actor.name
        )
        one.exhibit = shown_by
        tx.session.add(one)
        tx.session.flush()
        forgotten(tx.session, tried_of(packet.asset))
        return show_tried(one)


def untry(app: AppContext, actor: Actor, ident: str) -> None:
    """Take back what was noted as tried. Raises NotFound."""
    with app.transaction(actor, "tried step removed", "asset") as tx:
        one = tx.session.get(TriedStep, ident)
        if one is None:
            raise NotFound("There is no such step.", "Open the thing again.")
        lock_drafts(tx.session, one.asset_id)
        tx.subject = f"asset {one.asset.serial}"
        tx.detail["step"] = one.step[:200]
        tx.session.delete(one)
        forgotten(tx.session, tried_of(one.asset))
