"""Mails of desks: read as what the desk's sheet says, and kept whole beside the message."""

from __future__ import annotations

import email
import email.policy
from email.message import EmailMessage
from email.utils import parsedate_to_datetime
from html.parser import HTMLParser
from typing import Any

from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.checks.result import say_size
from sealpacket.core.sheets.writing.mail import read_labels
from sealpacket.services.house import WORKER, House
from sealpacket.services.packets.addresses import packet_of
from sealpacket.services.packets.following import take_in

_LARGEST_TEXT = 200_000


class Post:
    """Takes mails in for the mail gate."""

    def __init__(self, house: House) -> None:
        self._house = house

    def wants(self, address: str) -> bool:
        """Only an address that we made for a packet: nobody can write to one that was not given out."""
        return packet_of(self._house.settings, address) is not None

    def take(self, address: str, data: bytes) -> None:
        """Take in a mail of the packet's desk. The whole mail is kept, encrypted, beside its message."""
        number = packet_of(self._house.settings, address)
        if number is None:
            raise Invalid("The mail is for nobody here.", "Check the address.", code="no-mailbox")
        stored = self._house.blobs.put((data,))
        try:
            take_in(self._house, WORKER, number, read_mail(data), stored.name)
        except BaseException:
            self._house.blobs.remove(stored.name)
            raise


def read_mail(data: bytes) -> dict[str, Any]:
    """A mail as one tree: its labelled lines and text, and under `mail` its id, sender, subject, date and files."""
    message = email.message_from_bytes(data, policy=email.policy.default)
    if not isinstance(message, EmailMessage):
        raise Invalid("This is no mail.", "Send it as RFC 5322 says.", code="no-mail")
    try:
        text = _text(message)[:_LARGEST_TEXT]
        files = [_file(part) for part in message.iter_attachments()]
    except (LookupError, ValueError, AttributeError, KeyError, TypeError) as error:
        raise Invalid("The mail cannot be read.", "Have it sent as plain text.", code="no-mail") from error
    tree = read_labels(text)
    if files:
        tree["text"] += "\n\n" + "\n".join(f"[attached: {one}]" for one in files)
    tree["mail"] = {
        "id": str(message["Message-ID"] or ""), "from": str(message["From"] or ""),
        "subject": str(message["Subject"] or ""),
        "date": _date(message), "files": files,
    }  # fmt: skip
    return tree


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
