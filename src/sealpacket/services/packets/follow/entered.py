"""Replies that a person enters: pasted, typed, or dropped as the mail or document that arrived."""

from __future__ import annotations

import hashlib
from dataclasses import replace
from datetime import UTC, datetime
from typing import Any

from sealpacket.app.context import Actor, AppContext
from sealpacket.core.errors import Conflict, Invalid
from sealpacket.core.life import AT_DESK, Life
from sealpacket.core.sheets import Sheet, read_all, read_reply
from sealpacket.core.sheets.mails import read_mail
from sealpacket.core.sheets.replies import is_mail, wanted
from sealpacket.services.desks import parsed
from sealpacket.services.packets import workbench
from sealpacket.services.packets.draft import drafts
from sealpacket.services.packets.follow import vendor_files
from sealpacket.services.packets.follow.news import (
    Arrival,
    moment_of,
    note_news,
    note_words,
    questions_of,
    written_at,
)
from sealpacket.services.packets.inbound_mail.take import keep_mail
from sealpacket.services.packets.schemas import PacketShown
from sealpacket.store.models import Message

LARGEST = 30_000_000


def take_reply(
    app: AppContext,
    actor: Actor,
    number: str,
    *,
    text: str = "",
    data: bytes = b"",
    by: str = "",
    at: datetime | None = None,
    asks: bool | None = None,
    case: str = "",
) -> PacketShown:
    """Record a reply that reached us directly: `text`, or `data`, a mail (RFC 5322) or document as it arrived.
    Raises Invalid for an empty, too large or future reply, Conflict if the packet was never at a desk.

    A reply that the sheet can read acts like one that the desk sent; any other is kept as the desk's words.
    `asks` states whether the desk waits for an answer; by default this is read from the words. A repeated reply counts
    once.
    """
    if not text.strip() and not data:
        raise Invalid("The reply is empty.", "Paste what the desk said.", field="text")
    if len(data) > LARGEST:
        raise Invalid(
            "The file is larger than a reply of a desk.", "Save the mail without its attachments."
        )
    if at is not None and at > datetime.now(UTC):
        raise Invalid("The time is in the future.", "Enter when the reply arrived.", field="at")
    with app.database.transaction() as session:
        packet = workbench.find_packet(session, number)
        if packet.sheet is None or packet.life not in (Life.SEALED, *AT_DESK):
            raise Conflict(
                f"{packet.number} is {packet.life}; no desk can have answered it.",
                "Lodge it first.",
                code="not-lodged",
            )
        sheet, ident = parsed(packet.sheet), packet.id
        reference = workbench.case_named(packet, case).reference if case else None
    given = data or text.encode()
    tree = _read(sheet, given)
    if tree is not None and _says_something(sheet, tree):
        keep_mail(
            app,
            data,
            lambda came: note_news(
                app,
                actor,
                ident,
                sheet,
                tree,
                reference,
                replace(came, sender=by, at=at or written_at(tree)),
            ),
        )
        return drafts.get(app, number)
    words = _Words.of(given, text)
    keep_mail(
        app,
        data if is_mail(given) else b"",
        lambda came: _keep_words(app, actor, number, words, came, by, at, asks, case),
    )
    return drafts.get(app, number)


def _read(sheet: Sheet, given: bytes) -> Any:
    """The reply as the sheet reads it; None if it cannot."""
    if sheet.replies.arrive == "mail":
        return read_mail(given) if is_mail(given) else None
    return read_reply(sheet, given)


def _says_something(sheet: Sheet, tree: Any) -> bool:
    found = read_all(sheet, tree)
    return bool(found.news.status or found.refusals or (found.reference and found.news.messages))


class _Words:
    """The text of a reply, with its author, date and identity."""

    def __init__(self, text: str, ident: str, author: str = "", at: str = "") -> None:
        self.text, self.ident, self.author, self.at = text, ident, author, at

    @classmethod
    def of(cls, given: bytes, text: str) -> _Words:
        """Of a mail, or of a text."""
        if text or not is_mail(given):
            said = text or given.decode("utf-8", "replace")
            return cls(
                said.strip(), f"hand-{hashlib.sha256(said.strip().encode()).hexdigest()[:32]}"
            )
        tree = read_mail(given)
        mail = tree["mail"]
        return cls(str(tree["text"]).strip(), mail["id"], mail["from"], mail["date"])


def _keep_words(
    app: AppContext,
    actor: Actor,
    number: str,
    words: _Words,
    came: Arrival,
    by: str,
    at: datetime | None,
    asks: bool | None,
    case: str,
) -> bool:
    """Keep plain words as a message; gives whether they are new."""
    with app.transaction(actor, "reply entered", f"packet {number}", by=by or words.author) as tx:
        packet = workbench.find_packet(tx.session, number, lock=True)
        named = workbench.case_named(packet, case)
        if any(one.desk_id == words.ident and one.case is named for one in packet.messages):
            tx.audited = False
            return False
        vendor = packet.vendor_name or "the desk"
        wants = () if asks is False else wanted(words.text, asks=asks is True, unlabelled=True)
        message = Message(
            direction="in", how="hand", desk_id=words.ident, text=words.text[:20_000], case=named,
            by=(by or words.author or vendor)[:200], sender=words.author[:300],
            at=at or moment_of(words.at), asks=bool(wants),
        )  # fmt: skip
        message.questions = questions_of(wants)
        message.original_blob = came.original
        packet.messages.append(message)
        vendor_files.keep(message, came.attached)
        packet.update_turn()
        note_words(packet, workbench.sheet_of(packet), named, words.text)
        return True
