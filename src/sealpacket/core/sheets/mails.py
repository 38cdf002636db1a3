"""Reading a mail (RFC 5322, MIME) of a desk's as one tree."""

from __future__ import annotations

import email
import hashlib
import re
from collections.abc import Mapping
from email.errors import MessageError
from email.header import decode_header, make_header
from email.message import EmailMessage, Message
from email.policy import EmailPolicy, Policy
from email.utils import parsedate_to_datetime
from html.parser import HTMLParser
from typing import Any, cast

from sealpacket.core.controls import without_controls
from sealpacket.core.errors import Invalid
from sealpacket.core.sheets.checks.result import say_size
from sealpacket.core.sheets.writing.mail import read_labels

_LARGEST_TEXT, _LARGEST_PAGE, _LONGEST_HEAD = 200_000, 400_000, 8_000
"""Characters of the text, of a page of HTML that the text is taken from, and of a header, that are looked at."""
MOST_FILES = 30
"""Attachments of a mail that are kept."""


class _Mail(EmailMessage):
    """A mail whose headers are plain text: Python's own reading of them fails, or takes minutes, on hostile ones."""

    def is_attachment(self) -> bool:
        return self.get_content_disposition() == "attachment"


class _Plain(EmailPolicy):
    def header_fetch_parse(self, name: str, value: str) -> str:
        return _raw(value)


_POLICY = cast("Policy[EmailMessage]", _Plain(message_factory=_Mail))


def _raw(value: str) -> str:
    """A header on one line; bytes beyond ASCII are read as UTF-8."""
    text = value[:_LONGEST_HEAD].encode("utf-8", "surrogateescape").decode("utf-8", "replace")
    return " ".join(text.split())


def _decoded(value: str) -> str:
    """The text of a header, its encoded words (RFC 2047) decoded where they can be."""
    try:
        return str(make_header(decode_header(value)))
    except (MessageError, LookupError, ValueError):
        return value


def read_mail(data: bytes) -> dict[str, Any]:
    """A mail as one tree: its labelled lines and text, and under `mail` its id, sender, subject, date and files.

    `mail.from` is `name <address>` with the one address that it surely says, and no address where it says several.
    Raises Invalid for anything that cannot be read, whatever it is.
    """
    try:
        return _read(email.message_from_bytes(data, policy=_POLICY), data)
    except Invalid:
        raise
    except Exception as error:
        raise Invalid(
            "The mail cannot be read.", "Have it sent as plain text.", code="no-mail"
        ) from error


def _read(message: EmailMessage, data: bytes) -> dict[str, Any]:
    text = _text(message)[:_LARGEST_TEXT]
    files = [_file(part) for part in message.iter_attachments()]
    tree = read_labels(text)
    if files:
        attached = "\n\n" + "\n".join(f"[attached: {one}]" for one in files)
        tree["text"] += attached
        text += attached
    digest = hashlib.sha256(data).hexdigest()
    report = _is_report(message)
    tree["mail"] = {
        "id": _head(message, "Message-ID") or f"<{digest[:32]}@no-message-id.invalid>",
        "from": _sender(message),
        "subject": _decoded(_head(message, "Subject")),
        "date": _date(message),
        "in_reply_to": _head(message, "In-Reply-To"),
        "references": _head(message, "References"),
        "text": text.strip(),
        "files": files,
        "to": _addresses(message),
        "automatic": _automatic(message),
        "failed": _undelivered(message) if report else "",
        "reason": _why_undelivered(message) if report else "",
        "results": [_raw(str(one)) for one in message.get_all("Authentication-Results", [])][:20],
    }
    return dict(without_controls(tree))


def _head(message: EmailMessage, name: str) -> str:
    return str(message[name] or "").strip()


_ANGLE = re.compile(r"<\s*([^<>@\s\"]{1,64}@[A-Za-z0-9.-]{1,255})\s*>\s*$")
_BARE = re.compile(r"[^<>@\s\"(),:;]{1,64}@[A-Za-z0-9.-]{1,255}")


def _sender(message: EmailMessage) -> str:
    """Who it says it is from: `name <address>`; the name alone where there is no one address, or more than one.

    A name that looks like an address is no address: `care@desk.example <x@elsewhere.example>` is from x.
    """
    heads = [str(one) for one in message.get_all("From", [])]
    value = heads[0] if len(heads) == 1 else ""
    if _BARE.fullmatch(value):
        return value
    found = _ANGLE.search(value)
    if found is None or value.count("<") > 1:
        return _without_address(_decoded(value or ", ".join(heads)))
    name = _without_address(_decoded(value[: found.start()].strip().strip('"').strip()))
    return f"{name} <{found[1]}>" if name else found[1]


def _without_address(name: str) -> str:
    return name.replace("<", "(").replace(">", ")").replace("@", " at ")


def address_of(sender: str) -> str:
    """The address, in lower case, of a sender as `read_mail` writes it; empty if it has none."""
    found = _ANGLE.search(sender)
    if found is None and not _BARE.fullmatch(sender):
        return ""
    return (found[1] if found else sender).lower()


def _text(message: EmailMessage) -> str:
    body = message.get_body(("plain", "html"))
    if body is None:
        return ""
    content = _content(body)
    if body.get_content_subtype() != "html":
        return content
    reader = _Words()
    try:
        reader.feed(content[:_LARGEST_PAGE])
    except AssertionError:  # markup that no browser would accept; the text before it is kept
        reader.words.append("\n[The rest of the mail cannot be read.]")
    return "".join(reader.words)


