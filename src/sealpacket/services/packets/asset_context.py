"""The context of a packet's asset: versions, neighbours, recent changes, open packets, steps tried."""

from __future__ import annotations

from collections.abc import Callable, Container, Iterator
from datetime import UTC, datetime, timedelta, tzinfo
from typing import Any

from pydantic import BaseModel, Field
from sqlalchemy import or_, select
from sqlalchemy.orm import Session, joinedload

from sealpacket.app.context import AppContext
from sealpacket.core.life import OVER, Life
from sealpacket.services.packets.expectations import zone_of
from sealpacket.services.register import KINDS
from sealpacket.services.register.acts import versions_of
from sealpacket.store.database import remembered
from sealpacket.store.models import Asset, Packet, TriedStep

_FEW, _MANY = 8, 50
_WITH_PRODUCT = joinedload(Asset.product)
_CHANGED_WITHIN, _TRIED_BEFORE = timedelta(days=90), timedelta(days=2)
_OF_INTEREST = (
    "software_version",
    "status",
    "site",
    "carrier",
    "product",
    "host_names",
    "addresses",
)
"""Fields of an asset whose change may explain something."""


class TriedShown(BaseModel):
    """Something that was tried on a thing, and what it showed."""

    id: str
    step: str
    result: str
    exhibit: str = Field(description="The exhibit of its packet that shows it.")
    packet: str | None
    at: datetime
    by: str


class VersionOn(BaseModel):
    """Something that runs on an asset, or sits in it."""

    serial: str
    name: str
    product: str
    software_version: str


class Neighbour(BaseModel):
    """Another asset at the same place."""

    serial: str
    name: str
    product: str
    same_model: bool


class ThingChange(BaseModel):
    """A change of a thing in the register."""

    at: datetime
    by: str
    field: str
    old: str
    new: str


class OpenOn(BaseModel):
    """A packet that is open on the same thing."""

    number: str
    title: str
    life: Life


class ThingContext(BaseModel):
    """The context of an asset, newest first."""

    serial: str
    software_version: str
    carries: list[VersionOn]
    neighbours: list[Neighbour]
    changes: list[ThingChange]
    open: list[OpenOn]
    tried: list[TriedShown]


def context(app: AppContext, handle: str) -> ThingContext:
    """The context of an asset."""
    with app.database.snapshot() as session:
        return _context(session, KINDS["asset"].find(session, handle))


def _context(session: Session, asset: Asset) -> ThingContext:
    return ThingContext(
        serial=asset.serial,
        software_version=asset.software_version,
        carries=_carried(session, asset),
        neighbours=_neighbours(session, asset),
        changes=_changes(session, asset),
        open=_open_on(session, asset),
        tried=[show_tried(one) for one in _tried_on(session, asset)],
    )


def _carried(session: Session, asset: Asset) -> list[VersionOn]:
    query = select(Asset).options(_WITH_PRODUCT).where(Asset.carrier_id == asset.id)
    return [
        VersionOn(
            serial=one.serial, name=one.name, product=one.product.name,
            software_version=one.software_version,
        )
        for one in session.scalars(query.order_by(Asset.serial).limit(_MANY))
    ]  # fmt: skip


def _neighbours(session: Session, asset: Asset) -> list[Neighbour]:
    """Assets at the same site or in the same carrier, the same model first."""
    beside = [
        column == value
        for column, value in ((Asset.site_id, asset.site_id), (Asset.carrier_id, asset.carrier_id))
        if value is not None
    ]
    if not beside:
        return []
    same = Asset.product_id == asset.product_id
    query = (
        select(Asset)
        .options(_WITH_PRODUCT)
        .where(or_(*beside), Asset.id != asset.id, Asset.status == "in_use")
    )
    return [
        Neighbour(
            serial=one.serial, name=one.name, product=one.product.name,
            same_model=one.product_id == asset.product_id,
        )
        for one in session.scalars(query.order_by(same.desc(), Asset.serial).limit(_FEW))
    ]  # fmt: skip


def _changes(session: Session, asset: Asset) -> list[ThingChange]:
    since = datetime.now(UTC) - _CHANGED_WITHIN
    found = [
        ThingChange(
            at=version["at"],
            by=version["by"],
            field=one["field"],
            old=_as_words(one["old"]),
            new=_as_words(one["new"]),
        )
        for version in versions_of(session, KINDS["asset"], asset)
        if version["at"] >= since and version["version"] > 1
        for one in version["changes"]
        if one["field"] in _OF_INTEREST
    ]
    return found[:_FEW]


