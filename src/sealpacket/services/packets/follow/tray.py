"""The tray: incoming mail and documents that match no packet."""

from __future__ import annotations

import hashlib
from collections.abc import Iterator, Mapping
from datetime import UTC, datetime
from typing import Any

from sqlalchemy import case, func, or_, select
from sqlalchemy.dialects.postgresql import insert
from sqlalchemy.orm import Session

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, NotFound
from sealpacket.core.notices import NoticeKind
from sealpacket.services.notices import announcing
from sealpacket.services.packets.follow.entered import take_reply
from sealpacket.services.packets.follow.schemas import TrayItemShown
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.services.packets.workbench import find_packet
from sealpacket.store.models import TrayItem

MOST = 200
"""Maximum number of items shown."""


def put(app: AppContext, data: bytes, tree: Mapping[str, Any]) -> None:
    """Put a mail, and what was read in it, into the tray; the same one lies there once."""
    mail, words = tree["mail"], " ".join(str(tree["text"]).split())[:400]
    _put(app, data, f"mail {mail['id']}", "mail", str(mail["from"]), str(mail["subject"]), words)


def put_unread(app: AppContext, data: bytes, words: str = "It cannot be read as a mail.") -> None:
    """Put a mail into the tray in which nothing could be read, as it came."""
    digest = hashlib.sha256(data).hexdigest()
    _put(app, data, f"mail {digest}", "mail", "", "A mail that cannot be read", words)


def put_paper(app: AppContext, desk: str, name: str, content: bytes) -> None:
    """Put a paper from a desk's folder into the tray."""
    digest = hashlib.sha256(content).hexdigest()
    words = " ".join(content[:2000].decode("utf-8", "replace").split())[:400]
    _put(app, content, f"paper {desk} {digest}", "paper", desk, name, words)


def _put(
    app: AppContext, data: bytes, ident: str, sort: str, sender: str, subject: str, words: str
) -> None:
    with app.database.transaction() as session:
        if session.scalar(select(TrayItem.id).where(TrayItem.ident == ident[:500])) is not None:
            return
    stored = app.blobs.put((data,))
    made = insert(TrayItem).values(
        ident=ident[:500], sort=sort, sender=sender[:300], subject=subject[:500], words=words,
        blob=stored.name,
    )  # fmt: skip
    with app.database.transaction() as session:
        kept = session.scalar(made.on_conflict_do_nothing().returning(TrayItem.id))
        if kept is None:
            app.forget(session, stored.name)
        else:
            announcing.announce(session, NoticeKind.UNPLACED, kept)


def listed(app: AppContext, session: Session) -> list[TrayItemShown]:
    """The items of the tray: those that claim to be from one of our desks first, then the oldest."""
    domains = {
        address.rpartition("@")[2].lower()
        for address in app.settings.desks.values()
        if address.startswith("mailto:")
    }
    ours = [TrayItem.sender.icontains(f"@{one}", autoescape=True) for one in domains]
    rank = case((or_(TrayItem.sort != "mail", *ours), 0), else_=1)
    query = select(TrayItem).where(TrayItem.done_at.is_(None)).order_by(rank, TrayItem.at)
    return [
        TrayItemShown.model_validate(one, from_attributes=True)
        for one in session.scalars(query.limit(MOST))
    ]


def count(session: Session) -> int:
    """How many things wait in the tray."""
    waiting = select(func.count()).where(TrayItem.done_at.is_(None))
    return session.scalar(waiting) or 0


def list_tray(app: AppContext) -> list[TrayItemShown]:
    """The items of the tray: those that claim to be from one of our desks first, then the oldest."""
    with app.database.transaction() as session:
        return listed(app, session)


def attach(app: AppContext, actor: Actor, ident: str, number: str) -> PacketShown:
    """Attach an item of the tray to a packet, where it is read like any reply."""
    with app.database.transaction() as session:
        item = _waiting(session, ident)
        data = b"".join(app.blobs.read(item.blob)) if item.blob else b""
        sender, sort = item.sender, item.sort
        find_packet(session, number)
    shown = take_reply(
        app, actor, number, data=data, by=sender if sort == "mail" else "", asks=None
    )
    with app.transaction(actor, "brought from the tray", f"packet {number}") as tx:
        item = _waiting(tx.session, ident)
        item.packet_id = find_packet(tx.session, number).id
        _done(app, tx.session, item, actor)
    return shown


def discard(app: AppContext, actor: Actor, ident: str, reason: str) -> None:
    """Take something out of the tray that belongs to no packet; it is deleted."""
    with app.transaction(actor, "tray item discarded", "tray", reason=reason) as tx:
        item = _waiting(tx.session, ident)
        tx.detail |= {"from": item.sender, "subject": item.subject}
        _done(app, tx.session, item, actor)


def _done(app: AppContext, session: Session, item: TrayItem, actor: Actor) -> None:
    item.done_at, item.done_by = datetime.now(UTC), actor.name
    app.forget(session, item.blob)
    item.blob, item.words = None, ""
    announcing.end(session, NoticeKind.UNPLACED, item.id)


def _waiting(session: Session, ident: str) -> TrayItem:
    item = session.get(TrayItem, ident, with_for_update=True)
    if item is None:
        raise NotFound("There is nothing like this in the tray.", "Open Today again.")
    if item.done_at is not None:
        raise Conflict(
            f"{item.done_by} has dealt with it already.", "Open Today again.", code="done-before"
        )
    return item


def content(app: AppContext, actor: Actor, ident: str) -> Iterator[bytes]:
    """An item of the tray, as it arrived."""
    with app.transaction(actor, "tray item fetched", "tray") as tx:
        item = _waiting(tx.session, ident)
        return app.blobs.read(item.blob or "")
