"""Streams of server-sent events: one connection to PostgreSQL listens for all that are open in this process."""

from __future__ import annotations

import asyncio
from collections.abc import AsyncIterator, Awaitable, Callable, Mapping, Sequence
from contextlib import asynccontextmanager

import psycopg
import structlog

Counts = Callable[[Sequence[str]], Awaitable[Mapping[str, int]]]
"""Counts, by account, the notices that were not read."""
MOST = 40
"""Open streams of one account; the oldest ends when there are more."""
PAUSE = 1.0
"""Seconds before listening is begun again after the connection broke."""
TOGETHER = 0.05
"""Seconds for which further notifications are gathered, so that one query counts for all."""
log = structlog.get_logger()


class Stream:
    """An open stream: `changed` gives the number of unread notices when it changes, None when the stream ends."""

    def __init__(self) -> None:
        self._waiting: asyncio.Queue[int | None] = asyncio.Queue()

    def put(self, unread: int | None) -> None:
        """Send a number; None ends the stream."""
        self._waiting.put_nowait(unread)

    async def changed(self) -> int | None:
        """Wait for the next number."""
        found = await self._waiting.get()
        while found is not None and not self._waiting.empty():
            found = self._waiting.get_nowait()
        return found


class Streams:
    """The streams of one process, by account."""

    def __init__(self, conninfo: str, channel: str, counts: Counts) -> None:
        self._conninfo, self._channel, self._counts = conninfo, channel, counts
        self._open: dict[str, list[Stream]] = {}
        self._listening: asyncio.Task[None] | None = None

    @asynccontextmanager
    async def opened(self, account: str) -> AsyncIterator[Stream]:
        """A stream of an account, as long as the caller needs it."""
        if self._listening is None:
            self._listening = asyncio.create_task(self._listen())
        stream = Stream()
        own = self._open.setdefault(account, [])
        own.append(stream)
        if len(own) > MOST:
            own[0].put(None)
        try:
            yield stream
        finally:
            own.remove(stream)
            if not own:
                del self._open[account]

    async def _listen(self) -> None:
        while True:
            try:
                await self._listen_once()
            except (psycopg.Error, OSError) as error:
                log.warning("listening for notices broke off", error=type(error).__name__)
            await asyncio.sleep(PAUSE)

    async def _listen_once(self) -> None:
        async with await psycopg.AsyncConnection.connect(
            self._conninfo, autocommit=True
        ) as connection:
            await connection.execute(
                psycopg.sql.SQL("LISTEN {}").format(psycopg.sql.Identifier(self._channel))
            )
            await self._tell([*self._open])  # what has changed while nobody listened
            while True:
                accounts: set[str] = set()
                async for one in connection.notifies(stop_after=1):
                    accounts.add(one.payload)
                async for one in connection.notifies(timeout=TOGETHER):
                    accounts.add(one.payload)
                await self._tell(sorted(accounts & self._open.keys()))

    async def _tell(self, accounts: Sequence[str]) -> None:
        if not accounts:
            return
        try:
            unread = await self._counts(accounts)
        except Exception:
            log.exception("notices could not be counted")
            return
        for account in accounts:
            for stream in self._open.get(account, ()):
                stream.put(unread.get(account, 0))
