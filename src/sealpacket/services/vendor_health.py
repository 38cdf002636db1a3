"""Trouble and maintenance that vendors report: kept from their feeds, and matched to what we have there."""

from __future__ import annotations

from collections.abc import Iterable
from datetime import UTC, datetime, timedelta

from pydantic import BaseModel, Field
from sqlalchemy import ColumnElement, Select, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import AppContext
from sealpacket.core.errors import Invalid
from sealpacket.core.life import OPEN, Life
from sealpacket.core.notices import NoticeKind
from sealpacket.core.vendor_health import (
    STALE,
    Report,
    ReportSort,
    ReportState,
    may_explain,
    named_in,
    read_reports,
    state_of,
)
from sealpacket.services.feeds import FeedShown, products_of, read_due, states
from sealpacket.services.notices import announcing
from sealpacket.services.packets import workbench
from sealpacket.services.register.kinds import KINDS
from sealpacket.store.models import Asset, Limit, Packet, Product, Site, Vendor, VendorReport

EVERY = timedelta(seconds=50)
"""How often a feed is read, at most; the worker looks every minute."""
MOST = 200
SOON = timedelta(days=2)
"""Planned work that begins so soon is shown on Today."""


class VendorReportShown(BaseModel):
    """A vendor's report of trouble or maintenance, and products, regions and sites of ours that it names."""

    id: int
    vendor: str = Field(description="The vendor's key.")
    vendor_name: str
    sort: ReportSort
    state: ReportState
    title: str
    summary: str
    link: str = Field(description="Where the vendor has it; empty: nowhere.")
    products: list[str] = Field(description="Names of our products that it names.")
    regions: list[str] = Field(description="Regions that it names and in which we have limits.")
    sites: list[str] = Field(description="Names of our sites that it names.")
    begins_at: datetime | None
    ends_at: datetime | None
    updated_at: datetime | None = Field(description="When the vendor changed it last.")


class VendorHealth(BaseModel):
    """Reports of vendors: what goes on first, then what is planned; and the feeds that they come from."""

    items: list[VendorReportShown]
    feeds: list[FeedShown]


def vendor_health(
    app: AppContext, *, vendor: str = "", asset: str = "", packet: str = "", over: bool = False
) -> VendorHealth:
    """List trouble and maintenance that vendors report.

    With `asset`, reports that may concern it; with `packet`, those that may explain it, also when they are over.
    Otherwise with `over` also those that are over.
    """
    if asset and packet:
        raise Invalid("Both an asset and a packet are given.", "Give one of them.", field="packet")
    now = datetime.now(UTC)
    with app.database.snapshot() as session:
        if packet:
            found = reports_on(session, workbench.find_packet(session, packet), now)
        elif asset:
            found = _of_asset(session, KINDS["asset"].find(session, asset), now)
        else:
            found = _all(session, vendor, now, over=over)
        return VendorHealth(
            items=shown(session, found, now),
            feeds=states(session, "health", app.settings.health_feeds),
        )


_ORDER = {ReportState.ONGOING: 0, ReportState.PLANNED: 1, ReportState.OVER: 2}


def _all(session: Session, vendor: str, now: datetime, *, over: bool) -> list[VendorReport]:
    query = _reports(now, over=over)
    if vendor:
        query = query.where(VendorReport.vendor.has(Vendor.key == vendor))
    return [
        one
        for one in session.scalars(query.limit(MOST))
        if over or state_of(one, now) is not ReportState.OVER
    ]


def _reports(now: datetime, *, over: bool) -> Select[VendorReport]:
    query = select(VendorReport).options(joinedload(VendorReport.vendor))
    if not over:
        query = query.where(_open(now))
    return query.order_by(VendorReport.updated_at.desc().nulls_last(), VendorReport.id.desc())


def _open(now: datetime) -> ColumnElement[bool]:
    """Reports that may not be over; `state_of` decides."""
    return ~VendorReport.over & or_(
        VendorReport.ends_at > now,
        VendorReport.begins_at > now - STALE,
        VendorReport.updated_at > now - STALE,
    )


def ours_now(session: Session, now: datetime) -> list[VendorReportShown]:
    """Reports that name something of ours and go on, or are planned to begin soon."""
    rows = [
        one
        for one in _all(session, "", now, over=False)
        if one.names_ours and (one.begins_at is None or one.begins_at <= now + SOON)
    ]
    return shown(session, rows, now)


def planned(session: Session, vendors: Iterable[str]) -> list[VendorReport]:
    """Maintenance that names something of ours and is not over; of these vendors (keys), or of all."""
    now = datetime.now(UTC)
    query = _reports(now, over=False).where(VendorReport.sort == ReportSort.MAINTENANCE)
    wanted = [*vendors]
    if wanted:
        query = query.where(VendorReport.vendor.has(Vendor.key.in_(wanted)))
    return [one for one in session.scalars(query.limit(MOST)) if one.names_ours]


def _of_asset(session: Session, asset: Asset, now: datetime) -> list[VendorReport]:
    """Reports that name the asset's product, its site or a region, and go on or are planned."""
    query = _reports(now, over=False).where(VendorReport.vendor_id == asset.vendor_id)
    return [
        one
        for one in session.scalars(query.limit(MOST))
        if state_of(one, now) is not ReportState.OVER and _concerns(one, asset)
    ]


def _concerns(report: VendorReport, asset: Asset) -> bool:
    if report.products or report.sites:
        return asset.product_id in report.products or asset.site_id in report.sites
    return bool(report.regions)