def _as_words(value: Any) -> str:
    if isinstance(value, list):
        return ", ".join(map(str, value))
    return "" if value is None else str(value)


def _open_on(session: Session, asset: Asset, but: str = "") -> list[OpenOn]:
    query = select(Packet).where(
        Packet.asset_id == asset.id, Packet.life.not_in(OVER), Packet.id != but
    )
    return [
        OpenOn(number=one.number, title=one.title, life=one.life)
        for one in session.scalars(query.order_by(Packet.created_at.desc()).limit(_FEW))
    ]


def _tried_on(session: Session, asset: Asset) -> list[TriedStep]:
    return remembered(session, tried_of(asset), lambda: _read_tried(session, asset))


def tried_of(asset: Asset) -> tuple[str, str]:
    """By what the steps are remembered that were tried on a thing."""
    return "tried", asset.id


def _read_tried(session: Session, asset: Asset) -> list[TriedStep]:
    query = select(TriedStep).where(TriedStep.asset_id == asset.id)
    return list(session.scalars(query.order_by(TriedStep.at.desc()).limit(_MANY)))


def show_tried(one: TriedStep) -> TriedShown:
    """A step that was tried, as the interfaces show it."""
    fields = ("id", "step", "result", "exhibit", "at", "by")
    return TriedShown(
        **{field: getattr(one, field) for field in fields},
        packet=one.packet.number if one.packet else None,
    )


def facts_of_thing(
    session: Session, packet: Packet, wanted: Container[str]
) -> Iterator[tuple[str, str, str]]:
    """Path, value and source of what is known around a packet's thing, in lines of words; of what is `wanted` only."""
    asset = packet.asset
    if asset is None:
        return
    for path, (lines, source) in _FACTS.items():
        if path in wanted:
            yield (
                path,
                "\n".join(lines(session, packet, asset)),
                f"{source} {asset.name or asset.serial}",
            )


def _tried_lines(session: Session, packet: Packet, asset: Asset) -> Iterator[str]:
    zone = zone_of(packet)
    steps = [one for one in _tried_on(session, asset) if _belongs(one, packet)]
    return (_tried_line(one, zone) for one in steps[::-1])


def _carried_lines(session: Session, packet: Packet, asset: Asset) -> Iterator[str]:
    return (f"{one.product} {one.software_version}".strip() for one in _carried(session, asset))


def _neighbour_lines(session: Session, packet: Packet, asset: Asset) -> Iterator[str]:
    return (
        f"{one.product} {one.serial}{' (same model)' if one.same_model else ''}"
        for one in _neighbours(session, asset)
    )


def _change_lines(session: Session, packet: Packet, asset: Asset) -> Iterator[str]:
    zone = zone_of(packet)
    return (
        f"{one.at.astimezone(zone):%Y-%m-%d}: {one.field.replace('_', ' ')} "
        f"{one.old or 'nothing'} → {one.new or 'nothing'}"
        for one in _changes(session, asset)
    )


def _open_lines(session: Session, packet: Packet, asset: Asset) -> Iterator[str]:
    return (f"{one.number}: {one.title}" for one in _open_on(session, asset, packet.id))


_FACTS: dict[str, tuple[Callable[[Session, Packet, Asset], Iterator[str]], str]] = {
    "thing.tried": (_tried_lines, "what was tried on"),
    "thing.carries": (_carried_lines, "what runs on"),
    "thing.neighbours": (_neighbour_lines, "what stands beside"),
    "thing.changes": (_change_lines, "the history of"),
    "thing.open": (_open_lines, "open packets on"),
}


def _belongs(one: TriedStep, packet: Packet) -> bool:
    """Whether a step belongs to a packet: noted with it, or tried since shortly before it began."""
    began = packet.began_at or packet.created_at
    return one.packet_id == packet.id or one.at >= began - _TRIED_BEFORE


def _tried_line(one: TriedStep, zone: tzinfo) -> str:
    result = f": {' '.join(one.result.split())}" if one.result else ""
    shown = f" (see {one.exhibit})" if one.exhibit else ""
    return f"{one.at.astimezone(zone):%Y-%m-%d %H:%M} {' '.join(one.step.split())}{result}{shown}"