def _content(part: Any) -> str:
    """The text of a part in its charset, or in one that reads every byte."""
    content = part.get_payload(decode=True)
    if not isinstance(content, bytes):
        return ""
    content = content[: 4 * _LARGEST_PAGE]
    try:
        return content.decode(part.get_content_charset("utf-8"), "replace")
    except (LookupError, ValueError):
        return content.decode("utf-8", "replace")


def _file(part: Any) -> str:
    content = part.get_payload(decode=True)
    size = len(content) if isinstance(content, bytes) else len(str(part.get_payload()).encode())
    return f"{_name(part)}, {say_size(size)}"


def _name(part: Any) -> str:
    return _decoded(str(part.get_filename() or "a part without a name"))


def mail_files(data: bytes) -> list[tuple[str, bytes]]:
    """The attachments of a mail: names and contents."""
    found: list[tuple[str, bytes]] = []
    try:
        message = email.message_from_bytes(data, policy=_POLICY)
        if _is_report(message):
            return found
        for part in message.iter_attachments():
            content = part.get_payload(decode=True)
            if isinstance(content, bytes) and len(found) < MOST_FILES:
                found.append((_name(part), content))
    except Exception:  # the mail itself is kept whole, in the tray or beside its message
        return found
    return found


def _addresses(message: EmailMessage) -> list[str]:
    """Everybody to whom it went, as far as its head says."""
    heads = ("To", "Cc", "Delivered-To", "X-Original-To", "Envelope-To")
    values = [str(value) for head in heads for value in message.get_all(head, [])]
    return [one.lower() for one in _BARE.findall(" ".join(values))][:50]


def _is_report(message: EmailMessage) -> bool:
    """Whether a mail reports that another could not be delivered (RFC 3464)."""
    report = str(message.get_param("report-type") or "").lower()
    return message.get_content_type() == "multipart/report" and report == "delivery-status"


def _automatic(message: EmailMessage) -> str:
    """bounce; reply for an answer that no person wrote (RFC 3834); many for what goes to many; empty for all else.

    What a desk's own program writes about a case is none of these.
    """
    if _is_report(message):
        return "bounce"
    submitted = _head(message, "Auto-Submitted").partition(";")[0].strip().lower()
    told = (_head(message, "X-Autoreply") or _head(message, "X-Autorespond")).lower()
    precedence = _head(message, "Precedence").lower()
    if submitted == "auto-replied" or told not in ("", "no") or precedence == "auto_reply":
        return "reply"
    listed = message["List-Id"] is not None or precedence in ("bulk", "junk", "list")
    return "many" if listed else ""


_IN_REPORT = re.compile(r"(?im)^message-id:\s*(<[^<>\s]{3,250}>)")


def _undelivered(message: EmailMessage) -> str:
    """The Message-ID of the mail that a report is about."""
    for part in message.iter_parts():
        if part.get_content_type() in ("message/rfc822", "message/global"):
            inner = part.get_payload()
            if isinstance(inner, list) and inner and isinstance(inner[0], Message):
                return str(inner[0]["Message-ID"] or "").strip()
        if part.get_content_type() == "text/rfc822-headers":
            match = _IN_REPORT.search(_content(part)[:20_000])
            if match:
                return match[1]
    return ""


def _why_undelivered(message: EmailMessage) -> str:
    """The reason that a delivery report gives."""
    for part in message.iter_parts():
        if part.get_content_type() == "message/delivery-status":
            blocks = part.get_payload()
            for block in blocks if isinstance(blocks, list) else ():
                reason = str(block["Diagnostic-Code"] or "") if isinstance(block, Message) else ""
                if reason:
                    return re.sub(r"(?i)^smtp;\s*", "", reason)[:300]
    return ""


def _date(message: EmailMessage) -> str:
    try:
        return parsedate_to_datetime(_head(message, "Date")).isoformat()
    except (ValueError, TypeError, OverflowError):
        return ""


_RESULT = re.compile(r"(?i)(?:^|;)\s*(dmarc|dkim|spf)\s*=\s*([a-z]+)([^;]*)")
_SIGNED_BY = {"dkim": "header.d", "spf": "smtp.mailfrom"}


def is_authentic(mail: Mapping[str, Any], authority: str) -> bool:
    """Whether the one server that is trusted found that a mail comes from the domain that it says (RFC 8601).

    By DMARC; or, where that was not looked at, by a DKIM signature or SPF of the same domain. The first results that
    the authority wrote count: what came with the mail stands below.
    """
    domain = address_of(str(mail["from"])).rpartition("@")[2]
    for one in mail["results"]:
        plain = re.sub(r"\([^()]*\)", " ", one)
        server, _, results = plain.partition(";")
        if server.split()[:1] != [authority]:
            continue
        found = _RESULT.findall(results)
        verdicts = [result.lower() for method, result, _ in found if method.lower() == "dmarc"]
        if verdicts:
            return bool(domain) and verdicts[0] == "pass"
        return any(
            result.lower() == "pass" and _of_domain(method.lower(), about, domain)
            for method, result, about in found
        )
    return False


def _of_domain(method: str, about: str, domain: str) -> bool:
    named = re.search(rf"{re.escape(_SIGNED_BY[method])}\s*=\s*([^\s;]+)", about)
    theirs = named[1].rpartition("@")[2].lower() if named else ""
    return bool(domain) and (theirs == domain or (domain.endswith(f".{theirs}") and "." in theirs))


def answered_in(mail: Mapping[str, Any]) -> str:
    """The headers that say which mails this one answers, or could not be delivered."""
    return f"{mail['in_reply_to']} {mail['references']} {mail['failed']}"


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
