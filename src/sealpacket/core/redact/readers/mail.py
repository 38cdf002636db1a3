"""Mails (RFC 5322, MIME): headers, every part by what it is, the names of what is attached."""

from __future__ import annotations

import email
import email.policy
from email.message import EmailMessage, MIMEPart
from typing import IO

from sealpacket.core.redact.engine import Held
from sealpacket.core.redact.readers.base import LARGEST_PARSED, Work, size_of, spool
from sealpacket.core.redact.readers.packed import Inner

_KEPT = frozenset(
    {"mime-version", "content-type", "content-transfer-encoding", "content-disposition", "date"}
)


def read_mail(source: IO[bytes], target: IO[bytes], work: Work, inner: Inner, label: str) -> None:
    """The mail made anew: text parts as text, attachments through their own readers."""
    if size_of(source) > LARGEST_PARSED:
        raise Held(f"The mail is larger than {LARGEST_PARSED >> 20} MB.")
    message = email.message_from_binary_file(source, policy=email.policy.default)
    if not isinstance(message, EmailMessage):
        raise Held("This is no mail.")
    try:
        made = _made(message, work, inner)
        target.write(made.as_bytes(policy=email.policy.SMTP.clone(max_line_length=200)))
    except (LookupError, ValueError, AttributeError, TypeError, KeyError) as error:
        raise Held(f"The mail is broken ({type(error).__name__}).") from error


def _made(message: MIMEPart, work: Work, inner: Inner) -> EmailMessage:
    made = EmailMessage(policy=email.policy.default)
    for name, value in message.items():
        if name.lower() in _KEPT and name.lower() != "date":
            continue
        line = f"{name}: {' '.join(str(value).split())}"
        clean = work.words(line)
        made[name] = clean.partition(": ")[2] if clean.startswith(f"{name}: ") else clean
    if message.is_multipart():
        made["Content-Type"] = message.get_content_type()
        for part in message.iter_parts():
            made.attach(_part(part, work, inner))
        made.set_boundary(f"=-of-the-outgoing-copy-{work.seen[1]}")
        work.count(0, 1)
        return made
    _fill(made, message, work, inner)
    return made


def _part(part: MIMEPart, work: Work, inner: Inner) -> EmailMessage:
    if part.get_content_type() == "message/rfc822":
        made = EmailMessage(policy=email.policy.default)
        contained = part.get_content()
        made.set_content(_made(contained, work.inside(), inner))
        return made
    if part.is_multipart():
        return _made(part, work.inside(), inner)
    made = EmailMessage(policy=email.policy.default)
    _fill(made, part, work, inner)
    return made


def _fill(made: EmailMessage, part: MIMEPart, work: Work, inner: Inner) -> None:
    kind, _, sub = part.get_content_type().partition("/")
    name = part.get_filename()
    if kind == "text" and name is None:
        text = part.get_content()
        made.set_content(work.words(str(text)), subtype=sub, cte="quoted-printable")
        return
    payload = part.get_payload(decode=True) or b""
    with spool() as plain, spool() as copy:
        plain.write(payload if isinstance(payload, bytes) else b"")
        plain.seek(0)
        work.count(len(payload), 1)
        inner(plain, copy, work.inside(), name or f"part.{sub}")
        copy.seek(0)
        # One that is damaged holds whatever stood behind it, the name as well.
        shown = "inline" if part.get_content_disposition() == "inline" else "attachment"
        made.set_content(copy.read(), maintype=kind, subtype=sub, disposition=shown,
                         filename=work.name(name) if name else None)  # fmt: skip
