"""Today: all that needs us now, the most urgent first."""

from __future__ import annotations

from datetime import UTC, date, datetime, timedelta

from pydantic import BaseModel, Field
from sqlalchemy import ColumnElement, case, exists, func, or_, select, true
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.attention import ORDER, Attention
from sealpacket.services.agreed.renewals import RenewalChoice
from sealpacket.services.liveness import worker_state
from sealpacket.services.packets import briefs, listing
from sealpacket.services.packets.follow import access, shipments, tray
from sealpacket.services.packets.follow.schemas import AccessShown, ShipmentShown, TrayItemShown
from sealpacket.services.packets.inbound_mail import poll
from sealpacket.services.packets.lodge.health import MANY_FAILURES
from sealpacket.services.packets.releasing import ReleaseAsked, waiting_for
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.vendor_health import VendorReportShown, ours_now
from sealpacket.store.models import (
    Asset,
    Contract,
    Desk,
    DeskHealth,
    Entitlement,
    EntitlementAsset,
    PacketLine,
    RenewalDecision,
    Site,
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
    decision: RenewalChoice | None = Field(
        description="The decision about its end; null: none yet."
    )


class DeskAwayShown(BaseModel):
    """A desk that is away: since when, why, and how many packets wait for it."""

    desk: str
    since: datetime
    words: str


class AttentionCount(BaseModel):
    """How many packets need us for one reason."""

    attention: Attention = Field(description="The reason.")
    packets: int = Field(description="How many packets need us for it.")


class Today(BaseModel):
    """Whose turn it is, and what needs us first."""

    day: date
    worker: bool = Field(
        description="Whether a worker is there; without one nothing is redacted, sent or followed."
    )
    worker_seen_at: datetime | None
    ours: list[PacketBrief] = Field(
        description="Packets that need us, at most 200: by reason, as in `counts`, then the longest wait first."
    )
    ours_count: int = Field(
        description="Number of packets that need us, including those not listed."
    )
    theirs: list[PacketBrief] = Field(
        description="Packets that wait for a vendor, the longest wait first. At most 200."
    )
    theirs_count: int = Field(
        description="Number of packets that wait for a vendor, including those not listed."
    )
    counts: list[AttentionCount] = Field(
        description="Why packets need us, the most urgent reason first."
    )
    others: int = Field(
        description="Number of packets that need us and that others look after; with `mine` they are left out."
    )
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
    reports: list[VendorReportShown] = Field(
        description="Trouble and maintenance that vendors report and that name something of ours, now or soon."
    )
    releases: list[ReleaseAsked] = Field(
        description="Drafts that others have prepared and that wait for your release."
    )
    empty: bool = Field(
        description="Whether there is no packet, contract, asset or site yet; the console then offers first steps."
    )
    mailbox_trouble: str = Field(description="Why the mailbox cannot be read; empty if it can.")


_SOON = timedelta(days=90)


def today(app: AppContext, actor: Actor, *, mine: bool = False) -> Today:
    """List what needs us, and why, and what ends soon; with `mine`, without packets that others look after."""
    day = datetime.now(UTC).date()
    with app.database.snapshot() as session:
        not_others = PacketLine.owner.in_((actor.name, "")) if mine else true()
        needs_us = listing.needs_us()
        counts = _counted(session, not_others)
        reasons = [(reason, count) for reason, count in counts if reason != Attention.THEIRS]
        return Today(
            day=day,
            ours=_waiting(session, not_others & needs_us),
            ours_count=sum(count for _, count in reasons),
            theirs=_waiting(session, not_others & listing.waits() & ~needs_us),
            theirs_count=sum(count for reason, count in counts if reason == Attention.THEIRS),
            counts=[AttentionCount(attention=one, packets=count) for one, count in reasons],
            others=_others(session, actor),
            ending=_ending(session, day),
            tray=tray.listed(app, session),
            tray_count=tray.count(session),
            desks_away=_away(session),
            access_overdue=access.overdue(session),
            shipments_due=shipments.due_soon(session),
            reports=ours_now(session, datetime.now(UTC)),
            releases=waiting_for(session, actor),
            empty=not counts and _empty(session),
            mailbox_trouble=poll.trouble(app, session),
            **worker_state(session),
        )


MOST = 200
"""Maximum number of packets of each turn; the whole list is a page of its own."""


def _empty(session: Session) -> bool:
    """Whether nothing has been entered yet."""
    kinds = (PacketLine, Contract, Asset, Site)
    return not session.scalar(select(or_(*(exists(select(kind)) for kind in kinds))))


def _waiting(session: Session, which: ColumnElement[bool]) -> list[PacketBrief]:
    """Packets that wait, by why they need us; within one reason the longest wait first."""
    query = select(PacketLine).where(which)
    query = query.order_by(listing.urgency_now(), PacketLine.turn_since, PacketLine.number)
    return [briefs.of_line(one) for one in session.scalars(query.limit(MOST))]


def _counted(session: Session, which: ColumnElement[bool]) -> list[tuple[Attention, int]]:
    """How many packets wait, by the reason why they need us, the most urgent first."""
    line = select(listing.attention_now().label("reason")).where(listing.waits(), which)
    reason = line.subquery().c.reason
    rows = session.execute(select(reason, func.count()).group_by(reason))
    return sorted(
        ((Attention(why), count) for why, count in rows), key=lambda row: ORDER.index(row[0])
    )


def _others(session: Session, actor: Actor) -> int:
    """How many packets need us that others look after."""
    query = select(func.count()).where(
        listing.needs_us(), PacketLine.owner.not_in((actor.name, ""))
    )
    return session.scalar(query) or 0


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
        select(Contract, listed.c.assets, RenewalDecision.decision)
        .outerjoin(
            RenewalDecision,
            (RenewalDecision.contract_id == Contract.id)
            & (RenewalDecision.ends_on == Contract.ends_on),
        )
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
            decision=RenewalChoice(decision) if decision else None,
        )
        for contract, assets, decision in rows
    ]
