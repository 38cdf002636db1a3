"""An ordinary mailbox to which desks write: read in rounds, each mail once, brought to the packet that it is about.

What no packet is found for waits in the tray.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping
from contextlib import suppress
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels.imap import Mailbox
from sealpacket.core.errors import DatabaseUnreachable, Invalid, NotFound, ProblemError, Unavailable
from sealpacket.core.sheets.mails import read_mail
from sealpacket.core.sheets.replies import number_of_mail, number_of_text
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.draft.from_outside import (
    is_for_drafts,
    may_write,
    note_mail,
)
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.follow.news import is_desk
from sealpacket.services.packets.follow.post import bring, is_ours
from sealpacket.services.packets.lodge.reply_addresses import packet_of
from sealpacket.store.models import MailboxMark, Message, Packet, PacketCase


def read_mailbox(app: AppContext) -> int:
    """Read what is new in the configured mailbox; gives how many mails there were. The worker calls this."""
    address = app.settings.mailbox
    if not address:
        return 0
    name = _name(address)
    count = 0
    try:
        with Mailbox(address) as box:
            after = _mark(app, name, box.validity)
            for uid, data in box.mails_after(after):
                if data is not None:
                    _bring(app, data)
                _read_up_to(app, name, uid)
                count += 1
    except Unavailable as problem:
        if isinstance(problem, DatabaseUnreachable):
            raise
        _trouble(app, name, f"{problem.detail} {problem.remedy}")
        return count
    _trouble(app, name, "")
    return count


def _name(address: str) -> str:
    return hashlib.sha256(address.encode()).hexdigest()[:16]


def trouble(app: AppContext, session: Session) -> str:
    """Why the configured mailbox could not be read last; empty if it could, or if there is none."""
    mark = session.get(MailboxMark, _name(app.settings.mailbox))
    return mark.trouble if mark is not None else ""


def _mark(app: AppContext, name: str, validity: int) -> int:
    """Up to which mail it was read; from the beginning where the server has numbered them anew."""
    with app.database.transaction() as session:
        mark = _locked(session, name)
        if mark.validity != validity:
            mark.validity, mark.uid = validity, 0
        return mark.uid


def _locked(session: Session, name: str) -> MailboxMark:
    session.execute(insert(MailboxMark).values(mailbox=name).on_conflict_do_nothing())
    return session.get_one(MailboxMark, name, with_for_update=True)


def _read_up_to(app: AppContext, name: str, uid: int) -> None:
    with app.database.transaction() as session:
        mark = _locked(session, name)
        mark.uid = max(mark.uid, uid)


def _trouble(app: AppContext, name: str, words: str) -> None:
    with app.database.transaction() as session:
        mark = _locked(session, name)
        mark.trouble = words
        mark.read_at = mark.read_at if words else datetime.now(UTC)


def _bring(app: AppContext, data: bytes) -> None:
    """Bring a mail to its packet, or put it into the tray: it is never lost, and never taken twice."""
    try:
        tree = read_mail(data)
    except ProblemError:
        return
    mail = tree["mail"]
    if is_ours(app, mail):
        return
    number = packet_for(app, mail)
    if number is None and is_for_drafts(app, mail["to"]) and may_write(app, str(mail["from"])):
        with suppress(Invalid):  # no person wrote it
            note_mail(app, data, tree)
        return
    if number is None:
        tray.put(app, data, tree)
        return
    try:
        bring(app, number, data, tree)
    except DatabaseUnreachable:
        raise
    except Unavailable:
        tray.put(app, data, tree)


def packet_for(app: AppContext, mail: Mapping[str, Any]) -> str | None:
    """The packet that a mail is about: by the address that was made for it, by the mail of ours that it answers or
    could not be delivered, or, if it comes from its desk, by our number or the desk's reference in the subject."""
    for address in mail["to"]:
        number = packet_of(app, address)
        if number is not None:
            return number
    heads = f"{mail['in_reply_to']} {mail['references']} {mail['failed']}"
    number = number_of_mail(heads)
    subject = str(mail["subject"])
    with app.database.transaction() as session:
        number = number or _of_message(session, heads)
        if number and _there(session, number):
            return number
        named = number_of_text(subject)
        if named and _from_its_desk(app, session, named, str(mail["from"])):
            return named
        return _by_reference(app, session, subject, str(mail["from"]))


_OUR_MESSAGE = re.compile(r"<([0-9a-f]{8}(?:-[0-9a-f]{4}){3}-[0-9a-f]{12})@sealpacket\.invalid>")


def _of_message(session: Session, heads: str) -> str:
    """The packet of a message of ours whose Message-ID stands in the heads of a mail."""
    idents = _OUR_MESSAGE.findall(heads)
    query = select(Packet.number).join(Message, Message.packet_id == Packet.id)
    return session.scalar(query.where(Message.id.in_(idents)).limit(1)) or "" if idents else ""


def _there(session: Session, number: str) -> bool:
    with suppress(NotFound):
        return workbench.find_packet(session, number) is not None
    return False


def _from_its_desk(app: AppContext, session: Session, number: str, sender: str) -> bool:
    with suppress(NotFound):
        packet = workbench.find_packet(session, number)
        return packet.sheet is not None and is_desk(app, parsed(packet.sheet), sender)
    return False


_WORD = re.compile(r"[A-Za-z0-9][A-Za-z0-9/_.-]{3,60}")


def _by_reference(app: AppContext, session: Session, subject: str, sender: str) -> str | None:
    words = {word.strip(".-/") for word in _WORD.findall(subject)}
    if not words:
        return None
    query = select(Packet.number).join(Packet.cases).where(PacketCase.reference.in_(words))
    found = [n for n in session.scalars(query) if _from_its_desk(app, session, n, sender)]
    return found[0] if len(set(found)) == 1 else None
