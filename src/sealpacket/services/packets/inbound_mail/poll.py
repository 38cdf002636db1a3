"""An ordinary mailbox to which desks write: read in rounds, each mail once, brought to the packet that it is about.

What no packet is found for waits in the tray.
"""

from __future__ import annotations

import hashlib
import re
from collections.abc import Mapping, Sequence
from contextlib import suppress
from datetime import UTC, datetime
from typing import Any, NamedTuple

import structlog
from sqlalchemy import select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import AppContext
from sealpacket.channels.imap import Fetched, Mailbox
from sealpacket.core.errors import DatabaseUnreachable, Invalid, NotFound, ProblemError, Unavailable
from sealpacket.core.sheets.mails import answered_in, read_mail
from sealpacket.core.sheets.replies import number_of_text
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.draft.from_outside import (
    is_for_drafts,
    may_write,
    note_mail,
)
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.follow.news import is_desk
from sealpacket.services.packets.inbound_mail.route import bring, is_ours
from sealpacket.services.packets.lodge.reply_addresses import keys_in, packet_of
from sealpacket.store.models import MailboxMark, Message, Packet, PacketCase

log = structlog.get_logger()


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
            for mail in box.mails_after(after):
                _bring(app, mail)
                _read_up_to(app, name, mail.uid)
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
    """Why the last poll of the configured mailbox failed; empty if it did not, or if no mailbox is set."""
    mark = session.get(MailboxMark, _name(app.settings.mailbox))
    return mark.trouble if mark is not None else ""


def _mark(app: AppContext, name: str, validity: int) -> int:
    """The last mail read; reset if the server has renumbered them (UIDVALIDITY)."""
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


def _bring(app: AppContext, mail: Fetched) -> None:
    """Bring a mail to its packet, or put it into the tray: it is never lost, and never taken twice.

    Whatever happens but for the database or the place of the files being away: the next mail must not wait for it.
    """
    if mail.cut:
        tray.put_unread(app, mail.data, "It is too large to be fetched, and lies in the mailbox.")
        return
    try:
        _bring_read(app, mail.data, read_mail(mail.data))
    except Unavailable:
        raise
    except Exception as error:
        if not isinstance(error, ProblemError):
            log.exception("a mail could not be brought in", error=type(error).__name__)
        tray.put_unread(app, mail.data)


def _bring_read(app: AppContext, data: bytes, tree: Mapping[str, Any]) -> None:
    mail = tree["mail"]
    if is_ours(app, mail):
        return
    about = about_packet(app, mail)
    try:
        if about is not None:
            bring(app, about.number, data, tree, proven=about.proven)
        elif is_for_drafts(app, mail["to"]) and may_write(app, mail):
            with suppress(Invalid):  # no person wrote it
                note_mail(app, data, tree)
        else:
            tray.put(app, data, tree)
    except Unavailable as problem:
        if problem.code != "mail-rate":
            raise
        tray.put(app, data, tree)


class About(NamedTuple):
    """The packet that a mail is about, and whether it proves that it answers us."""

    number: str
    proven: bool


def about_packet(app: AppContext, mail: Mapping[str, Any]) -> About | None:
    """The packet that a mail is about.

    Proven by the address that was made for it, or by the mail of ours that it answers or that could not be delivered;
    guessed, if it says that it comes from its desk, by our number or the desk's reference in the subject.
    """
    for address in mail["to"]:
        number = packet_of(app, address)
        if number is not None:
            return About(number, proven=True)
    keys = keys_in(app, answered_in(mail))
    subject = str(mail["subject"])
    with app.database.transaction() as session:
        number = _of_keys(session, keys)
        if number is not None:
            return About(number, proven=True)
        named = number_of_text(subject)
        if named and _from_its_desk(app, session, named, mail):
            return About(named, proven=False)
        guessed = _by_reference(app, session, subject, mail)
        return About(guessed, proven=False) if guessed else None


def _of_keys(session: Session, keys: Sequence[str]) -> str | None:
    """The packet of a mail of ours: its key is the packet's number, with that of the case, or a message's id."""
    if not keys:
        return None
    numbers = [found[0] for key in keys if (found := _NUMBER.match(key))]
    by_number = select(Packet.number).where(Packet.number.in_(numbers))
    by_message = select(Packet.number).join(Message, Message.packet_id == Packet.id)
    return session.scalar(by_number.limit(1)) or session.scalar(
        by_message.where(Message.id.in_(keys)).limit(1)
    )


_NUMBER = re.compile(r"P-[0-9]{4,9}")


def _from_its_desk(app: AppContext, session: Session, number: str, mail: Mapping[str, Any]) -> bool:
    with suppress(NotFound):
        packet = workbench.find_packet(session, number)
        return packet.sheet is not None and is_desk(app, parsed(packet.sheet), mail)
    return False


_WORD = re.compile(r"[A-Za-z0-9][A-Za-z0-9/_.-]{3,60}")


def _by_reference(
    app: AppContext, session: Session, subject: str, mail: Mapping[str, Any]
) -> str | None:
    words = {word.strip(".-/") for word in _WORD.findall(subject)}
    if not words:
        return None
    query = select(Packet.number).join(Packet.cases).where(PacketCase.reference.in_(words))
    found = [n for n in session.scalars(query) if _from_its_desk(app, session, n, mail)]
    return found[0] if len(set(found)) == 1 else None
