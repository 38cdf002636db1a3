"""Bodies of requests: each has to be here within a time, unless it is an upload."""

from __future__ import annotations

import time
from collections.abc import Callable, Iterable
from typing import Any

from flask import request

from sealpacket.core.errors import TooLarge

WHOLE_BODY_SECONDS = 60.0
_INPUT, _LIMIT = "wsgi.input", "sealpacket.body"


class SlowBody(OSError):
    """A body that took too long."""


class _Timed:
    """A body that raises SlowBody when reading it takes too long in all."""

    def __init__(self, stream: Any) -> None:
        self._stream, self._ends = stream, time.monotonic() + WHOLE_BODY_SECONDS

    def lift(self) -> None:
        """Let it take the time that it takes."""
        self._ends = float("inf")

    def read(self, size: int = -1) -> bytes:
        """Bytes of the body; of an endless read a piece at a time, so that its time is looked at."""
        if size >= 0:
            return self._piece(size)
        pieces = []
        while piece := self._piece(1 << 16):
            pieces.append(piece)
        return b"".join(pieces)

    def readline(self, size: int = -1) -> bytes:
        """A line of the body."""
        return bytes(self._stream.readline(size))

    def _piece(self, size: int) -> bytes:
        if time.monotonic() > self._ends:
            raise SlowBody("the body took too long")
        return bytes(self._stream.read(size))


def timed_bodies(application: Callable[..., Iterable[bytes]]) -> Callable[..., Iterable[bytes]]:
    """The WSGI application, with a time limit on every body."""

    def timed(environ: dict[str, Any], start: Any) -> Iterable[bytes]:
        environ[_INPUT] = environ[_LIMIT] = _Timed(environ[_INPUT])
        return application(environ, start)

    return timed


def expect_upload() -> None:
    """Let the body of this request take its time: it is a file, and whoever sends it may send it."""
    limit = request.environ.get(_LIMIT)
    if limit is not None:
        limit.lift()


def read_small(most: int) -> bytes:
    """A body with a maximum number of bytes, whatever length is declared. Raises TooLarge for a longer one."""
    data = b""
    while block := request.stream.read(1 << 16):
        data += block
        if len(data) > most:
            raise TooLarge("The body is larger than allowed here.", f"Send at most {most} bytes.")
    return data
