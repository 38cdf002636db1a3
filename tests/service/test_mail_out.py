"""Mail out: encrypted unless whoever runs the house says otherwise, and to nobody whose certificate does not hold."""

from __future__ import annotations

import socket
import ssl
import threading
import time
from collections.abc import Callable, Iterator
from contextlib import suppress
from email.message import EmailMessage
from pathlib import Path

import pytest
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session
from pydantic import ValidationError

from sealpacket.channels import mail
from sealpacket.core.errors import Unavailable
from sealpacket.demo.cluster import free_port
from sealpacket.settings import Settings
from tests.some import certificate

Serve = Callable[..., tuple[str, list[tuple[bool, bytes]]]]


@pytest.fixture
def message() -> EmailMessage:
    """A small mail."""
    return mail.compose(
        "we@quillmere.example", "care@lumenlathe.example", "P-0001", "The reader stays dark."
    )


@pytest.fixture
def serve(tmp_path: Path) -> Iterator[Serve]:
    """Starts a mail server; gives where it is, and a list of what it takes: whether by TLS, and the mail."""
    running: list[Controller] = []

    def start(*, tls: bool) -> tuple[str, list[tuple[bool, bytes]]]:
        taken: list[tuple[bool, bytes]] = []

        class Taker:
            async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
                taken.append((session.ssl is not None, envelope.original_content or b""))
                return "250 OK"

        context = None
        if tls:
            context = ssl.SSLContext(ssl.PROTOCOL_TLS_SERVER)
            context.load_cert_chain(*certificate(tmp_path))
        controller = Controller(
            Taker(), hostname="127.0.0.1", port=free_port(), tls_context=context
        )
        controller.start()
        running.append(controller)
        return f"127.0.0.1:{controller.port}", taken

    yield start
    for controller in running:
        controller.stop()


def test_smtp_goes_on_by_starttls(
    serve: Serve, message: EmailMessage, tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    where, taken = serve(tls=True)
    monkeypatch.setenv("SSL_CERT_FILE", str(tmp_path / "chain.pem"))
    mail.send(f"smtp://{where}", message)
    [(encrypted, data)] = taken
    assert encrypted
    assert b"The reader stays dark." in data


def test_a_certificate_that_nobody_vouches_for_gets_no_mail(
    serve: Serve, message: EmailMessage
) -> None:
    where, taken = serve(tls=True)
    with pytest.raises(Unavailable):
        mail.send(f"smtp://{where}", message)
    assert taken == []


def test_a_server_without_starttls_gets_no_mail_unless_that_was_asked_for(
    serve: Serve, message: EmailMessage
) -> None:
    where, taken = serve(tls=False)
    with pytest.raises(Unavailable) as caught:
        mail.send(f"smtp://we:secret@{where}", message)
    assert caught.value.code == "mail-encryption"
    assert "smtp+plain" in caught.value.remedy
    assert taken == []
    mail.send(f"smtp+plain://{where}", message)
    assert [encrypted for encrypted, _ in taken] == [False]


def dribble(server: socket.socket) -> None:
    """Greet, then begin an answer that never ends, until whoever called is gone."""
    connection, _ = server.accept()
    with connection, suppress(OSError):
        connection.sendall(b"220 here\r\n")
        while True:
            connection.sendall(b"250-still here\r\n")
            time.sleep(0.1)


def test_a_server_that_says_a_little_now_and_then_is_left(
    message: EmailMessage, monkeypatch: pytest.MonkeyPatch
) -> None:
    monkeypatch.setattr(mail, "_IN_ALL", 1)
    with socket.create_server(("127.0.0.1", 0)) as server:
        port = server.getsockname()[1]
        speaking = threading.Thread(target=dribble, args=(server,), daemon=True)
        speaking.start()
        with pytest.raises(Unavailable):
            mail.send(f"smtp+plain://127.0.0.1:{port}", message)
    speaking.join(timeout=30)
    assert not speaking.is_alive()


def test_a_mail_server_is_named_with_how_to_speak_to_it(monkeypatch: pytest.MonkeyPatch) -> None:
    for value, good in (
        ("mail.example:25", False),
        ("http://mail.example", False),
        ("smtp://mail.example", True),
    ):
        monkeypatch.setenv("SEALPACKET_MAIL", value)
        try:
            Settings(
                database_url="postgresql+psycopg://x", key_file="k", seal_key_file="s", blobs="b"
            )  # type: ignore[call-arg, arg-type]
        except ValidationError as error:
            assert not good, error
        else:
            assert good
