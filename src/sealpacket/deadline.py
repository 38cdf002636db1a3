"""A wall-clock limit on everything that one call to a desk or a device does on the wire.

httpx limits the time between two bytes. One that sends one byte now and then would keep a call for ever; here every
read and write has only what is left of the whole call's time.
"""

from __future__ import annotations

import ssl
import time
from collections.abc import Iterable, Iterator
from contextlib import contextmanager
from typing import Any

import httpcore
import httpx


class Deadline:
    """When the call under way has to be over; none while no call is."""

    def __init__(self) -> None:
        self._ends = float("inf")

    def begin(self, seconds: float) -> None:
        """Start the deadline: a number of seconds from now."""
        self._ends = time.monotonic() + seconds

    def extend(self, seconds: float) -> None:
        """Extend the deadline by a number of seconds."""
        self._ends += seconds

    def left(self, timeout: float | None, error: type[Exception]) -> float | None:
        """The remaining seconds, at most `timeout`. Raises `error` when none are left."""
        left = self._ends - time.monotonic()
        if left <= 0:
            raise error("the call took too long in all")
        if left == float("inf"):
            return timeout
        return left if timeout is None else min(left, timeout)


class _Stream(httpcore.NetworkStream):
    def __init__(self, stream: httpcore.NetworkStream, deadline: Deadline) -> None:
        self._stream, self._deadline = stream, deadline

    def read(self, max_bytes: int, timeout: float | None = None) -> bytes:
        return self._stream.read(max_bytes, self._deadline.left(timeout, httpcore.ReadTimeout))

    def write(self, buffer: bytes, timeout: float | None = None) -> None:
        self._stream.write(buffer, self._deadline.left(timeout, httpcore.WriteTimeout))

    def close(self) -> None:
        self._stream.close()

    def start_tls(
        self,
        ssl_context: ssl.SSLContext,
        server_hostname: str | None = None,
        timeout: float | None = None,
    ) -> httpcore.NetworkStream:
        left = self._deadline.left(timeout, httpcore.ConnectTimeout)
        return _Stream(self._stream.start_tls(ssl_context, server_hostname, left), self._deadline)

    def get_extra_info(self, info: str) -> Any:
        return self._stream.get_extra_info(info)


class _Backend(httpcore.NetworkBackend):
    def __init__(self, deadline: Deadline) -> None:
        self._backend, self._deadline = httpcore.SyncBackend(), deadline

    def connect_tcp(
        self,
        host: str,
        port: int,
        timeout: float | None = None,
        local_address: str | None = None,
        socket_options: Iterable[Any] | None = None,
    ) -> httpcore.NetworkStream:
        left = self._deadline.left(timeout, httpcore.ConnectTimeout)
        stream = self._backend.connect_tcp(host, port, left, local_address, socket_options)
        return _Stream(stream, self._deadline)


class DeadlineTransport(httpx.BaseTransport):
    """A transport for httpx over a connection pool of httpcore's, whose connections keep to a deadline."""

    def __init__(self, deadline: Deadline, verify: ssl.SSLContext) -> None:
        self._pool = httpcore.ConnectionPool(
            ssl_context=verify,
            max_connections=4,
            network_backend=_Backend(deadline),
            http1=True,
            http2=False,
        )

    def handle_request(self, request: httpx.Request) -> httpx.Response:
        """Send one request. Raises httpx.TransportError."""
        url = request.url
        wanted = httpcore.Request(
            method=request.method,
            url=httpcore.URL(
                scheme=url.raw_scheme, host=url.raw_host, port=url.port, target=url.raw_path
            ),
            headers=request.headers.raw,
            content=request.stream,
            extensions=request.extensions,
        )
        with _translated():
            answer = self._pool.handle_request(wanted)
        return httpx.Response(
            status_code=answer.status,
            headers=answer.headers,
            stream=_Body(answer),
            extensions=answer.extensions,
        )

    def close(self) -> None:
        """Close all connections."""
        self._pool.close()


class _Body(httpx.SyncByteStream):
    def __init__(self, answer: httpcore.Response) -> None:
        self._answer = answer

    def __iter__(self) -> Iterator[bytes]:
        with _translated():
            yield from self._answer.iter_stream()

    def close(self) -> None:
        self._answer.close()


_ERRORS = (
    httpcore.NetworkError,
    httpcore.ProtocolError,
    httpcore.ProxyError,
    httpcore.TimeoutException,
    httpcore.UnsupportedProtocol,
)


@contextmanager
def _translated() -> Iterator[None]:
    """httpcore's errors as those of httpx, which have the same names."""
    try:
        yield
    except _ERRORS as error:
        same: type[httpx.TransportError] = getattr(httpx, type(error).__name__)
        raise same(str(error)) from error