def reports_on(session: Session, packet: Packet, now: datetime) -> list[VendorReport]:
    """Reports that may explain a packet: those of its time that name its product, its site or its region."""
    asset = packet.asset
    if asset is None:
        return []
    began = packet.began_at or packet.created_at
    going_on = packet.life in (Life.DRAFTING, *OPEN)
    query = _reports(now, over=True).where(VendorReport.vendor_id == asset.vendor_id)
    found = [
        one
        for one in session.scalars(query.limit(MOST))
        if _concerns(one, asset)
        and (
            may_explain(one, began, now)
            or (going_on and packet.sealed_at is None and state_of(one, now) is ReportState.PLANNED)
        )
    ]
    regions = {region: [region] for one in found for region in one.regions}
    named = set(named_in(f"{packet.title} {packet.note} {packet.answers}", regions))
    return [one for one in found if not (named and one.regions) or named & set(one.regions)]


def shown(
    session: Session, reports: Iterable[VendorReport], now: datetime
) -> list[VendorReportShown]:
    """Reports as they are shown: what goes on first, then what is planned, the next first, then what is over."""
    rows = sorted(reports, key=lambda one: _ORDER[state_of(one, now)])
    names = _names(session, Product, {x for one in rows for x in one.products})
    sites = _names(session, Site, {x for one in rows for x in one.sites})
    return [
        VendorReportShown(
            id=one.id,
            vendor=one.vendor.key,
            vendor_name=one.vendor.name,
            sort=one.sort,
            state=state_of(one, now),
            title=one.title,
            summary=one.summary,
            link=one.link,
            products=[names[x] for x in one.products if x in names],
            regions=one.regions,
            sites=[sites[x] for x in one.sites if x in sites],
            begins_at=one.begins_at,
            ends_at=one.ends_at,
            updated_at=one.updated_at,
        )
        for one in rows
    ]


def _names(
    session: Session, model: type[Product] | type[Site], ids: Iterable[str]
) -> dict[str, str]:
    rows = session.execute(select(model.id, model.name).where(model.id.in_([*ids])))
    return {row.id: row.name for row in rows}


def read_all(app: AppContext) -> None:
    """Read the feeds whose time has come. The worker calls this."""
    sources = app.settings.health_feeds

    def keep(vendor: str, data: bytes) -> None:
        _keep(app, vendor, read_reports(data, sources[vendor].mapping))

    addresses = {vendor: source.address for vendor, source in sources.items()}
    read_due(app, "health", addresses, EVERY, keep, if_changed=False)


def _keep(app: AppContext, vendor: str, reports: Iterable[Report]) -> None:
    """Keep what a feed says now, and notify of new trouble that names something of ours; the oldest first.

    Reports that the feed lists no more are over.
    """
    with app.database.transaction() as session:
        owner = session.scalars(select(Vendor).where(Vendor.key == vendor)).one_or_none()
        if owner is None:
            return
        products, regions, sites = _ours(session, owner)
        known = {
            one.ident: one
            for one in session.scalars(
                select(VendorReport).where(VendorReport.vendor_id == owner.id)
            )
        }
        said = [*reports]
        gone = set(known) - {one.ident for one in said}
        for ident in sorted(gone):
            if not known[ident].over:
                known[ident].over, known[ident].updated_at = True, datetime.now(UTC)
                announcing.end(session, NoticeKind.VENDOR_TROUBLE, str(known[ident].id))
        for report in reversed(said):
            kept = known.get(report.ident)
            if kept is not None and kept.over and report.over:
                continue
            named = {
                "products": named_in(report.about, products),
                "regions": named_in(report.about, regions),
                "sites": named_in(report.about, sites),
            }
            _keep_one(session, owner, kept, report, named)


def _ours(session: Session, vendor: Vendor) -> tuple[dict[str, list[str]], ...]:
    """Names that a report of a vendor may use: of products and sites by their ids, and regions, each with its names."""
    regions = session.scalars(select(Limit.region).where(Limit.vendor_id == vendor.id).distinct())
    sites = session.scalars(
        select(Site).where(
            select(Asset.id)
            .where(
                Asset.site_id == Site.id, Asset.vendor_id == vendor.id, Asset.status != "retired"
            )
            .exists()
        )
    )
    return (
        products_of(session, vendor.key),
        {one: [one] for one in regions},
        {one.id: [one.name, one.key] for one in sites},
    )


def _keep_one(
    session: Session,
    vendor: Vendor,
    kept: VendorReport | None,
    report: Report,
    named: dict[str, list[str]],
) -> None:
    now = datetime.now(UTC)
    before = [one for one in (kept.begins_at if kept else None, report.begins_at) if one]
    values = {
        "sort": report.sort,
        "title": report.title,
        "summary": report.summary,
        "link": report.link,
        # A feed often dates an entry by its last change: trouble began when it was first said.
        "begins_at": min(before, default=now)
        if report.sort is ReportSort.TROUBLE
        else report.begins_at,
        "ends_at": report.ends_at,
        "updated_at": report.updated_at,
        "over": report.over,
        **named,
    }
    made = insert(VendorReport).values(vendor_id=vendor.id, ident=report.ident, at=now, **values)
    ident = session.scalar(
        made.on_conflict_do_update(index_elements=["vendor_id", "ident"], set_=values).returning(
            VendorReport.id
        )
    )
    over = report.over or bool(report.ends_at and report.ends_at <= now)
    if over:
        announcing.end(session, NoticeKind.VENDOR_TROUBLE, str(ident))
    elif kept is None and report.sort is ReportSort.TROUBLE and any(named.values()):
        announcing.announce(
            session, NoticeKind.VENDOR_TROUBLE, str(ident), lambda _: True, vendor.key
        )
