"""Mails of desks: read as what the desk's sheet says, and kept whole beside the message."""

from __future__ import annotations

from collections.abc import Callable, Mapping
from datetime import UTC, datetime, timedelta
from typing import Any

from sqlalchemy import delete, func, select

from sealpacket.app.context import WORKER, AppContext
from sealpacket.channels import as_key
from sealpacket.core.errors import Unavailable
from sealpacket.core.life import Event
from sealpacket.core.sheets.mails import mail_files
from sealpacket.services.packets.follow import vendor_files
from sealpacket.services.packets.follow.news import Arrival, take_in
from sealpacket.services.packets.lodge.reply_addresses import keys_in
from sealpacket.services.packets.workbench import find_packet
from sealpacket.store.models import MailCount

MAILS_AN_HOUR, BYTES_A_DAY = 60, 200_000_000
"""Limits of mail for one packet, and for the address that makes drafts."""
_HOUR, _DAY = timedelta(hours=1), timedelta(days=1)


def take_mail(
    app: AppContext, number: str, data: bytes, tree: Mapping[str, Any], *, proven: bool
) -> bool:
    """Take in a mail about a packet, whole and encrypted beside its message; gives whether it is new.

    `tree` is what was read in it; `proven`, that it answers us. One that says that a mail of ours could not be
    delivered is noted at that one; it proves itself by the Message-ID.
    """
    count(app, len(data), number)
    if tree["mail"]["automatic"] == "bounce" and _came_back(app, number, tree["mail"]):
        return True
    return keep_mail(
        app, data, lambda came: take_in(app, WORKER, number, tree, came, proven=proven)
    )


def keep_mail(app: AppContext, data: bytes, use: Callable[[Arrival], bool]) -> bool:
    """Store a mail and what is attached to it, and have it used; what is not used is removed again."""
    if not data:
        return use(Arrival())
    stored = app.blobs.put((data,)).name
    attached: list[vendor_files.Attached] = []
    used = False
    try:
        attached = vendor_files.store(app, mail_files(data))
        used = use(Arrival(original=stored, attached=attached))
    finally:
        if not used:  # it came before, or nothing of it could be used
            app.blobs.remove(stored)
            vendor_files.forget(app, attached)
    return used


def _came_back(app: AppContext, number: str, mail: Mapping[str, Any]) -> bool:
    """Record the bounce of one of our mails at its message. Returns False if it is not of this packet."""
    keys = keys_in(app, str(mail["failed"]))
    why = str(mail["reason"]) or "The mail server of the desk did not say why."
    with app.transaction(WORKER, "mail came back", f"packet {number}", reason=why[:300]) as tx:
        packet = find_packet(tx.session, number, lock=True)
        words = (
            f"The mail came back: {why.rstrip('.')}. Check the desk's address, then try it again."
        )
        for message in packet.messages:
            if as_key(message.id) in keys and message.direction == "out":
                message.failure, message.sent_at, message.begun = words[:1000], None, False
                packet.update_turn()
                return True
        ours = {packet.number, *(f"{packet.number}-{one.place + 1}" for one in packet.cases)}
        if ours & set(keys) and not packet.reference and packet.can(Event.BOUNCE):
            packet.advance(Event.BOUNCE)
            packet.delivery.status_text = words[:1000]
            for case in packet.cases:
                case.sent = case.begun = False
            return True
        tx.audited = False
        return False


def count(app: AppContext, octets: int, number: str = "") -> None:
    """Note that a mail came for a packet, or to make a draft. Raises Unavailable beyond the limits."""
    now = datetime.now(UTC)
    with app.database.transaction() as session:
        session.execute(delete(MailCount).where(MailCount.at < now - _DAY))
        packet_id = find_packet(session, number, lock=True).id if number else None
        mine = select(func.count(), func.coalesce(func.sum(MailCount.octets), 0)).where(
            MailCount.packet_id == packet_id if packet_id else MailCount.packet_id.is_(None)
        )
        lately = session.execute(mine.where(MailCount.at > now - _HOUR)).one()[0]
        size = session.execute(mine).one()[1]
        if lately >= MAILS_AN_HOUR or size + octets > BYTES_A_DAY:
            raise Unavailable(
                "Too many mails in the last hour.",
                "Send it later.",
                code="mail-rate",
            )
        session.add(MailCount(packet_id=packet_id, octets=octets))
