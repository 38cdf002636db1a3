"""Sending mail: SMTP (RFC 5321) to the one configured server, messages as RFC 5322 says."""

from __future__ import annotations

import smtplib
import ssl
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid
from urllib.parse import unquote, urlsplit

from sealpacket.core.errors import Unavailable


def send(server: str, sender: str, to: str, subject: str, text: str) -> None:
    """Send a plain-text message. Raises Unavailable if the server cannot be reached or does not take it."""
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = sender, to, subject
    message["Date"], message["Message-ID"] = format_datetime(datetime.now(UTC)), make_msgid(domain="sealpacket.invalid")
    message["Auto-Submitted"] = "auto-generated"
    message.set_content(text)
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
