"""One connection: its requests are gathered, handed to a thread, and answered, one after the other."""

from __future__ import annotations

import asyncio
import io
import re
import time
from collections.abc import Iterable
from concurrent.futures import Executor
from contextlib import AbstractAsyncContextManager, suppress
from email.utils import formatdate
from secrets import token_hex
from typing import BinaryIO, Protocol

import h11
import structlog
from werkzeug.exceptions import ClientDisconnected

from sealpacket.app.measures import measures
from sealpacket.web.bodies import SlowBody
from sealpacket.web.probes import QUIET
from sealpacket.web.serving import refusals
from sealpacket.web.serving.application import (
    ASK_AGAIN,
    LINE_OF,
    STREAM_OF,
    Batch,
    Wsgi,
    asks_again,
    call,
    environ_of,
    line_of,
    stream_of,
)
from sealpacket.web.serving.refusals import RefusedRequest
from sealpacket.web.serving.streams import Stream

LARGEST_HEAD = 64 << 10
LONGEST_ADDRESS = 4 << 10
LONGEST_HEADER = 8 << 10
MOST_HEADERS = 100
SMALL_BODY = 256 << 10
"""Maximum bytes of a body that is read completely before a thread gets the request."""
PIECE = 64 << 10
"""Bytes that are written at once."""
READ = 256 << 10
"""Maximum bytes that are read at once."""
KEPT_OPEN = 75.0
"""Seconds that an idle connection stays open: longer than clients and proxies keep theirs, so that they close it, and
never we while a request is on its way."""
HEAD_SECONDS, BODY_SECONDS, LINGER_SECONDS = 10.0, 20.0, 2.0
IDLE_SECONDS = 30.0
"""Seconds to wait for the next bytes of an upload, or for a reader to take a piece of an answer."""
STREAM_SECONDS, BEAT_SECONDS = 900.0, 20.0
"""How long a stream of events goes on before its reader has to ask again, and is quiet before it says that it lives."""
MOST_DRAINED = 4 << 20
"""Bytes that are read and discarded after the answer to a request whose body nobody wants."""

log = structlog.get_logger()

_OURS = ("date", ASK_AGAIN.lower(), STREAM_OF.lower(), LINE_OF.lower())
"""Headers of the application that are not passed on."""
_IDENT = re.compile(r"[A-Za-z0-9._-]{8,64}")
"""Ids of requests that are taken from a proxy or a client; others are ours."""
_METHODS = ("GET", "HEAD", "POST", "PUT", "PATCH", "DELETE", "OPTIONS")
_NONE = h11.Request(method="GET", target="/", headers=[("Host", "-")])
"""In place of a request that has not arrived."""
_ANYBODY = re.compile(rb"/(?:hooks/|api/v1/(?:sign-in|tokens)(?:\?|$))")
"""Where anybody may call."""
_STATIC = re.compile(rb"/static/[A-Za-z0-9._-]{1,120}")
_TRANSFER = re.compile(
    rb"/api/v1/(?:packets/[^/]+/(?:bag|later-bags/|files/|messages/[^/]+/original|record)|export/|archive/|[a-z]+/export|tray/|"
    rb"order-documents/[^/]+/(?:file|pages)|assets/[^/]+/files/|"
    rb"packets/[^/]+/exhibits/[^/]+/(?:outgoing|pages/))"
)
"""Requests whose answers may be large."""


class Process(Protocol):
    """The parts of a process that its connections use."""

    wsgi: Wsgi
    requests: Executor
    transfers: Executor

    async def is_signed_in(self, headers: Iterable[tuple[bytes, bytes]]) -> bool:
        """Whether these headers belong to somebody who is signed in."""

    async def file(self, path: str) -> Batch | None:
        """The public answer for a file of the console; None if there is none."""

    async def news(self, after: int) -> None:
        """Wait until there is an event after the one of that number."""

    def stream(self, account: str) -> AbstractAsyncContextManager[Stream]:
        """A stream of the unread notices of an account."""

    def event(self, unread: int) -> bytes:
        """The number of unread notices as a server-sent event."""


