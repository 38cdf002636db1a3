"""The legend of a packet: kept under a key of its own, opened with a reason, gone for good after settlement.

What is kept under the packet's own key cannot be read by anyone once that key is destroyed, whatever copies of the
files there are. The custody log has the key's fingerprint from its making and from its end.
"""

from __future__ import annotations

from contextlib import suppress
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import func, select

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.core.errors import Conflict
from sealpacket.core.life import Life
from sealpacket.services.packets import workbench
from sealpacket.services.packets.redaction import typed_text
from sealpacket.services.packets.redaction.legend_keys import fingerprint, key_of
from sealpacket.services.packets.redaction.schemas import LegendDestroyed, LegendShown
from sealpacket.services.packets.seal.later_bags import keep_before_destroying
from sealpacket.store.models import Packet, PacketFollowing, PacketLegend

MOST_SHOWN = 20_000


def open_legend(app: AppContext, actor: Actor, number: str, reason: str) -> LegendShown:
    """Show the original of each placeholder, and the desk's messages with originals; the custody log records who
    opened it and why."""
    with app.transaction(actor, "legend opened", f"packet {number}", reason=reason) as tx:
        packet = workbench.find_packet(tx.session, number)
        legend = typed_text.whole_legend(app, packet)
        tx.detail["placeholders"] = total = len(legend)
        texts = legend.resolve(message.text for message in packet.messages)
        return LegendShown(
            total=total,
            placeholders=[
                {"placeholder": placeholder, "value": value}
                for placeholder, value in legend.first_spellings(MOST_SHOWN).items()
            ],
            messages=[
                {"id": message.id, "text": text}
                for message, text in zip(packet.messages, texts, strict=True)
            ],
        )


def destroy(app: AppContext, actor: Actor, number: str) -> LegendDestroyed:
    """Destroy the legend of a packet that is over, now; its thread is kept in a later bag, as the house has chosen.

    Raises Conflict for a packet that is not over, or has no legend any more.
    """
    kept = ""
    try:
        with app.transaction(actor, "legend key destroyed", f"packet {number}") as tx:
            packet = workbench.find_packet(tx.session, number, lock=True)
            key = key_of(app, packet)
            if packet.life != Life.SETTLED:
                raise Conflict(
                    f"{packet.number} is {packet.life}: its legend is needed to read what the desk answers.",
                    "Destroy it when the packet is settled.",
                    code="not-over",
                )
            kept = keep_before_destroying(app, tx.session, packet, actor.name)
            tx.detail = {**_forget(app, tx.session, packet, key), "thread": bool(kept)}
            return LegendDestroyed(
                number=packet.number,
                destroyed_at=packet.legend.destroyed_at,
                fingerprint=fingerprint(key),
            )
    except BaseException:
        app.blobs.remove(kept or None)
        raise


def _forget(app: AppContext, session: Any, packet: Packet, key: bytes) -> dict[str, Any]:
    """Forget the keys and all that was kept under them; what stays for the custody log."""
    legend = packet.legend
    legend.key_sealed, legend.placeholder_key_sealed = None, b""
    legend.destroyed_at = datetime.now(UTC).replace(microsecond=0)
    for exhibit in packet.exhibits:
        app.forget(session, exhibit.legend_blob, exhibit.values_blob)
        exhibit.legend_blob = exhibit.values_blob = None
    for decision in packet.decisions:
        decision.value_sealed = None
    typed_text.forget(packet)
    return {"fingerprint": fingerprint(key), "exhibits": len(packet.exhibits)}


def destroy_due(app: AppContext) -> int:
    """Destroy the legends of packets that were settled longer ago than the house keeps them; gives how many."""
    before = datetime.now(UTC) - timedelta(days=app.settings.legend_days)
    ended = func.coalesce(Packet.settled_at, PacketFollowing.followed_at, Packet.lodged_at)
    with app.database.transaction() as session:
        due = Packet.life == Life.SETTLED, ended < before, PacketLegend.destroyed_at.is_(None)
        numbers = list(
            session.scalars(
                select(Packet.number)
                .join(Packet.following)
                .join(Packet.legend)
                .where(*due)
                .order_by(ended)
                .limit(500)
            )
        )
    done = 0
    for number in numbers:
        with suppress(Conflict):  # its desk opened it again meanwhile, or a person was faster
            destroy(app, WORKER, number)
            done += 1
    return done
