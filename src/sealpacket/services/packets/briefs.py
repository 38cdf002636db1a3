"""Packets as list entries, each with a status sentence."""

from __future__ import annotations

from datetime import UTC, datetime

from sealpacket.core.attention import due_as
from sealpacket.core.life import OVER, Life, Turn
from sealpacket.services.packets.schemas import AssetBrief, PacketBrief, PacketHead
from sealpacket.store.models import Asset, Packet, PacketLine


def head(packet: Packet, stops: int | None = None) -> PacketHead:
    """A packet in short."""
    asset = packet.asset
    return PacketHead(
        number=packet.number,
        title=packet.title,
        life=packet.life,
        turn=packet.turn,
        need=packet.need,
        vendor=asset.vendor.name if asset else None,
        asset=show_asset(asset) if asset else None,
        reference=packet.reference,
        our_reference=packet.our_reference or "",
        ticket=packet.ticket.number if packet.ticket else "",
        turn_since=packet.turn_since,
        owner=packet.owner,
        status_text=status_text_of(packet, stops),
        created_at=packet.created_at,
        updated_at=packet.updated_at,
        stops=stops,
    )


def of_line(line: PacketLine) -> PacketBrief:
    """A packet for a list, from its line."""
    asset = None
    if line.asset_id is not None:
        asset = AssetBrief(
            id=line.asset_id,
            serial=line.serial or "",
            name=line.asset_name or "",
            product=line.product or "",
            vendor=line.vendor or "",
            vendor_name=line.vendor_name or "",
            site=line.site_name,
            retired=line.retired,
        )
    return PacketBrief(
        number=line.number,
        title=line.title,
        life=line.life,
        turn=line.turn,
        need=line.need,
        vendor=line.vendor_name,
        asset=asset,
        reference=line.reference,
        our_reference=line.our_reference or "",
        ticket=line.ticket or "",
        turn_since=line.turn_since,
        owner=line.owner,
        status_text=line.status_text,
        created_at=line.created_at,
        updated_at=line.updated_at,
        stops=line.stops,
        severity=line.severity or "",
        contract=line.contract or "",
        attention=due_as(line.attention, line.due_at, datetime.now(UTC)),
        due_at=line.due_at,
        due_what=line.due_what,
        due_zone=line.due_zone,
        escalate_at=line.escalate_at,
        exhibits=line.exhibits,
        messages=line.messages,
        questions=line.questions,
        last_word=line.last_word,
        last_word_from=line.last_word_from,
        last_word_at=line.last_word_at,
    )


def show_asset(asset: Asset) -> AssetBrief:
    """An asset in a line."""
    return AssetBrief(
        id=asset.id,
        serial=asset.serial,
        name=asset.name,
        product=asset.product.name,
        vendor=asset.vendor.key,
        vendor_name=asset.vendor.name,
        site=asset.site.name if asset.site else None,
        retired=asset.status == "retired",
    )


def status_text_of(packet: Packet, stops: int | None) -> str:
    """The status of a packet, as a sentence."""
    vendor = packet.vendor_name or "the vendor"
    asked = next((one for m in packet.messages for one in m.open_questions), None)
    if asked is not None and packet.life not in OVER:
        return f"{vendor} {'may ask' if asked.doubtful else 'asks'}: “{asked.text}”"
    match packet.life:
        case Life.DRAFTING:
            if stops is None:
                return "Draft"
            return (
                f"Draft, {stops} stop{'s' if stops != 1 else ''} left"
                if stops
                else "Draft, ready to be sealed"
            )
        case Life.SEALED:
            return packet.delivery.status_text or "Sealed, not lodged yet"
        case Life.REFUSED:
            reasons = packet.refusals or []
            return (
                f"Refused by {vendor}: {reasons[0]['text']}" if reasons else f"Refused by {vendor}"
            )
        case Life.LODGED | Life.ANSWERED:
            return _with_desk(packet, vendor)
        case Life.SETTLED:
            return f"Settled. {_left_of_ours(packet, vendor)}".rstrip()
        case _:
            return "Withdrawn"


def _with_desk(packet: Packet, vendor: str) -> str:
    """The status of a packet at its desk; if it is our turn, with the reason."""
    left = _left_of_ours(packet, vendor)
    if left:
        return left
    due = [one for one in packet.cases if one.settle_on]
    if due and packet.settled_at is None:
        said = f"{vendor} says {packet.desk_status}"
        day = min(one.settle_on for one in due if one.settle_on)
        over = day <= datetime.now(UTC).date()
        return f"{said}; it is for us to settle it now" if over else f"{said}; settle it from {day}"
    if packet.life == Life.ANSWERED:
        if packet.turn == Turn.OURS:
            return f"{vendor} has answered; accept the answer or contest it"
        return f"{vendor} says {packet.desk_status}"
    if not packet.reference:
        return f"Sent to {vendor}, no reference yet"
    there = f"With {vendor} as {packet.reference}"
    if packet.turn == Turn.OURS:
        return f"{there}; it waits for us" + (
            f" ({packet.desk_status})" if packet.desk_status else ""
        )
    return there


def _left_of_ours(packet: Packet, vendor: str) -> str:
    """A sentence about our messages that wait for a person; empty if there are none."""
    left = [one for one in packet.messages if one.waits_for_a_person]
    failed = next((one.failure for one in left if one.failure), "")
    if failed:
        return f"Not sent to {vendor}: {failed}"
    if not left:
        return ""
    what = "A message of ours has" if len(left) == 1 else f"{len(left)} messages of ours have"
    return f"{what} to be passed on to {vendor} by hand"
