"""Reading a mail (RFC 5322, MIME) of a desk's as one tree."""

from __future__ import annotations

import email
import email.policy
import hashlib
import re
from email.message import EmailMessage
from email.utils import getaddresses, parsedate_to_datetime
from html.parser import HTMLParser
from typing import Any

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.checks.result import say_size
from sealpacket.core.sheets.writing.mail import read_labels

_LARGEST_TEXT = 200_000


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
        "in_reply_to": str(message["In-Reply-To"] or "").strip(),
        "references": str(message["References"] or "").strip(),
        "files": files,
        "to": _addresses(message),
        "automatic": _automatic(message),
        "failed": _undelivered(message) if _is_report(message) else "",
        "reason": _why_undelivered(message) if _is_report(message) else "",
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


MOST_FILES = 30
"""Attachments of a mail that are kept."""


def mail_files(data: bytes) -> list[tuple[str, bytes]]:
    """What is attached to a mail: names and contents."""
    message = email.message_from_bytes(data, policy=email.policy.default)
    found: list[tuple[str, bytes]] = []
    if not isinstance(message, EmailMessage) or _is_report(message):
        return found
    try:
        for part in message.iter_attachments():
            content = part.get_payload(decode=True)
            if isinstance(content, bytes) and len(found) < MOST_FILES:
                found.append((str(part.get_filename() or "a part without a name"), content))
    except (LookupError, ValueError, AttributeError, KeyError, TypeError):
        return found
    return found


def _addresses(message: EmailMessage) -> list[str]:
    """Everybody to whom it went, as far as its head says."""
    heads = ("To", "Cc", "Delivered-To", "X-Original-To", "Envelope-To")
    values = [str(value) for head in heads for value in message.get_all(head, [])]
    return [address.lower() for _, address in getaddresses(values) if "@" in address][:50]


def _is_report(message: EmailMessage) -> bool:
    """Whether it tells that a mail could not be delivered (RFC 3464)."""
    report = str(message.get_param("report-type") or "").lower()
    return message.get_content_type() == "multipart/report" and report == "delivery-status"


def _automatic(message: EmailMessage) -> str:
    """bounce, or reply for an answer that no person wrote (RFC 3834); empty for anything else, tickets included."""
    if _is_report(message):
        return "bounce"
    submitted = str(message["Auto-Submitted"] or "").partition(";")[0].strip().lower()
    told = str(message["X-Autoreply"] or message["X-Autorespond"] or "").strip().lower()
    precedence = str(message["Precedence"] or "").strip().lower()
    if submitted == "auto-replied" or told not in ("", "no") or precedence == "auto_reply":
        return "reply"
    return ""


_IN_REPORT = re.compile(r"(?im)^message-id:\s*(<[^<>\s]{3,250}>)")


def _undelivered(message: EmailMessage) -> str:
    """The Message-ID of the mail that a report is about."""
    for part in message.walk():
        if part.get_content_type() in ("message/rfc822", "text/rfc822-headers", "message/global"):
            match = _IN_REPORT.search(part.as_string()[:20_000])
            if match:
                return match[1]
    return ""


def _why_undelivered(message: EmailMessage) -> str:
    """What the report says of the reason."""
    for part in message.walk():
        if part.get_content_type() == "message/delivery-status":
            match = re.search(r"(?im)^diagnostic-code:\s*(?:smtp;\s*)?(.{3,300})", part.as_string())
            if match:
                return " ".join(match[1].split())
    return ""


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
