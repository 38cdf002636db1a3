"""The gunicorn worker that serves connections from an event loop."""

from __future__ import annotations

import asyncio
import os
import signal
import socket
from collections.abc import Iterable, Mapping, Sequence
from concurrent.futures import ThreadPoolExecutor
from contextlib import AbstractAsyncContextManager, suppress
from functools import cached_property, partial
from typing import Any

from gunicorn.workers.base import Worker

from sealpacket.app.context import AppContext
from sealpacket.app.queue import conninfo
from sealpacket.services.events import newest
from sealpacket.services.notices.announcing import CHANNEL
from sealpacket.services.notices.reading import counted
from sealpacket.web.api.notices import unread_event
from sealpacket.web.serving.application import Batch, ask
from sealpacket.web.serving.connection import READ, Connection
from sealpacket.web.serving.streams import Stream, Streams

TRANSFERS = 6
"""Threads of one process for uploads and downloads."""
LOOK_EVERY = 0.5
"""Seconds between looks for events while somebody waits for one."""
UNREAD = 256 << 10
"""Bytes that the system keeps of answers to a client that reads slowly; the default is megabytes for each."""
FIRST_REQUEST = 2
"""Seconds that a new connection has for its request when the process is about to end."""
SPARE = 64
"""Reserve of connections; below it the oldest incomplete requests are closed."""


class LoopWorker(Worker):  # type: ignore[misc]
    """Serves the process's listening sockets; `threads` and `worker_connections` of the settings apply."""

    def __init__(self, *arguments: Any, **more: Any) -> None:
        super().__init__(*arguments, **more)
        self._connections: dict[Connection, None] = {}
        self._files: dict[str, asyncio.Task[Batch | None]] = {}
        self._look: asyncio.Task[int] | None = None
        self._is_ending = False

    def run(self) -> None:
        """Serve until a signal asks for the end."""
        self.requests = ThreadPoolExecutor(self.cfg.threads, thread_name_prefix="request")
        self.transfers = ThreadPoolExecutor(TRANSFERS, thread_name_prefix="transfer")
        asyncio.run(self._serve())

    async def _serve(self) -> None:
        loop, ending = asyncio.get_running_loop(), asyncio.Event()
        for number in (signal.SIGTERM, signal.SIGINT, signal.SIGQUIT):
            loop.add_signal_handler(number, ending.set)
        for one in self.sockets:
            one.sock.setsockopt(socket.SOL_SOCKET, socket.SO_SNDBUF, UNREAD)
        servers = [
            await asyncio.start_server(
                self._accept, sock=one.sock, limit=READ // 2, backlog=self.cfg.backlog
            )
            for one in self.sockets
        ]
        while not ending.is_set() and os.getppid() == self.ppid:
            self.notify()
            with suppress(TimeoutError):
                await asyncio.wait_for(ending.wait(), 1)
        self._is_ending = True
        for one in self.sockets:
            loop.remove_reader(one.sock.fileno())
        await asyncio.sleep(0.05)  # connections that were accepted just now begin to be served
        for server in servers:
            server.close()
        await self._finish()

    async def _finish(self) -> None:
        """Let requests that have arrived, or are about to on new connections, be answered."""
        loop = asyncio.get_running_loop()
        patience = loop.time() + FIRST_REQUEST
        with suppress(TimeoutError):
            async with asyncio.timeout(self.cfg.graceful_timeout):
                while any(
                    not one.is_gathering or (not one.is_idle and loop.time() < patience)
                    for one in self._connections
                ):
                    self.notify()
                    await asyncio.sleep(0.05)

    async def _accept(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        connection = Connection(self, reader, writer)
        self._connections[connection] = None
        if len(self._connections) > self.cfg.worker_connections - SPARE:
            self._make_room()
        try:
            await connection.serve()
        finally:
            del self._connections[connection]

    def _make_room(self) -> None:
        """Close the connection whose request is incomplete for longest, or else the one that is idle for longest."""
        waiting = [one for one in self._connections if one.is_gathering]
        if waiting:
            min(waiting, key=lambda one: (one.is_idle, one.since)).drop()

    async def is_signed_in(self, headers: Iterable[tuple[bytes, bytes]]) -> bool:
        """See Process. The application decides."""
        given = {
            f"HTTP_{name.decode().upper()}": value.decode("latin-1")
            for name, value in headers
            if name in (b"authorization", b"cookie")
        }
        if not given:
            return False
        loop = asyncio.get_running_loop()
        status, _, _ = await loop.run_in_executor(
            self.requests, ask, self.wsgi, "/api/v1/me", given
        )
        return status.startswith("200 ")

    async def file(self, path: str) -> Batch | None:
        """See Process. Loaded once, however many ask for it at the same time."""
        if path not in self._files:
            self._files[path] = asyncio.create_task(self._load(path))
        answer = await asyncio.shield(self._files[path])
        if answer is None:
            self._files.pop(path, None)
        return answer

    async def news(self, after: int) -> None:
        """See Process. One look at the log serves all who wait; nobody waits longer than the process lives."""
        while True:
            if self._is_ending:
                raise TimeoutError
            if self._look is None or self._look.done():
                self._look = asyncio.create_task(self._newest())
            if await asyncio.shield(self._look) > after:
                return

    async def _newest(self) -> int:
        """The number of the newest event, after a pause."""
        await asyncio.sleep(LOOK_EVERY)
        return await asyncio.get_running_loop().run_in_executor(
            self.requests, newest, self._context
        )

    @property
    def _context(self) -> AppContext:
        context: AppContext = self.wsgi.config["APP_CONTEXT"]
        return context

    @cached_property
    def _streams(self) -> Streams:
        return Streams(conninfo(self._context.settings.database_url), CHANNEL, self._unread)

    async def _unread(self, accounts: Sequence[str]) -> Mapping[str, int]:
        return await asyncio.get_running_loop().run_in_executor(
            self.requests, partial(counted, self._context, accounts)
        )

    def stream(self, account: str) -> AbstractAsyncContextManager[Stream]:
        """See Process."""
        return self._streams.opened(account)

    def event(self, unread: int) -> bytes:
        """See Process."""
        return unread_event(unread).encode()

    async def _load(self, path: str) -> Batch | None:
        loop = asyncio.get_running_loop()
        status, headers, body = await loop.run_in_executor(self.requests, ask, self.wsgi, path, {})
        return Batch(status, headers, [body], len(body)) if status.startswith("200 ") else None
