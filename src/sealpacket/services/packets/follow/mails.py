"""Mails of desks: read as what the desk's sheet says, and kept whole beside the message."""

from __future__ import annotations

import email
import email.policy
import hashlib
from datetime import UTC, datetime, timedelta
from email.message import EmailMessage
from email.utils import parsedate_to_datetime
from html.parser import HTMLParser
from typing import Any

from sqlalchemy import delete, func, select

from sealpacket.app.context import WORKER, AppContext
from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid, Unavailable
from sealpacket.core.sheets.checks.result import say_size
from sealpacket.core.sheets.writing.mail import read_labels
from sealpacket.services.packets.follow.news import take_in
from sealpacket.services.packets.lodge.reply_addresses import packet_of
from sealpacket.services.packets.workbench import find_packet
from sealpacket.store.models import MailCount

_LARGEST_TEXT = 200_000
MAILS_AN_HOUR, BYTES_A_DAY = 60, 200_000_000
"""What the gate takes for one packet."""
_HOUR, _DAY = timedelta(hours=1), timedelta(days=1)


class Post:
    """Takes mails in for the mail gate."""

    def __init__(self, app: AppContext) -> None:
        self._app = app

    def wants(self, address: str) -> bool:
        """Only an address that we made for a packet: nobody can write to one that was not given out."""
        return packet_of(self._app, address) is not None

    def take(self, address: str, data: bytes) -> None:
        """Take in a mail of the packet's desk. The whole mail is kept, encrypted, beside its message.

        Raises Unavailable when more comes than a desk writes, so that it comes again later.
        """
        number = packet_of(self._app, address)
        if number is None:
            raise Invalid("There is no such mailbox.", "Check the address.", code="no-mailbox")
        _count(self._app, number, len(data))
        tree = read_mail(data)
        stored = self._app.blobs.put((data,))
        try:
            used = take_in(self._app, WORKER, number, tree, stored.name)
        except BaseException:
            self._app.blobs.remove(stored.name)
            raise
        if not used:  # it came before
            self._app.blobs.remove(stored.name)


def _count(app: AppContext, number: str, octets: int) -> None:
    """Note that a mail came for a packet. Raises Unavailable beyond the limits."""
    now = datetime.now(UTC)
    with app.database.transaction() as session:
        session.execute(delete(MailCount).where(MailCount.at < now - _DAY))
        packet = find_packet(session, number, lock=True)
        mine = select(func.count(), func.coalesce(func.sum(MailCount.octets), 0)).where(
            MailCount.packet_id == packet.id
        )
        lately = session.execute(mine.where(MailCount.at > now - _HOUR)).one()[0]
        size = session.execute(mine).one()[1]
        if lately >= MAILS_AN_HOUR or size + octets > BYTES_A_DAY:
            raise Unavailable(
                "More mails come for this packet than a desk writes.",
                "Send it later.",
                code="mail-rate",
            )
        session.add(MailCount(packet_id=packet.id, octets=octets))


def read_mail(data: bytes) -> dict[str, Any]:
    """A mail as one tree: its labelled lines and text, and under `mail` its id, sender, subject, date and files."""
    message = email.message_from_bytes(data, policy=email.policy.default)
    if not isinstance(message, EmailMessage):
        raise Invalid("This is not a mail message.", "Send it as RFC 5322 says.", code="no-mail")
    try:
        text = _text(message)[:_LARGEST_TEXT]
        files = [_file(part) for part in message.iter_attachments()]
    except (LookupError, ValueError, AttributeError, KeyError, TypeError) as error:
        raise Invalid(
            "The mail cannot be read.", "Have it sent as plain text.", code="no-mail"
        ) from error
    tree = read_labels(text)
    if files:
        tree["text"] += "\n\n" + "\n".join(f"[attached: {one}]" for one in files)
    digest = hashlib.sha256(data).hexdigest()
    tree["mail"] = {
        "id": str(message["Message-ID"] or "").strip() or f"<{digest[:32]}@no-message-id.invalid>",
        "from": str(message["From"] or ""),
        "subject": str(message["Subject"] or ""),
        "date": _date(message),
        "files": files,
    }
    return dict(without_controls(tree))


def _text(message: EmailMessage) -> str:
    body = message.get_body(("plain", "html"))
    if body is None:
        return ""
    content = str(body.get_content())
    if body.get_content_subtype() != "html":
        return content
    reader = _Words()
    reader.feed(content)
    return "".join(reader.words)


def _file(part: Any) -> str:
    content = part.get_content()
    size = len(content) if isinstance(content, bytes) else len(str(content).encode())
    return f"{part.get_filename() or 'a part without a name'}, {say_size(size)}"


def _date(message: EmailMessage) -> str:
    try:
        return parsedate_to_datetime(str(message["Date"])).isoformat()
    except (ValueError, TypeError):
        return ""


class _Words(HTMLParser):
    """The words of a page, a line for each block."""

    def __init__(self) -> None:
        super().__init__()
        self.words: list[str] = []
        self._skip = 0

    def handle_starttag(self, tag: str, attrs: list[tuple[str, str | None]]) -> None:
        self._skip += tag in ("script", "style")
        if tag in ("p", "br", "div", "tr", "li", "h1", "h2", "h3"):
            self.words.append("\n")

    def handle_endtag(self, tag: str) -> None:
        self._skip -= tag in ("script", "style") and self._skip > 0

    def handle_data(self, data: str) -> None:
        if not self._skip:
            self.words.append(data)
