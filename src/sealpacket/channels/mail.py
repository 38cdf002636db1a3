"""Sending mail: SMTP (RFC 5321) to the one configured server, messages as RFC 5322 and MIME say."""

from __future__ import annotations

import smtplib
import ssl
from collections.abc import Iterable
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid
from mimetypes import guess_type
from urllib.parse import unquote, urlsplit

from sealpacket.core.errors import Unavailable


def compose(
    sender: str,
    to: str,
    subject: str,
    text: str,
    *,
    message_id: str = "",
    reply_to: str = "",
    about: str = "",
    files: Iterable[tuple[str, bytes]] = (),
) -> EmailMessage:
    """A message with its attachments. `about` is the Message-ID that it goes on from."""
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = sender, to, subject
    message["Date"] = format_datetime(datetime.now(UTC))
    message["Message-ID"] = message_id or make_msgid(domain="sealpacket.invalid")
    if reply_to:
        message["Reply-To"] = reply_to
    if about:
        message["In-Reply-To"] = message["References"] = about
    message.set_content(text)
    for name, content in files:
        main, _, sub = (guess_type(name)[0] or "application/octet-stream").partition("/")
        message.add_attachment(content, maintype=main, subtype=sub, filename=name)
    return message


def send(server: str, message: EmailMessage) -> None:
    """Hand a message to the server. Raises Unavailable if it cannot be reached or does not take it."""
    parts = urlsplit(server)
    host, user, password = parts.hostname or "", unquote(parts.username or ""), unquote(parts.password or "")
    try:
        if parts.scheme == "smtps":
            connection: smtplib.SMTP = smtplib.SMTP_SSL(
                host, parts.port or 465, timeout=20, context=ssl.create_default_context()
            )
        else:
            connection = smtplib.SMTP(host, parts.port or 25, timeout=20)
        with connection:
            if user:
                connection.login(user, password)
            connection.send_message(message)
    except (OSError, smtplib.SMTPException) as error:
        raise Unavailable(
            "The mail server does not take the message.", "Look at SEALPACKET_MAIL and at the server.", code="mail"
        ) from error
