"""Today: what needs us now, before all else; and finding anything."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

from pydantic import BaseModel, Field
from sqlalchemy import case, func, select
from sqlalchemy.orm import Session, joinedload, selectinload

from sealpacket.app.context import AppContext
from sealpacket.core.life import Life, Turn
from sealpacket.services.liveness import worker_state
from sealpacket.services.packets import briefs
from sealpacket.services.packets.follow import access, shipments, tray
from sealpacket.services.packets.follow.schemas import AccessShown, ShipmentShown, TrayItemShown
from sealpacket.services.packets.inbound_mail import poll
from sealpacket.services.packets.listing import matching
from sealpacket.services.packets.lodge.health import MANY_FAILURES
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.packets.standing import stops_of
from sealpacket.services.register import find_assets
from sealpacket.services.register.forms import AssetShown
from sealpacket.store.models import (
    Asset,
    Contract,
    Desk,
    DeskHealth,
    Entitlement,
    EntitlementAsset,
    Packet,
)


class Ending(BaseModel):
    """A contract that ends within 90 days; `days` from today."""

    contract: str
    vendor: str
    title: str
    ends_on: date
    notice_on: date | None
    days: int
    assets: int


class DeskAwayShown(BaseModel):
    """A desk that is away: since when, why, and how many packets wait for it."""

    desk: str
    since: datetime
    words: str


class Today(BaseModel):
    """Whose turn it is."""

    day: date
    worker: bool = Field(
        description="Whether a worker is there; without one nothing is redacted, sent or followed."
    )
    worker_seen_at: datetime | None
    ours: list[PacketBrief]
    theirs: list[PacketBrief]
    ending: list[Ending]
    tray: list[TrayItemShown] = Field(
        description="Items of the tray: those that claim to be from a desk first, then the oldest."
    )
    tray_count: int = Field(description="Number of items in the tray, including those not listed.")
    desks_away: list[DeskAwayShown] = Field(description="Desks that could not be reached lately.")
    access_overdue: list[AccessShown] = Field(
        description="Access of vendors whose time is over and that nobody has ended."
    )
    shipments_due: list[ShipmentShown] = Field(
        description="Shipments due within a week, and late ones."
    )
    mailbox_trouble: str = Field(description="Why the mailbox cannot be read; empty if it can.")


class Found(BaseModel):
    """Search results."""

    packets: list[PacketBrief]
    assets: list[AssetShown]


_SOON = timedelta(days=90)


def today(app: AppContext) -> Today:
    """Whose turn it is, in what state, and what ends soon."""
    day = datetime.now(UTC).date()
    with app.database.snapshot() as session:
        waiting = list(session.scalars(_WAITING))
        ours = _in_order(app, session, [one for one in waiting if one.turn == Turn.OURS])
        theirs = [briefs.brief(one) for one in waiting if one.turn == Turn.VENDOR]
        ending = _ending(session, day)
        return Today(
            day=day,
            ours=ours,
            theirs=theirs,
            ending=ending,
            tray=tray.listed(app, session),
            tray_count=tray.count(session),
            desks_away=_away(session),
            access_overdue=access.overdue(session),
            shipments_due=shipments.due_soon(session),
            mailbox_trouble=poll.trouble(app, session),
            **worker_state(session),
        )


_WAITING = (
    select(Packet)
    .where(Packet.turn != Turn.NONE)
    .order_by(Packet.updated_at, Packet.number)
    .options(
        joinedload(Packet.asset).options(
            joinedload(Asset.product), joinedload(Asset.vendor), joinedload(Asset.site)
        ),
        selectinload(Packet.messages),
    )
)
"""All that waits for somebody, the oldest first: nothing is left out, however much there is."""
MOST_LOOKED_AT = 100
"""Maximum number of drafts whose stops are counted; others are only listed."""
_URGENT = ("asked", Life.REFUSED, Life.ANSWERED, Life.SEALED, Life.DRAFTING)


def _in_order(app: AppContext, session: Session, packets: list[Packet]) -> list[PacketBrief]:
    """Packets that wait for us: questions of vendors first, then refusals, answers, unsent messages, drafts; within
    each the longest wait first."""
    sorted_ = sorted(packets, key=_urgency)
    drafts = [one for one in sorted_ if one.life == Life.DRAFTING][:MOST_LOOKED_AT]
    stops = stops_of(app, session, drafts)
    return [briefs.brief(one, stops.get(one.id)) for one in sorted_]


def _urgency(packet: Packet) -> int:
    asked = any(message.open_questions for message in packet.messages)
    life = "asked" if asked and packet.life != Life.DRAFTING else packet.life
    return _URGENT.index(life) if life in _URGENT else _URGENT.index(Life.SEALED)


def _away(session: Session) -> list[DeskAwayShown]:
    """Desks that are left alone for a while, because they could not be reached."""
    query = (
        select(DeskHealth, Desk.name)
        .join(Desk, Desk.key == DeskHealth.desk)
        .where(DeskHealth.failures >= MANY_FAILURES)
        .order_by(Desk.name)
    )
    return [
        DeskAwayShown(desk=name, since=health.since or datetime.now(UTC), words=health.words)
        for health, name in session.execute(query)
    ]


def _ending(session: Session, day: date) -> list[Ending]:
    """Contracts that end in the next 90 days, the next notice or end first."""
    listed = (
        select(
            Entitlement.contract_id,
            func.count(EntitlementAsset.asset_id.distinct()).label("assets"),
        )
        .join(EntitlementAsset)
        .group_by(Entitlement.contract_id)
        .subquery()
    )
    to_come = case((Contract.notice_on >= day, Contract.notice_on))
    rows = session.execute(
        select(Contract, listed.c.assets)
        .options(joinedload(Contract.vendor))
        .outerjoin(listed, listed.c.contract_id == Contract.id)
        .where(Contract.ends_on.between(day, day + _SOON))
        .order_by(func.least(to_come, Contract.ends_on), Contract.number)
    )
    return [
        Ending(
            contract=contract.number,
            vendor=contract.vendor.name,
            title=contract.title,
            ends_on=contract.ends_on,
            notice_on=contract.notice_on
            if contract.notice_on and contract.notice_on >= day
            else None,
            days=(contract.ends_on - day).days,
            assets=assets or 0,
        )
        for contract, assets in rows
    ]


def find(app: AppContext, query: str) -> Found:
    """Assets and packets by whatever is known of them."""
    with app.database.snapshot() as session:
        rows = session.scalars(
            select(Packet).where(matching(query)).order_by(Packet.created_at.desc()).limit(8)
        ).all()
        packets = [briefs.brief(row) for row in rows]
        return Found(packets=packets, assets=find_assets(session, query, 8))
