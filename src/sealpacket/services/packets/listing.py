"""Lists of packets."""

from __future__ import annotations

from dataclasses import dataclass
from datetime import datetime
from typing import Any

from sqlalchemy import func, select
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.core.coverage import Need
from sealpacket.core.life import Life, Turn
from sealpacket.services.packets import briefs
from sealpacket.services.packets.schemas import PacketBrief
from sealpacket.services.register import KINDS
from sealpacket.store.models import Asset, Packet, PacketTicket
from sealpacket.store.paging import Page, after, page_of


@dataclass(frozen=True)
class Which:
    """The packets of a list; what is empty or None narrows nothing.

    `asset`, `vendor` and `site` are handles, `owner` names an account, `ticket` and `our_reference` are exact numbers,
    `updated_since` a moment, and `query` words in number, title, note, or any reference.
    """

    life: Life | None = None
    turn: Turn | None = None
    need: Need | None = None
    asset: str = ""
    vendor: str = ""
    site: str = ""
    owner: str = ""
    ticket: str = ""
    our_reference: str = ""
    updated_since: datetime | None = None
    query: str = ""


def _conditions(session: Session, which: Which) -> list[Any]:
    equal = {
        Packet.life: which.life,
        Packet.turn: which.turn,
        Packet.need: which.need,
        Packet.owner: which.owner,
        Packet.our_reference: which.our_reference,
    }
    found: list[Any] = [column == value for column, value in equal.items() if value]
    if which.asset:
        found.append(Packet.asset_id == KINDS["asset"].find(session, which.asset).id)
    if which.vendor:
        vendor = KINDS["vendor"].find(session, which.vendor).id
        found.append(Packet.asset.has(Asset.vendor_id == vendor))
    if which.site:
        found.append(Packet.asset.has(Asset.site_id == KINDS["site"].find(session, which.site).id))
    if which.ticket:
        found.append(Packet.ticket.has(PacketTicket.number == which.ticket))
    if which.updated_since:
        found.append(Packet.updated_at >= which.updated_since)
    if which.query:
        found.append(matching(which.query))
    return found


def listed(
    app: AppContext,
    *,
    which: Which,
    limit: int = 50,
    cursor: str = "",
) -> Page[PacketBrief]:
    """List packets, newest first. Raises NotFound for an asset, vendor or site that is not in the register."""
    with app.database.snapshot() as session:
        statement = select(Packet).where(*_conditions(session, which))
        statement = after(statement, Packet.created_at, Packet.id, cursor, newest_first=True)
        rows = session.scalars(statement.limit(min(limit, 200) + 1)).all()
        return page_of(rows, min(limit, 200), "created_at", briefs.brief)


def matching(query: str) -> Any:
    """The condition that a packet's number, title, note, ticket or a reference of it holds the query."""
    needle = func.lower(query)
    texts = (Packet.number, Packet.title, Packet.note, Packet.reference, Packet.our_reference)
    said = func.lower(func.concat_ws(" ", *texts))
    ticket = func.strpos(func.lower(PacketTicket.number), needle) > 0
    return (func.strpos(said, needle) > 0) | Packet.ticket.has(ticket)
