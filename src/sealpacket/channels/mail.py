"""Sending mail: SMTP (RFC 5321) to the one configured server, messages as RFC 5322 and MIME say."""

from __future__ import annotations

import smtplib
import socket
import ssl
import threading
from collections.abc import Iterable, Iterator
from contextlib import contextmanager, suppress
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid
from mimetypes import guess_type
from urllib.parse import SplitResult, unquote, urlsplit

from sealpacket.core.errors import Unavailable
from sealpacket.core.sheets.replies import MAIL_DOMAIN

_EACH, _IN_ALL = 20, 120
"""Seconds between two bytes, and for the whole of a message."""


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
    automatic: bool = False,
) -> EmailMessage:
    """A message with its attachments. `about` is the Message-ID that it goes on from; `automatic`: nobody sends it
    (RFC 3834), so that no program answers."""
    message = EmailMessage()
    message["From"], message["To"], message["Subject"] = sender, to, subject
    message["Date"] = format_datetime(datetime.now(UTC))
    message["Message-ID"] = message_id or make_msgid(domain=MAIL_DOMAIN)
    if automatic:
        message["Auto-Submitted"] = "auto-generated"
    if reply_to:
        message["Reply-To"] = reply_to
    if about:
        message["In-Reply-To"] = message["References"] = about
    message.set_content(text)
    for name, content in files:
        main, _, sub = (guess_type(name)[0] or "application/octet-stream").partition("/")
        message.add_attachment(content, maintype=main, subtype=sub, filename=name)
    return message


def send(server: str, message: EmailMessage, *, bounces_to: str = "") -> None:
    """Hand a message to the server: `smtp://` by STARTTLS (RFC 3207), `smtps://` by TLS from the start.

    `bounces_to` is where it tells what it could not deliver; the sender, where that is empty. Certificates are
    verified. `smtp+plain://` encrypts nothing: for a server on this machine. Raises Unavailable if the server cannot be
    reached, takes longer than two minutes in all or does not take the message.
    """
    parts = urlsplit(server)
    trust = ssl.create_default_context()
    try:
        with _connected(parts, trust) as connection, _cut_off(connection):
            if parts.scheme == "smtp":
                connection.starttls(context=trust)
            if parts.username:
                connection.login(unquote(parts.username), unquote(parts.password or ""))
            connection.send_message(message, from_addr=bounces_to or None)
    except smtplib.SMTPNotSupportedError as error:
        raise Unavailable(
            "The mail server does not speak STARTTLS, or no sign-in: nothing was sent.",
            "Set its encryption up; or let SEALPACKET_MAIL begin with smtp+plain:// if it is on this machine.",
            code="mail-encryption",
        ) from error
    except (OSError, smtplib.SMTPException) as error:
        raise Unavailable(
            "The mail server does not take the message.",
            "Check SEALPACKET_MAIL and the mail server.",
            code="mail",
        ) from error


def _connected(parts: SplitResult, trust: ssl.SSLContext) -> smtplib.SMTP:
    host = parts.hostname or ""
    if parts.scheme == "smtps":
        return smtplib.SMTP_SSL(host, parts.port or 465, timeout=_EACH, context=trust)
    return smtplib.SMTP(host, parts.port or 25, timeout=_EACH)


@contextmanager
def _cut_off(connection: smtplib.SMTP) -> Iterator[None]:
    """End the connection when the whole call takes too long; smtplib only limits the time between two bytes."""

    def end() -> None:
        if connection.sock is not None:
            with suppress(OSError):
                connection.sock.shutdown(socket.SHUT_RDWR)

    watch = threading.Timer(_IN_ALL, end)
    watch.daemon = True
    watch.start()
    try:
        yield
    finally:
        watch.cancel()
