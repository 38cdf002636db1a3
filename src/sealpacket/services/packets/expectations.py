"""Expectations of a packet's exhibits: their hours, their machine, and whether they were sent before."""

from __future__ import annotations

from datetime import UTC, datetime, tzinfo
from zoneinfo import ZoneInfo, ZoneInfoNotFoundError

from sqlalchemy import ColumnElement, select
from sqlalchemy.orm import Session

from sealpacket.core.evidence.completeness import Expected, last_restart
from sealpacket.core.evidence.inspection import Look
from sealpacket.store.models import Asset, Exhibit, Packet


def zone_of(packet: Packet) -> tzinfo:
    """The time zone of the place that a packet is about."""
    site = packet.asset.site if packet.asset else None
    try:
        return ZoneInfo(site.time_zone) if site else UTC
    except (ZoneInfoNotFoundError, ValueError):
        return UTC


def look_of(exhibit: Exhibit) -> Look | None:
    """The result of inspecting an exhibit; None before."""
    return Look.model_validate(exhibit.look) if exhibit.look else None


def expected_of(session: Session, packet: Packet) -> dict[str, Expected]:
    """The expectations of each exhibit of a packet, by name."""
    looks = {one.name: look_of(one) for one in packet.exhibits}
    asset = packet.asset
    sent = _sent_before(session, packet)
    found = {}
    for name in looks:
        others = [one for other, one in looks.items() if one is not None and other != name]
        found[name] = Expected(
            now=datetime.now(UTC),
            zone=zone_of(packet),
            began=packet.began_at,
            asset=asset.id if asset else "",
            asset_name=(asset.name or asset.serial) if asset else "",
            restarted=last_restart(others, asset.id) if asset else None,
            sent=sent.get(name, ""),
        )
    return found


def _sent_before(session: Session, packet: Packet) -> dict[str, str]:
    """By exhibit, the packet with which the same file went to the same vendor."""
    if packet.asset is None:
        return {}
    to_the_same = (Asset.vendor_id == packet.asset.vendor_id, Packet.lodged_at.is_not(None))
    return same_files(session, packet, *to_the_same)


def same_files(
    session: Session, packet: Packet, *conditions: ColumnElement[bool]
) -> dict[str, str]:
    """By exhibit, the last other packet under these conditions that the same file was attached to."""
    sums = {one.sha256: one.name for one in packet.exhibits if one.sha256}
    if not sums:
        return {}
    query = (
        select(Exhibit.sha256, Packet.number)
        .join(Exhibit.packet)
        .join(Packet.asset)
        .where(Exhibit.sha256.in_(sums), Packet.id != packet.id, *conditions)
        .order_by(Packet.number)
    )
    return {sums[sha256]: number for sha256, number in session.execute(query) if sha256}
