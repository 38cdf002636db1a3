"""Assets, contacts and desks that somebody has used last or pinned: they are offered first."""

from __future__ import annotations

from collections.abc import Iterator
from enum import StrEnum

from pydantic import BaseModel, Field
from sqlalchemy import delete, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Invalid, NotFound
from sealpacket.services.packets.facts import people_of
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Asset, Desk, DeskSheet, Packet, PacketLine, Person, Pin

EACH = 8
"""Records of a kind that are offered, pinned ones first."""
_LOOKED_AT = 50
MOST_PINS = 50


class UsedKind(StrEnum):
    """A kind of record that is offered, in the order in which kinds are shown."""

    ASSET = "asset"
    PERSON = "person"
    DESK = "desk"


class UsedItem(BaseModel):
    """A record that somebody used last or pinned."""

    kind: UsedKind
    handle: str = Field(description="The id of an asset, the key of a person or desk.")
    name: str = Field(description="Its serial, or its name.")
    beside: str = Field(description="More about it: what it is and where.")
    pinned: bool = Field(description="Whether it was pinned; it stays until it is unpinned.")


def often_used(app: AppContext, actor: Actor) -> list[UsedItem]:
    """Assets, contacts and desks that whoever asks has pinned, then those of their packets that changed last."""
    with app.database.snapshot() as session:
        used, pinned = _used(session, actor), _pinned(session, actor)
        found: list[UsedItem] = []
        for kind in UsedKind:
            handles = dict.fromkeys([*pinned[kind], *used[kind]])
            shown = [*_shown(session, kind, list(handles)[: EACH + len(pinned[kind])])]
            for one in shown:
                one.pinned = one.handle in pinned[kind]
            found += shown[: max(EACH, len(pinned[kind]))]
        return found


def _used(session: Session, actor: Actor) -> dict[UsedKind, list[str]]:
    """Handles of records in the newest packets that somebody looks after."""
    mine = (
        select(PacketLine.packet_id)
        .where(PacketLine.owner == actor.name)
        .order_by(PacketLine.updated_at.desc())
        .limit(_LOOKED_AT)
    )
    rows = session.execute(
        select(Packet.asset_id, Packet.answers, Packet.sealed_answers, Desk.key)
        .outerjoin(DeskSheet, DeskSheet.id == Packet.sheet_id)
        .outerjoin(Desk, Desk.id == DeskSheet.desk_id)
        .where(Packet.id.in_(mine))
        .order_by(Packet.updated_at.desc())
    ).all()
    people = people_of(session)
    named = [
        value
        for _, answers, sealed, _ in rows
        for value in [*answers.values(), *(one.get("value") for one in sealed or ())]
    ]
    return {
        UsedKind.ASSET: [asset for asset, *_ in rows if asset],
        UsedKind.PERSON: [one for one in named if isinstance(one, str) and one in people],
        UsedKind.DESK: [desk for *_, desk in rows if desk],
    }


def _pinned(session: Session, actor: Actor) -> dict[UsedKind, list[str]]:
    found: dict[UsedKind, list[str]] = {kind: [] for kind in UsedKind}
    query = select(Pin).where(Pin.account_id == actor.account_id).order_by(Pin.at)
    for one in session.scalars(query):
        found[UsedKind(one.kind)].append(one.handle)
    return found


def _shown(session: Session, kind: UsedKind, handles: list[str]) -> Iterator[UsedItem]:
    """Records by their handles, in that order; what is gone is left out."""
    if kind == UsedKind.ASSET:
        query = select(Asset).where(Asset.id.in_(handles)).options(*KINDS["asset"].eager)
        found = {
            one.id: (one.serial, f"{one.name or one.product.name}, {one.site.name if one.site else 'no site'}")
            for one in session.scalars(query)
        }  # fmt: skip
    elif kind == UsedKind.PERSON:
        people = session.scalars(select(Person).where(Person.key.in_(handles)))
        found = {one.key: (one.name, one.mail) for one in people}
    else:
        desks = session.scalars(select(Desk).where(Desk.key.in_(handles)))
        found = {one.key: (one.name, one.vendor.name) for one in desks}
    for handle in handles:
        if handle in found:
            name, beside = found[handle]
            yield UsedItem(kind=kind, handle=handle, name=name, beside=beside, pinned=False)


def pin(app: AppContext, actor: Actor, kind: UsedKind, handle: str) -> list[UsedItem]:
    """Pin a record, so that it is offered first until it is unpinned. Raises NotFound, Invalid for too many."""
    with app.database.transaction() as session:
        found = _find(session, kind, handle)
        if sum(map(len, _pinned(session, actor).values())) >= MOST_PINS:
            raise Invalid(f"You have pinned {MOST_PINS} records.", "Unpin one first.")
        made = insert(Pin).values(account_id=actor.account_id, kind=kind, handle=found)
        session.execute(made.on_conflict_do_nothing())
    return often_used(app, actor)


def unpin(app: AppContext, actor: Actor, kind: UsedKind, handle: str) -> list[UsedItem]:
    """Take a pin away; one that is not there is no fault."""
    with app.database.transaction() as session:
        own = (Pin.account_id == actor.account_id) & (Pin.kind == kind)
        found = _find(session, kind, handle, gone=True)
        session.execute(delete(Pin).where(own, Pin.handle == found))
    return often_used(app, actor)


def _find(session: Session, kind: UsedKind, handle: str, *, gone: bool = False) -> str:
    """The handle under which a record is pinned. Raises NotFound, unless it may be `gone`."""
    try:
        if kind == UsedKind.ASSET:
            return str(KINDS["asset"].find(session, handle).id)
        if kind == UsedKind.PERSON:
            return str(KINDS["person"].find(session, handle).key)
        if session.scalar(select(Desk.key).where(Desk.key == handle)):
            return handle
        raise NotFound(f"There is no desk {handle}.", "See the list of desks.")
    except NotFound:
        if gone:
            return handle
        raise