class _Gone(Exception):
    """The connection failed while a thread was sending."""


class Connection:
    """One connection of the process."""

    def __init__(
        self, process: Process, reader: asyncio.StreamReader, writer: asyncio.StreamWriter
    ) -> None:
        self._process, self._reader, self._writer = process, reader, writer
        self._http = h11.Connection(h11.SERVER, max_incomplete_event_size=LARGEST_HEAD)
        self._loop = asyncio.get_running_loop()
        self._client = str((writer.get_extra_info("peername") or ("",))[0])
        self._request, self._begun = _NONE, time.monotonic()
        self._ident = ""
        self._status = 0
        self._has_waited = False
        """Whether the answer waited for an event, as its sender wished."""
        self._line: dict[str, str] = {}
        self.is_gathering = True
        """Whether its next request is not complete yet."""
        self.is_idle = False
        """Whether nothing has arrived since its last answer."""
        self.since = time.monotonic()
        """When it last became idle or began to gather, in seconds of the monotonic clock."""
        writer.transport.set_write_buffer_limits(high=0)

    async def serve(self) -> None:
        """Answer requests until the connection ends, and close it."""
        try:
            await self._exchanges()
        except RefusedRequest as refused:
            self._ident = self._ident or token_hex(8)
            self._status = refused.refusal.status
            self._note()
            with suppress(OSError):
                await self._write(refused.refusal.answer(self._ident))
                await self._linger()
        except (OSError, h11.ProtocolError) as error:
            log.debug("connection ended", reason=str(error))
        finally:
            self._writer.close()

    def drop(self) -> None:
        """Close the connection at once."""
        self._writer.transport.abort()

    async def _exchanges(self) -> None:
        while await self._next_request():
            await self._answer()
            self._note()
            if self._http.states != {h11.CLIENT: h11.DONE, h11.SERVER: h11.DONE}:
                await self._linger()
                return
            self._http.start_next_cycle()
            self.is_idle = True

    def _note(self) -> None:
        """Write the log line of a request, and count it unless it waited for an event.

        The address that was asked for is not in it: it may hold what people type.
        """
        seconds = time.monotonic() - self._begun
        method = self._request.method.decode("latin-1")
        route = self._line.pop("route", "none" if self._status >= 400 else "file")
        write = log.debug if route in QUIET else log.info
        write(
            "request",
            request=self._ident,
            method=method,
            route=route,
            status=self._status,
            ms=round(seconds * 1000, 1),
            address=self._client,
            **self._line,
        )
        if self._has_waited:
            return
        counted = method if method in _METHODS else "other"
        measures().requests.labels(counted, route, str(self._status)).observe(seconds)

    async def _next_request(self) -> bool:
        """Wait for the head of the next request. Returns False if its sender has gone, or sends nothing."""
        self.is_gathering, self.since = True, time.monotonic()
        self._ident, self._status, self._line = "", 0, {}
        self._has_waited = False
        self._request, self._begun = _NONE, self.since
        if not self._http.trailing_data[0]:
            async with asyncio.timeout(KEPT_OPEN if self.is_idle else HEAD_SECONDS):
                first = await self._reader.read(READ)
            if not first:
                return False
            self._http.receive_data(first)
        self.is_idle, self.since = False, time.monotonic()
        async with asyncio.timeout(HEAD_SECONDS):
            event = await self._event()
        if not isinstance(event, h11.Request):
            return False
        self._request, self._begun = event, time.monotonic()
        given = dict(event.headers).get(b"x-request-id", b"").decode("latin-1")
        self._ident = given if _IDENT.fullmatch(given) else token_hex(8)
        if len(event.target) > LONGEST_ADDRESS:
            raise RefusedRequest(refusals.LONG_ADDRESS)
        if len(event.headers) > MOST_HEADERS or any(
            len(name) + len(value) > LONGEST_HEADER for name, value in event.headers
        ):
            raise RefusedRequest(refusals.LARGE_HEAD)
        return True

    async def _event(self) -> h11.Event | None:
        """The next event of the request, or None after its end. Raises RefusedRequest for what is not HTTP."""
        while True:
            try:
                event = self._http.next_event()
            except h11.RemoteProtocolError as error:
                is_large = error.error_status_hint == refusals.LARGE_HEAD.status
                why = refusals.LARGE_HEAD if is_large else refusals.UNREADABLE
                raise RefusedRequest(why) from error
            if isinstance(event, h11.Event):
                return event
            if event is h11.PAUSED:
                return None
            if self._http.they_are_waiting_for_100_continue:
                await self._send(h11.InformationalResponse(status_code=100, headers=[]))
            data = await self._reader.read(READ)
            if not data:
                raise ConnectionResetError("the request is incomplete")
            self._http.receive_data(data)

    async def _answer(self) -> None:
        request = self._request
        fields = dict(request.headers)
        length = int(fields.get(b"content-length", b"0"))
        is_chunked = b"transfer-encoding" in fields
        is_streamed = is_chunked or length > SMALL_BODY
        reads = request.method in (b"GET", b"HEAD")
        threads = self._process.requests
        if is_streamed or (reads and _TRANSFER.match(request.target)):
            if await self._process.is_signed_in(request.headers):
                threads = self._process.transfers
            elif is_chunked:
                raise RefusedRequest(refusals.NO_LENGTH)
            elif length:
                is_for_anybody = _ANYBODY.match(request.target) is not None
                raise RefusedRequest(
                    refusals.large_body(SMALL_BODY) if is_for_anybody else refusals.NOT_SIGNED_IN
                )
        if is_chunked and b"content-length" in fields:
            # RFC 9112, 6.3: two lengths are how requests are smuggled
            raise RefusedRequest(refusals.UNREADABLE)
        if is_streamed:
            self.is_gathering = False
            await self._run(io.BufferedReader(_Incoming(self), READ), threads)
            return
        body = await self._read_small()
        self.is_gathering = False
        is_file = request.method == b"GET" and _STATIC.fullmatch(request.target) is not None
        file = None
        if is_file and b"range" not in fields:
            file = await self._process.file(request.target.decode())
        if file is None:
            await self._run(io.BytesIO(body), threads)
        else:
            await self._end(file)

    async def _read_small(self) -> bytes:
        """The whole body of a request, which is a small one."""
        body = bytearray()
        async with asyncio.timeout(BODY_SECONDS):
            while piece := await self.piece():
                body += piece
        return bytes(body)

    async def piece(self) -> bytes:
        """The next piece of the request's body; empty at its end."""
        event = await self._event()
        while isinstance(event, h11.Data) and not event.data:
            event = await self._event()
        return bytes(event.data) if isinstance(event, h11.Data) else b""

    def wait_for_piece(self) -> bytes:
        """The same for a thread. Raises SlowBody, or ClientDisconnected if nothing more can come."""

        async def limited() -> bytes:
            async with asyncio.timeout(IDLE_SECONDS):
                return await self.piece()

        try:
            return asyncio.run_coroutine_threadsafe(limited(), self._loop).result()
        except TimeoutError as error:
            raise SlowBody("the sender of the body is too slow") from error
        except (RefusedRequest, OSError) as error:
            raise ClientDisconnected() from error

    async def _run(self, body: BinaryIO, threads: Executor) -> None:
        """Have a thread run the application, and send its answer."""
        last = await self._called(body, threads)
        until: float | None = None
        while (again := asks_again(last)) is not None:
            seconds, seen = again
            until = until or self._loop.time() + seconds
            self._has_waited = True
            self.is_gathering = True
            try:
                async with asyncio.timeout_at(until):
                    await self._process.news(seen)
            except TimeoutError:
                break
            finally:
                self.is_gathering = False
            last = await self._called(body, threads)
        if account := stream_of(last):
            await self._stream(last, account)
        else:
            await self._end(last)

    async def _stream(self, first: Batch, account: str) -> None:
        """Send the beginning of a stream, and each event when it comes, until its reader goes or has to ask again."""
        until = self._loop.time() + STREAM_SECONDS
        self._has_waited = True
        self.is_gathering = self.is_idle = True
        gone = asyncio.create_task(self._reader.read(1))
        try:
            async with self._process.stream(account) as stream:
                await self._send_batch(first)
                while self._loop.time() < until and not gone.done():
                    changed = asyncio.create_task(stream.changed())
                    await asyncio.wait(
                        (changed, gone),
                        timeout=BEAT_SECONDS,
                        return_when=asyncio.FIRST_COMPLETED,
                    )
                    if not changed.done():
                        changed.cancel()
                        data: bytes | None = b":\n\n"
                    else:
                        unread = changed.result()
                        data = None if unread is None else self._process.event(unread)
                    if data is None:
                        break
                    self.since = time.monotonic()
                    await self._send(h11.Data(data=data))
        finally:
            gone.cancel()
            self.is_gathering = self.is_idle = False
        await self._send(h11.EndOfMessage())

    async def _called(self, body: BinaryIO, threads: Executor) -> Batch:
        """Call the application in a thread. Returns what is left to send of its answer."""
        try:
            environ = environ_of(self._request, body, self._client, self._ident)
        except ValueError as error:
            raise RefusedRequest(refusals.UNREADABLE) from error

        def send(batch: Batch) -> None:
            try:
                asyncio.run_coroutine_threadsafe(self._send_batch(batch), self._loop).result()
            except (OSError, h11.ProtocolError) as error:
                raise _Gone(str(error)) from error

        try:
            return await self._loop.run_in_executor(
                threads, call, self._process.wsgi, environ, send
            )
        except _Gone as error:
            raise ConnectionResetError(str(error)) from error
        except Exception as error:
            log.exception("the application failed")
            if self._http.our_state is h11.SEND_RESPONSE:
                raise RefusedRequest(refusals.FAILED) from error
            raise ConnectionAbortedError("the answer is incomplete") from error

    async def _end(self, last: Batch) -> None:
        await self._send_batch(last)
        await self._send(h11.EndOfMessage())

    async def _send_batch(self, batch: Batch) -> None:
        if batch.status:
            headers = [
                (name.encode("latin-1"), value.encode("latin-1"))
                for name, value in batch.headers
                if name.lower() not in _OURS
            ]
            headers += [(b"Server", b"sealpacket"), (b"Date", formatdate(usegmt=True).encode())]
            headers.append((b"X-Request-ID", self._ident.encode()))
            code, _, reason = batch.status.partition(" ")
            self._status, self._line = int(code), line_of(batch)
            await self._send(
                h11.Response(
                    status_code=int(code), reason=reason.encode("latin-1"), headers=headers
                )
            )
        for block in batch.body:
            await self._send(h11.Data(data=block))

    async def _send(self, event: h11.Event) -> None:
        await self._write(self._http.send(event) or b"")

    async def _write(self, data: bytes) -> None:
        """Write in pieces, each when its reader has taken the one before."""
        view = memoryview(data)
        for start in range(0, len(view), PIECE):
            self._writer.write(view[start : start + PIECE])
            async with asyncio.timeout(IDLE_SECONDS):
                await self._writer.drain()

    async def _linger(self) -> None:
        """Let the last answer arrive before the connection is closed (RFC 9112, 9.6)."""
        drained = 0
        self._writer.write_eof()
        async with asyncio.timeout(LINGER_SECONDS):
            while drained < MOST_DRAINED and (more := await self._reader.read(READ)):
                drained += len(more)


class _Incoming(io.RawIOBase):
    """The body of a request as the application reads it, straight from the connection."""

    def __init__(self, connection: Connection) -> None:
        self._connection = connection
        self._rest = memoryview(b"")
        self._ended = False

    def readable(self) -> bool:
        """See io.RawIOBase."""
        return True

    def readinto(self, buffer: memoryview) -> int:  # type: ignore[override]
        """See io.RawIOBase. Raises SlowBody."""
        if not self._rest and not self._ended:
            self._rest = memoryview(self._connection.wait_for_piece())
            self._ended = not self._rest
        count = min(len(buffer), len(self._rest))
        buffer[:count] = self._rest[:count]
        self._rest = self._rest[count:]
        return count
