"""The mail gate: an SMTP server (RFC 5321) that takes the mails of desks, and nothing else."""

from __future__ import annotations

import asyncio
import signal
import threading
from typing import Any, Protocol

import structlog
from aiosmtpd.controller import Controller
from aiosmtpd.smtp import SMTP, Envelope, Session

from sealpacket.core.errors import ProblemError, Unavailable

LARGEST_MAIL = 30_000_000
log = structlog.get_logger()


class Receiver(Protocol):
    """The receiver of the gate's mails."""

    def wants(self, address: str) -> bool:
        """Whether the address is one of ours. Raises Unavailable if that cannot be found out now."""

    def take(self, address: str, data: bytes) -> None:
        """Take a mail in. Raises Unavailable if it has to come again."""


class Gate:
    """Speaks SMTP. Every answer that is not sure is "try again": no mail is lost because we were away."""

    def __init__(self, receiver: Receiver) -> None:
        self._receiver = receiver

    async def handle_RCPT(  # noqa: N802 - its interface
        self, server: SMTP, session: Session, envelope: Envelope, address: str, options: list[str]
    ) -> str:
        try:
            wanted = await asyncio.to_thread(self._receiver.wants, address)
        except Exception as error:
            return _again(error)
        if not wanted:
            return "550 5.1.1 No such mailbox here"
        if envelope.rcpt_tos:
            return "452 4.5.3 One recipient at a time"
        envelope.rcpt_tos.append(address)
        return "250 OK"

    async def handle_DATA(self, server: SMTP, session: Session, envelope: Envelope) -> str:  # noqa: N802
        try:
            await asyncio.to_thread(
                self._receiver.take, envelope.rcpt_tos[0], envelope.original_content or b""
            )
        except Unavailable as error:
            return _again(error)
        except ProblemError as problem:
            log.warning("mail not taken in", code=problem.code)
            return "554 5.6.0 This cannot be taken in"
        except Exception as error:
            return _again(error)
        return "250 OK"


MOST_SESSIONS = 20
"""Connections at a time: each may hold a mail of LARGEST_MAIL in memory."""


class _Connection(SMTP):
    """One connection; while too many are `open`, the client is asked to try again later."""

    def __init__(self, open_: set[SMTP], handler: Any, **more: Any) -> None:
        super().__init__(handler, **more)
        self._open = open_

    def connection_made(self, transport: asyncio.BaseTransport) -> None:
        """See asyncio.Protocol."""
        if len(self._open) >= MOST_SESSIONS and isinstance(transport, asyncio.WriteTransport):
            transport.write(b"421 4.3.2 Too many connections, try again later\r\n")
            transport.close()
            return
        self._open.add(self)
        super().connection_made(transport)

    def connection_lost(self, error: Exception | None) -> None:
        """See asyncio.Protocol."""
        if self in self._open:
            self._open.discard(self)
            super().connection_lost(error)


class Gatekeeper(Controller):
    """Listens for connections and keeps count of those that are open."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self._open: set[SMTP] = set()

    def factory(self) -> SMTP:
        """See Controller."""
        return _Connection(self._open, self.handler, **self.SMTP_kwargs)


def _again(error: Exception) -> str:
    """The answer to what nobody foresaw, or what will be possible later: the mail stays where it is until then."""
    if not isinstance(error, Unavailable):
        log.error("mail gate", error=type(error).__name__)
    return "451 4.3.0 Try again later"


def listen(host: str, port: int, receiver: Receiver) -> None:
    """Serve until the process is asked to stop. Raises OSError if nothing can listen there."""
    gate = Gatekeeper(
        Gate(receiver), hostname=host, port=port, data_size_limit=LARGEST_MAIL, ident="mail gate"
    )
    try:
        gate.start()
    except OSError:
        gate.loop.close()
        raise
    ended = threading.Event()
    signal.signal(signal.SIGTERM, lambda *_: ended.set())
    signal.signal(signal.SIGINT, lambda *_: ended.set())
    ended.wait()
    gate.stop()
