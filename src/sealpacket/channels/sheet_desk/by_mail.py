"""A desk of a sheet by mail: what it writes is read here, and never leaves this machine."""

from __future__ import annotations

import email
import email.policy
from datetime import UTC, datetime
from email.message import EmailMessage
from email.utils import format_datetime, make_msgid
from typing import Any

from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from sealpacket.channels.desk import Desk, Login
from sealpacket.channels.sheet_desk.base import NUMBER, SheetDesk
from sealpacket.core.sheets.mails import read_mail
from sealpacket.core.sheets.replying import tree_for, written

_LARGEST = 64 << 20


class _AnyPort(Controller):
    """Listens at a port that is free, and knows which."""

    def _trigger_server(self) -> None:
        server: Any = self.server
        self.port = server.sockets[0].getsockname()[1]
        super()._trigger_server()  # type: ignore[no-untyped-call]


class MailSheetDesk(SheetDesk):
    """Takes mails by SMTP and answers with the labelled lines that the sheet reads."""

    address = "mailto:desk@trial.example"

    def login(self) -> Login:
        """See SheetDesk."""
        server = f"smtp+plain://127.0.0.1:{self._controller.port}"
        return Login(
            "sam.sample@quillmere.example",
            "",
            10,
            server,
            f"trial+{NUMBER.lower()}@quillmere.example",
        )

    def _start(self) -> None:
        self._subject, self._ident = "", ""
        self._controller = _AnyPort(self, hostname="127.0.0.1", port=0, data_size_limit=_LARGEST)
        self._controller.start()

    def _stop(self) -> None:
        self._controller.stop(no_assert=True)

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802 - its interface
        """Note a mail: the first is the case, those that answer another are answers of ours."""
        message = email.message_from_bytes(
            envelope.original_content or b"", policy=email.policy.default
        )
        answer = bool(message["In-Reply-To"])
        body = message.get_body(("plain",)) if isinstance(message, EmailMessage) else None
        text = str(body.get_content()) if body is not None else ""
        for part in message.iter_attachments() if isinstance(message, EmailMessage) else ():
            self.note("file", part.get_filename() or "", _bytes(part))
        self._subject, self._ident = str(message["Subject"]), str(message["Message-ID"])
        self.note("answer" if answer else "case", self._subject, text.encode())
        return "250 OK"

    def listen_to(self, way: Desk) -> Any:
        """The desk's newest mail, as the mail gate would read it."""
        mail = EmailMessage()
        mail["From"], mail["To"] = "desk@trial.example", f"trial+{NUMBER.lower()}@quillmere.example"
        tree = tree_for(self.sheet, self.saying)
        subject = tree.get("mail", {}).get("subject") or f"Re: {self._subject} ({self.reference})"
        mail["Subject"], mail["Message-ID"] = subject, make_msgid(domain="trial.example")
        mail["Date"] = format_datetime(datetime.now(UTC))
        mail["In-Reply-To"] = mail["References"] = self._ident
        words = tree.get("mail", {}).get("text")
        mail.set_content(words or written(self.sheet, tree).decode())
        return read_mail(mail.as_bytes())


def _bytes(part: Any) -> bytes:
    content = part.get_payload(decode=True)
    return content if isinstance(content, bytes) else b""
