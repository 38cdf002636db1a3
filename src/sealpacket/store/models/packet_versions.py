"""A packet's version moves with everything that is seen of it, also with what other tables hold."""

from __future__ import annotations

from typing import Any, TypeVar

from sqlalchemy import event, inspect, select, update
from sqlalchemy.orm import Session
from sqlalchemy.orm.util import identity_key

from sealpacket.core.life import Life
from sealpacket.store.models.base import Base, now
from sealpacket.store.models.evidence import KitRun, TriedStep
from sealpacket.store.models.notices import PacketInformed
from sealpacket.store.models.packet_parts import (
    PacketDelivery,
    PacketFollowing,
    PacketLegend,
    PacketTicket,
)
from sealpacket.store.models.packets import (
    AccessGrant,
    Asked,
    Exhibit,
    Message,
    Packet,
    PacketCase,
    Shipment,
    VendorFile,
)
from sealpacket.store.models.redaction import DrawnBox, RedactionDecision
from sealpacket.store.models.releasing import PacketRelease

_PROGRESS: dict[type[Base], frozenset[str]] = {
    AccessGrant: frozenset(),
    Asked: frozenset(),
    DrawnBox: frozenset(),
    Exhibit: frozenset({"done", "upload", "arrived"}),
    KitRun: frozenset(),
    Message: frozenset({"begun"}),
    PacketCase: frozenset({"begun", "desk_mark", "desk_said_at"}),
    PacketDelivery: frozenset({"tried"}),
    PacketInformed: frozenset(),
    PacketFollowing: frozenset({"state", "followed_at"}),
    PacketLegend: frozenset(),
    PacketRelease: frozenset(),
    PacketTicket: frozenset({"reported", "tried_at"}),
    RedactionDecision: frozenset(),
    Shipment: frozenset(),
    TriedStep: frozenset(),
    VendorFile: frozenset(),
}
"""The parts of a packet, each with its columns that only say how work on it goes: these move no version."""

_LOCKED = "locked packets"
_CHANGED = "changed packets"

P = TypeVar("P", bound=Base)


def lock_part(session: Session, kind: type[P], ident: str) -> P | None:
    """The part of that id under a lock; None if it is gone.

    The packet's row is locked first, as by every act: a change of the part moves the packet's version, and whoever
    takes the two the other way round waits in a circle with an act on the packet.
    """
    part: Any = kind
    own = select(part.packet_id).where(part.id == ident).scalar_subquery()
    session.execute(select(Packet.id).where(Packet.id == own).with_for_update())
    return session.get(kind, ident, with_for_update=True)


def lock_drafts(session: Session, asset_id: str | None, number: str = "") -> None:
    """Lock the drafts about an asset, and the packet of that number, in an order that is always the same.

    A step that is tried is shown in all of them, so noting it moves all their versions.
    """
    about = (Packet.asset_id == asset_id) & (Packet.life == Life.DRAFTING)
    query = select(Packet.id).where(about | (Packet.number == number.upper()))
    session.execute(query.order_by(Packet.id).with_for_update())


def note_lock(session: Session, packet: Packet) -> None:
    """Note that the session holds the row of a packet, so that its version is the newest."""
    session.info.setdefault(_LOCKED, set()).add(packet.id)


def changed_packets(session: Session) -> set[str]:
    """The ids of the packets that the session's transaction has added or changed, once it is flushed."""
    return session.info.setdefault(_CHANGED, set())  # type: ignore[no-any-return]


@event.listens_for(Session, "after_flush")
def _note_new(session: Session, _context: Any) -> None:
    changed_packets(session).update(one.id for one in session.new if isinstance(one, Packet))


@event.listens_for(Session, "before_flush")
def _renew_versions(session: Session, *_: object) -> None:
    """Give packets a new version whose parts are added, changed or removed in this flush."""
    changed = {
        one.id for one in session.dirty if isinstance(one, Packet) and session.is_modified(one)
    }
    touched: set[str] = set()
    for part in (*session.new, *session.deleted, *session.dirty):
        progress = _PROGRESS.get(type(part))
        if progress is not None and (part not in session.dirty or _differs(part, progress)):
            touched |= _packets_of(session, part)
    touched |= changed
    changed_packets(session).update(touched)
    for ident in sorted(touched):
        packet = session.identity_map.get(identity_key(Packet, ident))
        if packet is not None and (ident in changed or ident in session.info.get(_LOCKED, ())):
            packet.updated_at = now()
            continue
        session.execute(
            update(Packet)
            .where(Packet.id == ident)
            .values(version=Packet.version + 1, updated_at=now())
            .execution_options(synchronize_session=False)
        )
        if packet is not None:
            session.expire(packet, ["version", "updated_at"])


def _differs(part: Base, progress: frozenset[str]) -> bool:
    """Whether a part has changed in more than its progress."""
    state = inspect(part)
    return any(
        state.attrs[name].history.has_changes()
        for name in (*state.mapper.column_attrs.keys(), *state.mapper.relationships.keys())
        if name not in progress
    )


def _packets_of(session: Session, part: Base) -> set[str]:
    """The ids of the packets that show a part. One that is new itself needs no other version."""
    if isinstance(part, Asked):
        part = part.message
    if isinstance(part, DrawnBox):
        part = session.get_one(Exhibit, part.exhibit_id) if part.exhibit_id else part
    ident = getattr(part, "packet_id", None) or getattr(getattr(part, "packet", None), "id", None)
    own = {ident} if ident else set()
    if not isinstance(part, TriedStep):
        return own
    about = Packet.asset_id == (part.asset_id or part.asset.id)
    return own | set(session.scalars(select(Packet.id).where(about, Packet.life == Life.DRAFTING)))
