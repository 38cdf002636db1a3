"""Drafts made from outside: from a program's context, and from a colleague's mail."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from datetime import UTC, datetime
from typing import Any

import re2
from sqlalchemy import select

from sealpacket.app.context import WORKER, Actor, AppContext
from sealpacket.core.context import ProgramContext
from sealpacket.core.controls import one_line
from sealpacket.core.errors import Invalid, ProblemError, Unavailable
from sealpacket.core.inbound import safe_name
from sealpacket.core.life import OVER, Life
from sealpacket.core.sheets.mails import address_of, answered_in, is_authentic, mail_files
from sealpacket.services.packets import exhibits, workbench
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.follow import tray
from sealpacket.services.packets.inbound_mail import take
from sealpacket.services.packets.lodge.reply_addresses import keys_in
from sealpacket.services.packets.naming import named_in
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.tickets import reported_by
from sealpacket.store.models import Packet, PacketTicket

CONTEXT_FILE = "context.json"
_LONGEST_NOTE = 20_000
_TITLE = 200


def note_context(app: AppContext, actor: Actor, context: ProgramContext) -> PacketShown:
    """Start a packet from a program's context, which becomes an exhibit and facts for the sheet."""
    began = min(context.at, datetime.now(UTC)) if context.at else None
    noted = drafts.note(
        app,
        actor,
        title=_title(context.title()),
        text=context.words()[:_LONGEST_NOTE],
        need="fault",
        asset=_asset_named(app, f"{context.thing.serial} {context.thing.host}"),
        began_at=began,
        ticket=context.ticket,
        our_reference=context.our_reference,
        context=context.model_dump(mode="json", exclude_defaults=True),
    )
    content = context.model_dump_json(indent=1, exclude_defaults=True).encode() + b"\n"
    _attach(app, actor, noted.number, CONTEXT_FILE, content)
    return drafts.get(app, noted.number)


def is_for_drafts(app: AppContext, addresses: Sequence[str]) -> bool:
    """Whether a mail goes to the address that makes drafts."""
    gate = app.settings.draft_gate.lower()
    return bool(gate) and gate in map(str.lower, addresses)


def may_write(app: AppContext, mail: Mapping[str, Any]) -> bool:
    """Whether the sender of a mail may note packets, as far as a mail proves who sent it."""
    address = address_of(str(mail["from"]))
    domain = address.rpartition("@")[2]
    allowed = {one.lower().removeprefix("@") for one in app.settings.draft_senders}
    authority = app.settings.mail_authority
    named = bool(address) and (address in allowed or domain in allowed)
    return named and (not authority or is_authentic(mail, authority))


def note_mail(app: AppContext, data: bytes, tree: Mapping[str, Any]) -> str:
    """Make a draft of a mail of our own people, with its files; gives the packet's number.

    A mail that came before makes nothing; one about a ticket, or that answers a report of ours, is added to its packet
    if that is still a draft, and waits in the tray if it is under way. Raises Invalid for a stranger, Unavailable
    beyond the limit.
    """
    mail = tree["mail"]
    sender = str(mail["from"])
    if not may_write(app, mail):
        raise Invalid(
            "This address takes mails of our own people only.",
            "Name the sender in SEALPACKET_DRAFT_SENDERS.",
            code="not-ours",
        )
    if mail["automatic"]:
        raise Invalid("No person wrote this mail.", "It is not kept.", code="automatic")
    take.count(app, len(data))
    subject, text = str(mail["subject"]), str(tree["text"]).strip()
    ticket = ticket_in(app, subject)
    before = _before(app, str(mail["id"]), ticket, keys_in(app, answered_in(mail)))
    if before is not None and (before[2] or before[1] != Life.DRAFTING):
        if not before[2]:
            tray.put(app, data, tree)
        return before[0]
    if before is not None:
        number = before[0]
        _add_words(app, number, sender, text)
    else:
        number = _note(app, mail, _title(subject or text), text, ticket)
    for name, content in mail_files(data):
        if content:
            _attach(app, WORKER, number, name, content)
    return number


def _note(app: AppContext, mail: Mapping[str, Any], title: str, text: str, ticket: str) -> str:
    heads = {"from": str(mail["from"])[:300], "subject": str(mail["subject"])[:400]}
    return drafts.note(
        app,
        Actor(f"mail from {address_of(str(mail['from']))[:200]}", WORKER.roles),
        title=title,
        text=text[:_LONGEST_NOTE],
        need="fault",
        asset=_asset_named(app, f"{title} {text}"[:4000]),
        ticket=ticket,
        ticket_mail={**heads, "id": str(mail["id"])[:300]},
    ).number


def ticket_in(app: AppContext, subject: str) -> str:
    """The number of a ticket of our service desk in a subject."""
    found = re2.search(app.settings.ticket_pattern, subject)
    return found.group(1)[:60] if found is not None and found.groups() else ""


def _before(
    app: AppContext, ident: str, ticket: str, answers: Sequence[str]
) -> tuple[str, str, bool] | None:
    """The packet that this mail has made already (True), the one whose report it `answers`, or the last open one of its
    ticket: number, life, which."""
    with app.database.transaction() as session:
        same = (
            select(Packet).join(Packet.ticket).where(PacketTicket.mail["id"].astext == ident[:300])
        )
        packet = session.scalars(same).first()
        if packet is not None:
            return packet.number, packet.life, True
        reported = [reported_by(key) for key in answers]
        packet = session.scalars(select(Packet).where(Packet.number.in_(reported))).first()
        if packet is not None:
            return packet.number, packet.life, False
        if not ticket:
            return None
        of_ticket = (
            select(Packet)
            .join(Packet.ticket)
            .where(PacketTicket.number == ticket, Packet.life.not_in(OVER))
        )
        packet = session.scalars(of_ticket.order_by(Packet.created_at.desc())).first()
        return (packet.number, packet.life, False) if packet is not None else None


def _add_words(app: AppContext, number: str, sender: str, text: str) -> None:
    """Add what a later mail says to the note of its draft; the same words once."""
    with app.transaction(WORKER, "note added to by mail", f"packet {number}") as tx:
        packet = workbench.in_draft(tx.session, number)
        if text and text not in packet.note:
            by = f"{address_of(sender)}:\n" if sender else ""
            packet.note = f"{packet.note}\n\n{by}{text}".strip()[:_LONGEST_NOTE]
        else:
            tx.audited = False


def _title(words: str) -> str:
    title = one_line(words).strip()[:_TITLE]
    return title if len(title) >= 3 else f"Mail: {title or 'without a subject'}"


def _asset_named(app: AppContext, words: str) -> str | None:
    """The one thing that words name; None where they name none, or could mean several."""
    with app.database.transaction() as session:
        found = named_in(session, words)
        return found[0].asset.id if len(found) == 1 else None


def _attach(app: AppContext, actor: Actor, number: str, name: str, content: bytes) -> None:
    """Add a file to a draft under a name that is free; one that cannot be kept is named in the note."""
    try:
        with app.database.transaction() as session:
            packet = workbench.find_packet(session, number)
            taken = {one.name: one.sha256 for one in packet.exhibits}
        wanted = exhibits.clean_name(safe_name(name))
        free = exhibits.free_name(wanted, taken)
        exhibits.announce(app, actor, number, free, len(content))
        exhibits.receive(app, actor, number, free, iter((content,)))
    except Unavailable:
        raise
    except ProblemError as problem:
        _add_words(app, number, "", f"[{safe_name(name)} was not kept: {problem.detail}]")
